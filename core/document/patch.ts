import type { ProjectDocument } from './schema';

type Path = readonly (string | number)[];

/** One difference between two documents: a value set at a path, or some items of a list put in the place of others. */
export type Difference =
  | { readonly path: Path; readonly was: unknown; readonly now: unknown }
  | {
      readonly path: Path;
      readonly at: number;
      readonly out: readonly unknown[];
      readonly in: readonly unknown[];
    };

/** How one document becomes another, and back. */
export type DocumentPatch = readonly Difference[];

/** What differs. Parts that are the same object are not looked into, so that it costs what was changed, not what is there. */
export function diffDocuments(before: ProjectDocument, after: ProjectDocument): DocumentPatch {
  const out: Difference[] = [];
  diff(before, after, [], out);
  return out;
}

/** @param document the side before the patch for `forward`, the side after it for `back` */
export function applyPatch(
  document: ProjectDocument,
  patch: DocumentPatch,
  direction: 'forward' | 'back',
): ProjectDocument {
  const ordered = direction === 'forward' ? patch : patch.toReversed();
  return ordered.reduce<unknown>((value, difference) => {
    if ('at' in difference) {
      const [out, put] =
        direction === 'forward' ? [difference.out, difference.in] : [difference.in, difference.out];
      return changeAt(value, difference.path, 0, (list) =>
        (list as unknown[]).toSpliced(difference.at, out.length, ...put),
      );
    }
    return changeAt(value, difference.path, 0, () =>
      direction === 'forward' ? difference.now : difference.was,
    );
  }, document) as ProjectDocument;
}

function changeAt(value: unknown, path: Path, depth: number, change: (value: unknown) => unknown): unknown {
  if (depth === path.length) return change(value);
  const key = path[depth]!;
  if (Array.isArray(value)) {
    return value.with(key as number, changeAt(value[key as number], path, depth + 1, change));
  }
  const record = value as Record<string, unknown>;
  return { ...record, [key]: changeAt(record[key], path, depth + 1, change) };
}

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

function diff(a: unknown, b: unknown, path: Path, out: Difference[]): void {
  if (Object.is(a, b)) return;
  if (Array.isArray(a) && Array.isArray(b)) diffLists(a, b, path, out);
  else if (isRecord(a) && isRecord(b) && sameKeys(a, b)) {
    for (const key of Object.keys(a)) diff(a[key], b[key], [...path, key], out);
  } else out.push({ path, was: a, now: b });
}

const sameKeys = (a: object, b: object): boolean => {
  const keys = Object.keys(a);
  return keys.length === Object.keys(b).length && keys.every((k) => Object.hasOwn(b, k));
};

function diffLists(a: readonly unknown[], b: readonly unknown[], path: Path, out: Difference[]): void {
  if (a.length === b.length && a.every((x, i) => isRecord(x) && isRecord(b[i]) && x['id'] === b[i]['id'])) {
    a.forEach((x, i) => diff(x, b[i], [...path, i], out));
    return;
  }
  const most = Math.min(a.length, b.length);
  let start = 0;
  while (start < most && same(a[start], b[start])) start++;
  let end = 0;
  while (end < most - start && same(a[a.length - 1 - end], b[b.length - 1 - end])) end++;
  const [gone, come] = [a.slice(start, a.length - end), b.slice(start, b.length - end)];
  if (gone.length || come.length) out.push({ path, at: start, out: gone, in: come });
}

function same(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (Array.isArray(a) && Array.isArray(b)) {
    return a.length === b.length && a.every((x, i) => same(x, b[i]));
  }
  if (isRecord(a) && isRecord(b)) {
    return sameKeys(a, b) && Object.keys(a).every((key) => same(a[key], b[key]));
  }
  return false;
}
