export interface HeapPair {
  readonly pair: number;
  readonly version: number;
}

/** Pairs by cost, the cheapest on top. A binary heap in flat arrays; equal costs come in the order of their numbers. */
export class PairHeap {
  private costs = new Float64Array(1024);
  /** Pair and version an entry. */
  private data = new Int32Array(2048);
  private size = 0;

  push(cost: number, pair: number, version: number): void {
    if (this.size === this.costs.length) this.grow();
    let i = this.size++;
    while (i > 0) {
      const up = (i - 1) >> 1;
      if (!this.before(cost, pair, up)) break;
      this.move(up, i);
      i = up;
    }
    this.put(i, cost, pair, version);
  }

  pop(): HeapPair | null {
    if (this.size === 0) return null;
    const { costs, data } = this;
    const top = { pair: data[0]!, version: data[1]! };
    const last = --this.size;
    const cost = costs[last]!;
    const pair = data[last * 2]!;
    const version = data[last * 2 + 1]!;
    let i = 0;
    for (;;) {
      let child = i * 2 + 1;
      if (child >= last) break;
      if (child + 1 < last && this.before(costs[child + 1]!, data[child * 2 + 2]!, child)) child++;
      if (this.before(cost, pair, child)) break;
      this.move(child, i);
      i = child;
    }
    this.put(i, cost, pair, version);
    return top;
  }

  private put(i: number, cost: number, pair: number, version: number): void {
    this.costs[i] = cost;
    this.data[i * 2] = pair;
    this.data[i * 2 + 1] = version;
  }

  private move(from: number, to: number): void {
    const { costs, data } = this;
    costs[to] = costs[from]!;
    data[to * 2] = data[from * 2]!;
    data[to * 2 + 1] = data[from * 2 + 1]!;
  }

  private before(cost: number, pair: number, i: number): boolean {
    return cost !== this.costs[i] ? cost < this.costs[i]! : pair < this.data[i * 2]!;
  }

  private grow(): void {
    const { costs, data } = this;
    (this.costs = new Float64Array(costs.length * 2)).set(costs);
    (this.data = new Int32Array(data.length * 2)).set(data);
  }
}
