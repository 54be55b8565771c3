import { cueKey, isOnOwnModel, type CueSpec } from '../cues';

interface Held {
  readonly values: Uint16Array;
  readonly version: number;
}

/** Cues that nothing is made from any more are kept for so many changes: an undo may want them back. */
const KEPT_UNUSED = 4;

/** Measured cues of one surface, as they were handed over, and what stands in for those that aren't measured yet. */
export class CueStore {
  private readonly held = new Map<string, Held>();
  /** What was last given for a role, or was measured on another ground. */
  private readonly former = new Map<string, Uint16Array>();
  private versions = 0;
  private ground = '';

  /** Nothing that was measured holds any more, nor can it stand in. */
  clear(): void {
    this.held.clear();
    this.former.clear();
  }

  /** Cues are measured on something else from now on. What was measured stands in until they are. @param name of it */
  useGround(name: string): void {
    if (name === this.ground) return;
    this.ground = name;
    for (const [key, { values }] of this.held) this.former.set(key.split(ON)[0]!, values);
    this.held.clear();
  }

  private keyOf(spec: CueSpec): string {
    return this.ground && !isOnOwnModel(spec) ? `${cueKey(spec)}${ON}${this.ground}` : cueKey(spec);
  }

  get(spec: CueSpec): Held | undefined {
    return this.held.get(this.keyOf(spec));
  }

  /** @returns under which version it stands now */
  set(spec: CueSpec, values: Uint16Array): void {
    const key = this.keyOf(spec);
    // The one that came last stands last.
    this.held.delete(key);
    this.held.set(key, { values, version: ++this.versions });
    this.former.delete(cueKey(spec));
  }

  /** Equal names, equal values. */
  nameOf(spec: CueSpec): string {
    return `${this.keyOf(spec)} v${this.get(spec)?.version ?? 0}`;
  }

  /**
   * A cue's values, or what stands in for them: those of another ground, or what was given for the same role before.
   *
   * @param role what they are wanted for
   */
  valuesFor(spec: CueSpec, role: string | undefined): Uint16Array | null {
    const values = this.get(spec)?.values ?? this.former.get(cueKey(spec));
    if (role === undefined) return values ?? null;
    if (values) this.former.set(role, values);
    return values ?? this.former.get(role) ?? null;
  }

  /** Lets go of what nothing is made from, but the newest of it. @param wanted what layers are made from */
  prune(wanted: readonly CueSpec[]): void {
    const used = new Set(wanted.map((spec) => this.keyOf(spec)));
    const unused = [...this.held.keys()].filter((key) => !used.has(key));
    for (const key of unused.slice(0, Math.max(0, unused.length - KEPT_UNUSED))) this.held.delete(key);
  }
}

const ON = ' on ';
