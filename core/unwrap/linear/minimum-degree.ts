import type { SparseRows } from './sparse-rows';

/**
 * An order of elimination that keeps the factor sparse: always an unknown that touches the fewest others, as far as a quick bound
 * tells (P. R. Amestoy, T. A. Davis, I. S. Duff, "An Approximate Minimum Degree Ordering Algorithm", 1996). On the charts of the
 * bench's models the factor has a quarter fewer entries than after nested dissection by coordinates, and takes half the sums.
 *
 * Eliminating an unknown makes all that it touches touch each other. Instead of these edges one *element* is kept, a list of
 * them; elements that it swallows go. Unknowns that touch exactly the same become one with a weight.
 *
 * @param matrix whose entries tell which unknowns touch; the diagonal doesn't count
 * @returns the unknowns in the order of their elimination
 */
export function minimumDegree({ start, column }: Pick<SparseRows, 'start' | 'column'>): Int32Array {
  const n = start.length - 1;
  return new QuotientGraph(n, start, column).order();
}

const NONE = -1;

/** An unknown that touches no more than this is no hub, however few there are in all. */
const LEAST_HUB = 64;

class QuotientGraph {
  private readonly n: number;
  /** Lists: of an unknown first the elements that it belongs to, then other unknowns; of an element its unknowns. */
  private lists: Int32Array;
  private used: number;
  private readonly from: Int32Array;
  private readonly length: Int32Array;
  /** How many entries of an unknown's list are elements; NONE for an element. */
  private readonly elements: Int32Array;
  /** How many unknowns each stands for: 0 once it is absorbed or an element; negative while it is in the newest element. */
  private readonly weight: Int32Array;
  private readonly degree: Int32Array;
  /** Below `mark` in general, at least `mark` for elements in hand, 0 for those that are gone. */
  private readonly seen: Int32Array;
  private mark = 2;
  private largest = 0;
  /** Unknowns of each degree: doubly linked lists. `next` and `before` also link those of one hash. */
  private readonly head: Int32Array;
  private readonly next: Int32Array;
  private readonly before: Int32Array;
  private readonly hash: Int32Array;
  private least = 0;
  /** Unknowns that are eliminated right after another one. */
  private readonly follower: Int32Array;
  private readonly lastFollower: Int32Array;
  /** Unknowns that touch very many, as the tip of a fan does: they come last and are left out of all lists. */
  private readonly hubs: number[] = [];

  constructor(n: number, start: Uint32Array, column: Uint32Array) {
    this.n = n;
    this.lists = new Int32Array(Math.ceil(column.length * 1.3) + n * 2 + 16);
    this.from = new Int32Array(n);
    this.length = new Int32Array(n);
    this.elements = new Int32Array(n);
    this.weight = new Int32Array(n).fill(1);
    this.degree = new Int32Array(n);
    this.seen = new Int32Array(n).fill(1);
    this.head = new Int32Array(n + 1).fill(NONE);
    this.next = new Int32Array(n).fill(NONE);
    this.before = new Int32Array(n).fill(NONE);
    this.hash = new Int32Array(n).fill(NONE);
    this.follower = new Int32Array(n).fill(NONE);
    this.lastFollower = Int32Array.from({ length: n }, (_, i) => i);
    this.used = 0;
    const many = Math.max(LEAST_HUB, 10 * Math.sqrt(n));
    for (let i = 0; i < n; i++) {
      if (start[i + 1]! - start[i]! <= many) continue;
      this.hubs.push(i);
      this.weight[i] = 0;
    }
    for (let i = 0; i < n; i++) {
      this.from[i] = this.used;
      for (let k = start[i]!; k < start[i + 1]! && this.weight[i]; k++) {
        if (column[k] !== i && this.weight[column[k]!]) this.lists[this.used++] = column[k]!;
      }
      this.length[i] = this.used - this.from[i]!;
      this.degree[i] = Math.min(n - 1, this.length[i]!);
    }
    for (let i = n - 1; i >= 0; i--) if (this.weight[i]) this.enlist(i);
  }

  order(): Int32Array {
    const { n, follower } = this;
    const out = new Int32Array(n);
    let placed = 0;
    const count = n - this.hubs.length;
    for (let done = 0; done < count;) {
      const pivot = this.takeLeast();
      done += this.eliminate(pivot, count - done);
      for (let i = pivot; i !== NONE; i = follower[i]!) out[placed++] = i;
    }
    out.set(this.hubs, placed);
    return out;
  }

  private takeLeast(): number {
    while (this.head[this.least] === NONE) this.least++;
    const pivot = this.head[this.least]!;
    this.delist(pivot);
    return pivot;
  }

  /** @param left unknowns that are not eliminated yet @returns how many are eliminated now */
  private eliminate(pivot: number, left: number): number {
    const { degree, length, from, weight, elements } = this;
    this.makeRoom(degree[pivot]! + 1);
    let reach = this.gather(pivot);
    elements[pivot] = NONE;
    const begin = from[pivot]!;
    const end = begin + length[pivot]!;
    this.measureOverlaps(begin, end);
    let gone = -weight[pivot]!;
    for (let at = begin; at < end; at++) {
      const i = this.lists[at]!;
      if (this.updateDegree(i, pivot)) continue;
      // It touches nothing beyond the new element: it may go at once.
      reach += weight[i]!;
      gone -= weight[i]!;
      this.follow(pivot, i);
      elements[i] = 0;
    }
    degree[pivot] = reach;
    this.largest = Math.max(this.largest, reach);
    this.mark += this.largest;
    this.joinAlike(begin, end);
    let kept = begin;
    for (let at = begin; at < end; at++) {
      const i = this.lists[at]!;
      const own = -weight[i]!;
      if (own <= 0) continue;
      weight[i] = own;
      degree[i] = Math.min(degree[i]! + reach - own, left - gone - own);
      this.enlist(i);
      this.lists[kept++] = i;
    }
    weight[pivot] = 0;
    length[pivot] = kept - begin;
    if (kept === begin) this.seen[pivot] = 0;
    this.used = kept;
    return gone;
  }

  /** Collects all that the pivot touches into a new element. @returns how many unknowns that are */
  private gather(pivot: number): number {
    const { lists, from, length, elements, weight } = this;
    const begin = this.used;
    let end = begin;
    let reach = 0;
    weight[pivot] = -weight[pivot]!;
    const own = from[pivot]!;
    const count = elements[pivot]!;
    for (let k = 0; k <= count; k++) {
      const element = k < count ? lists[own + k]! : pivot;
      let at = k < count ? from[element]! : own + count;
      const stop = k < count ? at + length[element]! : own + length[pivot]!;
      for (; at < stop; at++) {
        const i = lists[at]!;
        if (weight[i]! <= 0) continue;
        reach += weight[i]!;
        weight[i] = -weight[i]!;
        lists[end++] = i;
        this.delist(i);
      }
      if (element !== pivot) this.seen[element] = 0;
    }
    from[pivot] = begin;
    length[pivot] = end - begin;
    this.used = end;
    return reach;
  }

  /** For each element that touches the new one, in `seen`: mark plus what of it lies outside the new one. */
  private measureOverlaps(begin: number, end: number): void {
    const { lists, from, elements, weight, seen, degree, mark } = this;
    for (let at = begin; at < end; at++) {
      const i = lists[at]!;
      const own = -weight[i]!;
      const stop = from[i]! + elements[i]!;
      for (let p = from[i]!; p < stop; p++) {
        const e = lists[p]!;
        if (seen[e]! >= mark) seen[e]! -= own;
        else if (seen[e] !== 0) seen[e] = degree[e]! + mark - own;
      }
    }
  }

  /** @returns false if unknown i touches nothing beyond the new element */
  private updateDegree(i: number, pivot: number): boolean {
    const { lists, from, length, elements, weight, seen, mark } = this;
    const begin = from[i]!;
    const firstUnknown = begin + elements[i]!;
    const stop = begin + length[i]!;
    let to = begin;
    let outside = 0;
    let hash = pivot;
    for (let p = begin; p < firstUnknown; p++) {
      const e = lists[p]!;
      if (seen[e] === 0) continue;
      const beyond = seen[e]! - mark;
      if (beyond > 0) {
        outside += beyond;
        lists[to++] = e;
        hash += e;
      } else seen[e] = 0;
    }
    const kept = to - begin;
    for (let p = firstUnknown; p < stop; p++) {
      const j = lists[p]!;
      if (weight[j]! <= 0) continue;
      outside += weight[j]!;
      lists[to++] = j;
      hash += j;
    }
    if (outside === 0) return false;
    this.degree[i] = Math.min(this.degree[i]!, outside);
    // The new element goes to the front. There is room: the pivot, or an element that it swallowed, was on the list.
    lists[to++] = lists[begin + kept]!;
    lists[begin + kept] = lists[begin]!;
    lists[begin] = pivot;
    elements[i] = kept + 1;
    length[i] = to - begin;
    const slot = hash % this.n;
    this.before[i] = slot;
    this.next[i] = this.hash[slot]!;
    this.hash[slot] = i;
    return true;
  }

  /** Unknowns of the new element with the same lists become one. */
  private joinAlike(begin: number, end: number): void {
    const { lists, from, length, elements, weight, seen, next, hash } = this;
    for (let at = begin; at < end; at++) {
      if (weight[lists[at]!]! >= 0) continue;
      const slot = this.before[lists[at]!]!;
      let i = hash[slot]!;
      hash[slot] = NONE;
      for (; i !== NONE && next[i] !== NONE; i = next[i]!) {
        for (let p = from[i]! + 1; p < from[i]! + length[i]!; p++) seen[lists[p]!] = this.mark;
        let last = i;
        for (let j = next[i]!; j !== NONE; j = next[j]!) {
          let same = length[j] === length[i] && elements[j] === elements[i];
          for (let p = from[j]! + 1; same && p < from[j]! + length[j]!; p++)
            same = seen[lists[p]!] === this.mark;
          if (!same) {
            last = j;
            continue;
          }
          weight[i]! += weight[j]!;
          this.follow(i, j);
          next[last] = next[j]!;
        }
        this.mark++;
      }
    }
  }

  /** Unknown i is absorbed, and will be eliminated after another one. */
  private follow(leader: number, i: number): void {
    this.weight[i] = 0;
    this.follower[this.lastFollower[leader]!] = i;
    this.lastFollower[leader] = this.lastFollower[i]!;
  }

  /** Moves the lists that are still needed together if the next element might not fit behind them. */
  private makeRoom(entries: number): void {
    if (this.used + entries <= this.lists.length) return;
    const { n, from, length, elements, weight, seen } = this;
    let needed = entries;
    const isNeeded = (i: number): boolean => weight[i]! > 0 || (elements[i] === NONE && seen[i] !== 0);
    for (let i = 0; i < n; i++) if (isNeeded(i)) needed += length[i]!;
    const old = this.lists;
    const lists = needed > old.length ? new Int32Array(needed * 2) : new Int32Array(old.length);
    let used = 0;
    for (let i = 0; i < n; i++) {
      if (!isNeeded(i)) continue;
      const begin = from[i]!;
      for (let k = 0; k < length[i]!; k++) lists[used + k] = old[begin + k]!;
      from[i] = used;
      used += length[i]!;
    }
    this.lists = lists;
    this.used = used;
  }

  private enlist(i: number): void {
    const d = this.degree[i]!;
    const old = this.head[d]!;
    this.next[i] = old;
    this.before[i] = NONE;
    if (old !== NONE) this.before[old] = i;
    this.head[d] = i;
    if (d < this.least) this.least = d;
  }

  private delist(i: number): void {
    const before = this.before[i]!;
    const after = this.next[i]!;
    if (before === NONE) this.head[this.degree[i]!] = after;
    else this.next[before] = after;
    if (after !== NONE) this.before[after] = before;
  }
}
