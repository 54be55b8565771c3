import type { Target } from './target';

/** What is said for a role of a recipe is said for each of the parts that play it. */
export interface Players {
  /** Of a list by the names of parts. */
  named<V>(list: readonly (readonly [string, V])[]): [string, V][];
  /** Of a list of what goes for a part or a region each. */
  targets<T extends { readonly of: Target }>(list: readonly T[]): T[];
}

export const playersOf = (role: string, parts: readonly string[]): Players => ({
  named: <V>(list: readonly (readonly [string, V])[]) => {
    const own = list.find(([name]) => name === role);
    const rest = list.filter(([name]) => name !== role && !(own && parts.includes(name)));
    return [
      ...rest.map(([n, v]): [string, V] => [n, v]),
      ...(own ? parts.map((p): [string, V] => [p, own[1]]) : []),
    ];
  },
  targets: (list) =>
    list.flatMap((item) =>
      'part' in item.of && item.of.part === role ? parts.map((part) => ({ ...item, of: { part } })) : [item],
    ),
});
