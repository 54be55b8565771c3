/**
 * Clusters and the borders between them: for every two that touch a *pair*, with the chain of edges that they share. In flat arrays:
 * with a map a cluster it took four times as long.
 */
export class ClusterGraph {
  /** The two clusters of each pair; -1 once the pair is gone. */
  readonly ends: Int32Array;
  /** What the edges of each pair are worth together. */
  readonly lengths: Float64Array;
  /** The first edge of each pair's chain, and for each edge the next one of its chain; -1 at the end. */
  readonly firstEdge: Int32Array;
  readonly nextEdge: Int32Array;
  /** How many clusters touch each one. */
  readonly degrees: Int32Array;
  pairs = 0;
  private readonly lastEdge: Int32Array;
  /** Lists of pairs at each cluster: an entry is twice the pair's number, plus 1 at its second cluster. */
  private readonly first: Int32Array;
  private readonly next: Int32Array;
  /** Scratch: for each cluster its pair with the one in hand, plus 1. */
  private readonly pairWith: Int32Array;

  /** @param edges numbers of edges are below this, and there are at most so many pairs */
  constructor(clusters: number, edges: number) {
    this.ends = new Int32Array(edges * 2);
    this.lengths = new Float64Array(edges);
    this.firstEdge = new Int32Array(edges);
    this.lastEdge = new Int32Array(edges);
    this.nextEdge = new Int32Array(edges).fill(-1);
    this.degrees = new Int32Array(clusters);
    this.first = new Int32Array(clusters).fill(-1);
    this.next = new Int32Array(edges * 2);
    this.pairWith = new Int32Array(clusters);
  }

  /** Notes that two clusters share an edge. */
  link(a: number, b: number, edge: number, length: number): void {
    for (let i = this.first[a]!; i >= 0; i = this.next[i]!) {
      if (this.ends[i ^ 1] !== b) continue;
      this.append(i >> 1, edge, edge, length);
      return;
    }
    const pair = this.pairs++;
    this.ends[pair * 2] = a;
    this.ends[pair * 2 + 1] = b;
    this.lengths[pair] = length;
    this.firstEdge[pair] = this.lastEdge[pair] = edge;
    this.enlist(pair * 2, a);
    this.enlist(pair * 2 + 1, b);
    this.degrees[a]!++;
    this.degrees[b]!++;
  }

  /** Whether a cluster has become part of another. */
  isGone(pair: number): boolean {
    return this.ends[pair * 2]! < 0;
  }

  forEachPairOf(cluster: number, visit: (pair: number) => void): void {
    this.sweep(cluster);
    for (let i = this.first[cluster]!; i >= 0; i = this.next[i]!) visit(i >> 1);
  }

  /** Cluster b becomes part of cluster a; their own pair goes, and those with the same third one become one. */
  merge(pair: number, a: number, b: number): void {
    const { ends, next, pairWith } = this;
    this.remove(pair);
    this.sweep(a);
    for (let i = this.first[a]!; i >= 0; i = next[i]!) pairWith[ends[i ^ 1]!] = (i >> 1) + 1;
    for (let i = this.first[b]!; i >= 0;) {
      const following = next[i]!;
      const other = ends[i ^ 1]!;
      if (other >= 0) {
        const known = pairWith[other]!;
        if (known) {
          const mine = i >> 1;
          this.append(known - 1, this.firstEdge[mine]!, this.lastEdge[mine]!, this.lengths[mine]!);
          this.remove(mine);
        } else {
          ends[i] = a;
          this.enlist(i, a);
          this.degrees[a]!++;
          this.degrees[b]!--;
        }
      }
      i = following;
    }
    this.first[b] = -1;
    for (let i = this.first[a]!; i >= 0; i = next[i]!) pairWith[ends[i ^ 1]!] = 0;
  }

  private enlist(entry: number, cluster: number): void {
    this.next[entry] = this.first[cluster]!;
    this.first[cluster] = entry;
  }

  private remove(pair: number): void {
    const { ends, degrees } = this;
    degrees[ends[pair * 2]!]!--;
    degrees[ends[pair * 2 + 1]!]!--;
    ends[pair * 2] = ends[pair * 2 + 1] = -1;
  }

  /** Takes pairs that are gone out of a cluster's list. */
  private sweep(cluster: number): void {
    let before = -1;
    for (let i = this.first[cluster]!; i >= 0; i = this.next[i]!) {
      if (this.ends[i]! >= 0) before = i;
      else if (before < 0) this.first[cluster] = this.next[i]!;
      else this.next[before] = this.next[i]!;
    }
  }

  private append(pair: number, first: number, last: number, length: number): void {
    this.nextEdge[this.lastEdge[pair]!] = first;
    this.lastEdge[pair] = last;
    this.lengths[pair]! += length;
  }
}
