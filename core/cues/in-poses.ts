import type { InPoses } from '../motion';

/** What is taken of the values in several poses, texel by texel. */
export function takenOf(values: readonly Uint16Array[], take: InPoses['take']): Uint16Array {
  const [first, ...others] = values;
  if (others.length === 0) return first!;
  return first!.map((value, i) => {
    if (take === 'most') return others.reduce((most, v) => Math.max(most, v[i]!), value);
    return Math.round(others.reduce((sum, v) => sum + v[i]!, value) / values.length);
  });
}
