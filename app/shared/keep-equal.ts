/**
 * What came by message, with every part that is equal to the one before replaced by that one: who shows a part isn't drawn anew unless it
 * has changed. Plain data only: objects, arrays and values.
 *
 * @param before as it was known; left as it is
 */
export function keepEqual<T>(before: unknown, after: T): T {
  if (Object.is(before, after)) return after;
  if (Array.isArray(before) && Array.isArray(after)) return keepArray(before, after) as T;
  if (!isPlain(before) || !isPlain(after)) return after;
  const keys = Object.keys(after);
  let same = keys.length === Object.keys(before).length;
  const out: Record<string, unknown> = {};
  for (const key of keys) {
    out[key] = keepEqual(Object.hasOwn(before, key) ? before[key] : undefined, after[key]);
    same &&= Object.hasOwn(before, key) && Object.is(out[key], before[key]);
  }
  return (same ? before : out) as T;
}

function keepArray(before: readonly unknown[], after: readonly unknown[]): readonly unknown[] {
  // An element that moved is looked for where its number is: layers, swatches and the like are numbered.
  const byId = new Map(before.map((item) => [idOf(item), item] as const));
  const out = after.map((item, i) => {
    const id = idOf(item);
    return keepEqual(id === undefined ? before[i] : byId.get(id), item);
  });
  return out.length === before.length && out.every((item, i) => Object.is(item, before[i])) ? before : out;
}

const isPlain = (x: unknown): x is Record<string, unknown> =>
  typeof x === 'object' && x !== null && Object.getPrototypeOf(x) === Object.prototype;

const idOf = (item: unknown): unknown => (isPlain(item) ? item['id'] : undefined);
