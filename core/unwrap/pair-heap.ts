export interface HeapPair {
  readonly a: number;
  readonly b: number;
  readonly versionA: number;
  readonly versionB: number;
}

/** Pairs by cost, the cheapest on top. A binary heap in flat arrays; equal costs come in the order of their numbers. */
export class PairHeap {
  private costs = new Float64Array(1024);
  /** a, b and their versions an entry. */
  private data = new Int32Array(4096);
  private size = 0;

  push(cost: number, a: number, b: number, versionA: number, versionB: number): void {
    if (this.size === this.costs.length) this.grow();
    let i = this.size++;
    const { costs, data } = this;
    while (i > 0) {
      const up = (i - 1) >> 1;
      if (!this.before(cost, a, b, up)) break;
      this.move(up, i);
      i = up;
    }
    costs[i] = cost;
    data[i * 4] = a;
    data[i * 4 + 1] = b;
    data[i * 4 + 2] = versionA;
    data[i * 4 + 3] = versionB;
  }

  pop(): HeapPair | null {
    if (this.size === 0) return null;
    const { costs, data } = this;
    const top = { a: data[0]!, b: data[1]!, versionA: data[2]!, versionB: data[3]! };
    const last = --this.size;
    const cost = costs[last]!;
    const a = data[last * 4]!;
    const b = data[last * 4 + 1]!;
    const versionA = data[last * 4 + 2]!;
    const versionB = data[last * 4 + 3]!;
    let i = 0;
    for (;;) {
      let child = i * 2 + 1;
      if (child >= last) break;
      if (
        child + 1 < last &&
        this.before(costs[child + 1]!, data[child * 4 + 4]!, data[child * 4 + 5]!, child)
      )
        child++;
      if (this.before(cost, a, b, child)) break;
      this.move(child, i);
      i = child;
    }
    costs[i] = cost;
    data[i * 4] = a;
    data[i * 4 + 1] = b;
    data[i * 4 + 2] = versionA;
    data[i * 4 + 3] = versionB;
    return top;
  }

  /** Four assignments: `copyWithin` took twice as long for so few. */
  private move(from: number, to: number): void {
    const { costs, data } = this;
    costs[to] = costs[from]!;
    data[to * 4] = data[from * 4]!;
    data[to * 4 + 1] = data[from * 4 + 1]!;
    data[to * 4 + 2] = data[from * 4 + 2]!;
    data[to * 4 + 3] = data[from * 4 + 3]!;
  }

  private before(cost: number, a: number, b: number, i: number): boolean {
    const { costs, data } = this;
    if (cost !== costs[i]) return cost < costs[i]!;
    return a !== data[i * 4] ? a < data[i * 4]! : b < data[i * 4 + 1]!;
  }

  private grow(): void {
    const { costs, data } = this;
    (this.costs = new Float64Array(costs.length * 2)).set(costs);
    (this.data = new Int32Array(data.length * 2)).set(data);
  }
}
