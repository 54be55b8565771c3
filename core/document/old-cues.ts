/** Directions of what was an axis before height was measured along any direction. */
const AXES = new Map<unknown, readonly [number, number, number]>([
  ['x', [1, 0, 0]],
  ['y', [0, 1, 0]],
  ['z', [0, 0, 1]],
]);

/**
 * Cues of the first three forms of a document as they are written today: height had an axis. Whatever else there is stays as it is.
 *
 * @param data parsed JSON that has been checked for its depth
 */
export function withTodaysCues(data: unknown): unknown {
  if (Array.isArray(data)) return data.map(withTodaysCues);
  if (typeof data !== 'object' || data === null) return data;
  const entries = Object.entries(data);
  const direction =
    'axis' in data && 'cue' in data && data.cue === 'height' ? AXES.get(data.axis) : undefined;
  if (direction) return { cue: 'height', direction: [...direction], from: 0, to: 1 };
  return Object.fromEntries(entries.map(([key, value]) => [key, withTodaysCues(value)]));
}
