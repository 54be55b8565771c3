import { Dexie } from 'dexie';
import { z } from 'zod';
import {
  diffDocuments,
  DOCUMENT_VERSION,
  parseDocument,
  todaysStroke,
  type ParseOptions,
} from '../core/document';
import { EMPTY_HISTORY, type HistoryData, type HistoryStep } from '../core/history';
import type { PackedTiles } from '../core/pixels';
import { strokeSchema } from '../core/paint';
import type { HistoryRow, ProjectStore } from './schema';

/** Steps as version 0.2 kept them. */
const entryV1 = z.object({
  label: z.string(),
  command: z.looseObject({ do: z.string() }),
  before: z.unknown(),
  after: z.unknown(),
  tiles: z
    .object({
      where: z.array(z.object({ layer: z.number(), tile: z.number(), empty: z.boolean() })),
      deflated: z.instanceof(Uint8Array),
    })
    .nullable(),
});

const strokeV1 = z.object({ do: z.literal('stroke'), layer: z.number(), stroke: z.unknown() });

function stepFromV1(entry: unknown, options: ParseOptions): HistoryStep | null {
  const parsed = entryV1.safeParse(entry);
  if (!parsed.success) return null;
  const { label, command, tiles } = parsed.data;
  const [before, after] = [parsed.data.before, parsed.data.after].map((d) => parseDocument(d, options));
  const made = strokeV1.safeParse(command);
  const stroke = made.success ? strokeSchema.safeParse(todaysStroke(made.data.stroke)) : null;
  return {
    label,
    kind: command.do,
    patch: diffDocuments(before!, after!),
    form: DOCUMENT_VERSION,
    stroke: made.success && stroke?.success ? { plane: made.data.layer, stroke: stroke.data } : null,
    models: [...new Set([before!.model, after!.model])],
    tiles: tiles && {
      where: tiles.where.map(({ layer, tile, empty }) => ({ plane: layer, tile, empty })),
      deflated: [tiles.deflated],
    },
  };
}

function stepOf(row: HistoryRow, options: ParseOptions, paged: ReadonlySet<number>): HistoryStep | null {
  if (!row.step) {
    const step = stepFromV1(row.entry, options);
    // Once it has been taken, its pixels as they are now stand in a page.
    return step && paged.has(row.index) ? { ...step, tiles: 'away' } : step;
  }
  const { hasTiles, ...step } = row.step;
  return { ...step, tiles: hasTiles ? 'away' : null };
}

/**
 * The steps of a project's history, their pixels left on disk. Nothing is written: opening works on a full disk.
 *
 * @param done steps from the project's beginning on that are done
 */
export async function loadHistory(
  store: ProjectStore,
  project: string,
  done: number,
  options: ParseOptions,
): Promise<HistoryData> {
  const rows = await store.history
    .where('[project+index]')
    .between([project, Dexie.minKey], [project, Dexie.maxKey])
    .toArray();
  // A gap would mean that a write was lost: steps before it can't be undone any more.
  let start = rows.length;
  while (start > 0 && (start === rows.length || rows[start - 1]!.index === rows[start]!.index - 1)) start--;
  const whole = rows.slice(start);
  const pages = await store.pages.where({ project }).primaryKeys();
  const paged = new Set(pages.map(([, index]) => index));
  const steps: HistoryStep[] = [];
  for (const row of whole.toReversed()) {
    const step = stepOf(row, options, paged);
    // Neither can steps before one that can't be read.
    if (!step) break;
    steps.unshift(step);
  }
  const first = whole.length ? whole.at(-1)!.index - steps.length + 1 : done;
  // What is done must lie within what is there, or nothing of it can be trusted.
  if (done < first || done > first + steps.length) return { ...EMPTY_HISTORY, first: done };
  return { first, steps, done: done - first };
}

/** The pixels of a step that were left on disk. */
export async function loadPage(
  store: ProjectStore,
  project: string,
  index: number,
): Promise<PackedTiles | null> {
  return (await store.pages.get([project, index]))?.tiles ?? null;
}
