/**
 * Things of parts when these are called otherwise. A part that becomes one with another takes the other's: what goes by its own name
 * comes first.
 */
export function followNames<V>(
  list: readonly (readonly [string, V])[],
  names: ReadonlyMap<string, string>,
): [string, V][] {
  if (names.size === 0) return list as [string, V][];
  const out = new Map<string, V>();
  for (const [name, value] of list) if (!names.has(name)) out.set(name, value);
  for (const [name, value] of list) {
    const now = names.get(name);
    if (now !== undefined && !out.has(now)) out.set(now, value);
  }
  return [...out];
}

/** The same of things that hold for targets. */
export function followTargets<T extends { readonly of: { part: string } | { region: number } }>(
  list: readonly T[],
  names: ReadonlyMap<string, string>,
): T[] {
  // Which of them lies over which stays as it is.
  if (names.size === 0) return list as T[];
  const parts = list.flatMap((item): [string, T][] => ('part' in item.of ? [[item.of.part, item]] : []));
  return [
    ...followNames(parts, names).map(([part, item]) => ({ ...item, of: { part } })),
    ...list.filter(({ of }) => 'region' in of),
  ];
}
