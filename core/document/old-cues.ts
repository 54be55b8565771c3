import { CUE_KINDS, cueSpec } from '../cues';

/** Directions of what was an axis before height was measured along any direction. */
const AXES = new Map<unknown, readonly [number, number, number]>([
  ['x', [1, 0, 0]],
  ['y', [0, 1, 0]],
  ['z', [0, 0, 1]],
]);

type Values = Readonly<Record<string, unknown>>;

const isRecord = (value: unknown): value is Values =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** A cue as it is written today: height had an axis. What a step of another kind left behind goes. */
function todaysCue(cue: Values): Values {
  const direction = cue['cue'] === 'height' ? AXES.get(cue['axis']) : undefined;
  const now = direction ? { cue: 'height', from: 0, to: 1, ...cue, direction: [...direction] } : cue;
  const schema = cueSpec.options.find((option) => option.shape.cue.value === now['cue']);
  if (!schema || !(String(now['cue']) in CUE_KINDS)) return now;
  const known = Object.entries(now).filter(([key, value]) => key in schema.shape && value !== undefined);
  return Object.fromEntries(known);
}

/**
 * Cues of the first three forms of a document as they are written today. Whatever else there is stays as it is.
 *
 * @param data parsed JSON that has been checked for its depth
 */
export function withTodaysCues(data: unknown): unknown {
  if (Array.isArray(data)) return data.map(withTodaysCues);
  if (!isRecord(data)) return data;
  if (typeof data['cue'] === 'string') return todaysCue(data);
  return Object.fromEntries(Object.entries(data).map(([key, value]) => [key, withTodaysCues(value)]));
}
