import { CoreError } from '../errors';

interface Item {
  readonly id: number;
}

/** The one of that id. @throws CoreError `bad-argument` */
export function item<T extends Item>(list: readonly T[], id: number, what: string): T {
  const found = list.find((i) => i.id === id);
  if (!found) throw new CoreError('bad-argument', `That ${what} is no longer there.`);
  return found;
}

/** A list with one changed. @throws CoreError `bad-argument` */
export function patchItem<T extends Item>(list: readonly T[], id: number, what: string, patch: object): T[] {
  item(list, id, what);
  return list.map((i) => (i.id === id ? { ...i, ...given(patch) } : i));
}

/** A list without one. @throws CoreError `bad-argument` */
export function withoutItem<T extends Item>(list: readonly T[], id: number, what: string): T[] {
  const gone = item(list, id, what);
  return list.filter((i) => i !== gone);
}

/** Without what is undefined. */
export const given = <T extends object>(patch: T): { [K in keyof T]: Exclude<T[K], undefined> } =>
  Object.fromEntries(Object.entries(patch).filter(([, v]) => v !== undefined)) as never;
