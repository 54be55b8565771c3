import { todaysStroke, type ProjectDocument } from '../core/document';
import { LOST_STROKE, strokeSchema, type Stroke } from '../core/paint';
import type { StrokeRow } from './schema';

/** Strokes as they are stored. */
export interface StoredStrokes {
  readonly strokes: ReadonlyMap<number, Stroke[]>;
  /** For each plane how many of its strokes couldn't be read. */
  readonly lost: ReadonlyMap<number, number>;
}

/** Strokes of all planes by their numbers; in place of one that isn't there or can't be read stands one that paints nothing. */
export function readStrokes(rows: readonly StrokeRow[]): StoredStrokes {
  const strokes = new Map<number, Stroke[]>();
  const lost = new Map<number, number>();
  for (const { layer, number, stroke } of rows) {
    let list = strokes.get(layer);
    if (!list) strokes.set(layer, (list = []));
    const parsed = strokeSchema.safeParse(todaysStroke(stroke));
    const missing = Math.max(0, number - list.length);
    list.push(...Array.from({ length: missing }, () => LOST_STROKE));
    list.push(parsed.success ? parsed.data : LOST_STROKE);
    const holes = missing + (parsed.success ? 0 : 1);
    if (holes) lost.set(layer, (lost.get(layer) ?? 0) + holes);
  }
  return { strokes, lost };
}

/** Planes whose strokes have holes lie on their pixels as they are now: those are all that is known of them. */
export function onPixels(document: ProjectDocument, { strokes, lost }: StoredStrokes): ProjectDocument {
  if (lost.size === 0) return document;
  const sound = document.bases.filter(({ plane }) => !lost.has(plane));
  const bases = [...lost.keys()].map((plane) => ({ plane, strokes: strokes.get(plane)!.length }));
  return { ...document, bases: [...sound, ...bases] };
}
