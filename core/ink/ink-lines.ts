import { CoreError } from '../errors';
import { MOST_LINES, type InkLine, type InkWish } from './line';

/**
 * The lines of a layer with some of them changed, new ones on top, and some removed.
 *
 * @throws CoreError `bad-argument` if a line isn't there, or there would be too many
 */
export function withLines(
  lines: readonly InkLine[],
  put: readonly InkWish[],
  remove: readonly number[],
): { readonly lines: InkLine[]; readonly ids: number[] } {
  const there = new Set(lines.map((l) => l.id));
  const gone = new Set(remove);
  const missing = [...remove, ...put.flatMap(({ id }) => (id === null ? [] : [id]))].find(
    (id) => !there.has(id),
  );
  if (missing !== undefined) {
    throw new CoreError('bad-argument', 'A line that was to be changed isn’t there any more.');
  }
  const changed = new Map(
    put.flatMap((line) => (line.id === null ? [] : [[line.id, line as InkLine] as const])),
  );
  let next = Math.max(-1, ...there) + 1;
  const ids: number[] = [];
  const fresh = put.flatMap((line): InkLine[] => {
    if (line.id !== null) return [];
    ids.push(next);
    return [{ ...line, id: next++ }];
  });
  const out = [...lines.filter((l) => !gone.has(l.id)).map((l) => changed.get(l.id) ?? l), ...fresh];
  if (out.length > MOST_LINES) {
    throw new CoreError(
      'bad-argument',
      `An ink layer holds up to ${MOST_LINES} lines; these would be ${out.length}. Begin another layer for more.`,
    );
  }
  return { lines: out, ids };
}
