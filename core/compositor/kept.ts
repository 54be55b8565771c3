/** Gives each thing a name that no other has. */
export class Identities {
  private readonly known = new WeakMap<object, number>();
  private count = 0;

  nameOf(thing: object | null): string {
    if (!thing) return 'nothing';
    let name = this.known.get(thing);
    if (name === undefined) this.known.set(thing, (name = ++this.count));
    return String(name);
  }
}

/** What was made, by names that begin with what it is for: one a purpose, what was made with other settings is let go of. */
export class Kept {
  private readonly things = new Map<string, unknown>();

  has(name: string): boolean {
    return this.things.has(name);
  }

  get<T>(name: string, make: () => T): T {
    if (!this.things.has(name)) {
      const purpose = name.split(' ')[0]!;
      for (const other of this.things.keys()) if (other.startsWith(`${purpose} `)) this.things.delete(other);
      this.things.set(name, make());
    }
    return this.things.get(name) as T;
  }

  clear(): void {
    this.things.clear();
  }
}

interface Made<T> {
  /** What it was made from. */
  readonly inputs: string;
  readonly thing: T;
}

/** One thing a node, made anew when what it is made from is another. */
export class MadeByNode<T> {
  private readonly all = new Map<number, Made<T>>();

  /** @param onAnew called before one takes the place of another */
  get(node: number, inputs: string, make: () => T, onAnew: () => void = () => undefined): T {
    const known = this.all.get(node);
    if (known?.inputs === inputs) return known.thing;
    if (known) onAnew();
    const thing = make();
    this.all.set(node, { inputs, thing });
    return thing;
  }

  /** Whether a node has one that was made from just these inputs. */
  isFrom(node: number, inputs: string): boolean {
    return this.all.get(node)?.inputs === inputs;
  }

  /** Lets go of those of other nodes. @returns whose they were */
  keepOnly(nodes: ReadonlySet<number>): number[] {
    const gone = [...this.all.keys()].filter((id) => !nodes.has(id));
    for (const id of gone) this.all.delete(id);
    return gone;
  }

  clear(): void {
    this.all.clear();
  }
}
