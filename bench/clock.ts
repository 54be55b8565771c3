export interface Row {
  readonly what: string;
  readonly ours: string;
  readonly peer: string;
  /** How many times as fast as the peer, or as the limit allows. */
  readonly ratio: number;
}

/** Median time of a run in milliseconds, after some runs to warm up. */
export function median(runs: number, work: () => void): number {
  for (let i = 0; i < Math.max(3, runs / 4); i++) work();
  const times: number[] = [];
  for (let i = 0; i < runs; i++) {
    const start = performance.now();
    work();
    times.push(performance.now() - start);
  }
  return times.sort((a, b) => a - b)[Math.floor(times.length / 2)]!;
}

export const ms = (t: number): string => `${t < 10 ? t.toFixed(2) : t.toFixed(0)} ms`;

/** A time beside the most that it may take. */
export const limitRow = (what: string, took: number, limit: number): Row => ({
  what,
  ours: ms(took),
  peer: ms(limit),
  ratio: limit / took,
});
