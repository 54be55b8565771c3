export interface QueuedPair {
  readonly pair: number;
  readonly version: number;
}

/** Costs that agree in exponent and the first seven bits after it, within 0.8 %, count as equal. */
const DROPPED_BITS = 16;
const SLOTS = 2 ** (31 - DROPPED_BITS);

/**
 * Pairs by cost, the cheapest first, those of about equal cost in the order in which they came. (A binary heap, which keeps
 * the exact order, took three times as long and gave no better pieces.)
 */
export class PairQueue {
  /** Pair, version and next entry of its slot; -1 at the end. */
  private data = new Int32Array(3072);
  private used = 0;
  private readonly first = new Int32Array(SLOTS).fill(-1);
  private readonly last = new Int32Array(SLOTS).fill(-1);
  private lowest = SLOTS;
  private readonly float = new Float32Array(1);
  private readonly bits = new Uint32Array(this.float.buffer);

  /** Adds a pair; it may be there already at another cost. */
  push(cost: number, pair: number, version: number): void {
    if ((this.used + 1) * 3 > this.data.length) {
      const old = this.data;
      (this.data = new Int32Array(old.length * 2)).set(old);
    }
    const { data, first, last } = this;
    // The bits of positive floats rise with them; what costs nothing or less comes first.
    this.float[0] = cost > 0 ? cost : 0;
    const slot = this.bits[0]! >>> DROPPED_BITS;
    const entry = this.used++;
    data[entry * 3] = pair;
    data[entry * 3 + 1] = version;
    data[entry * 3 + 2] = -1;
    if (first[slot]! < 0) first[slot] = entry;
    else data[last[slot]! * 3 + 2] = entry;
    last[slot] = entry;
    if (slot < this.lowest) this.lowest = slot;
  }

  /** The cheapest pair, within 0.8 %; null if there is none. */
  pop(): QueuedPair | null {
    const { data, first } = this;
    while (this.lowest < SLOTS && first[this.lowest]! < 0) this.lowest++;
    if (this.lowest === SLOTS) return null;
    const entry = first[this.lowest]!;
    first[this.lowest] = data[entry * 3 + 2]!;
    return { pair: data[entry * 3]!, version: data[entry * 3 + 1]! };
  }
}
