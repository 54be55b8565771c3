import { cueKey, type CueSpec } from '../core/cues';
import { backdropSheets, subjectOf, sheetCount, type UvMesh } from '../core/mesh';
import {
  filledTiles,
  placeLayers,
  sheetOfTile,
  sizesKey,
  TILE_TEXELS,
  type SurfaceMap,
} from '../core/surface';
import type { ProjectStore } from './schema';

/**
 * Under which a cue's values are kept: they hold for one model on sheets of these sizes.
 *
 * @param on names what else it is measured on: a denser model, or how the model's file moves; empty: nothing
 */
export const cueMapKey = (
  model: string,
  sheets: readonly { readonly size: number }[],
  spec: CueSpec,
  on = '',
): string => `cue of places ${model} ${sizesKey(sheets)} ${cueKey(spec)}${on && ` on ${on}`}`;

/** How the cues of a surface are kept: backdrops that come and go change none of them. */
export interface KeptCues {
  /** Names the model that was measured. */
  readonly model: string;
  /** Those on which it lies. */
  readonly sheets: readonly { readonly size: number }[];
  /** How many values of the surface are the model's; those behind are its backdrops', and 0. */
  readonly length: number;
}

/**
 * @param hash of the whole model
 * @param hashOf of a mesh; asked for only where there are backdrops
 */
export async function keptCuesOf(
  hash: string,
  surface: SurfaceMap,
  hashOf: (mesh: UvMesh) => Promise<string> | string,
): Promise<KeptCues> {
  const { mesh, sheets, codes } = surface;
  const form = subjectOf(mesh);
  const own = sheetCount(form);
  // Where a backdrop's sheet stands between the model's, or further layers of places behind it, values have other places.
  const isPrefix = placeLayers(surface) === 1 && Math.min(...backdropSheets(mesh)) >= own;
  if (form === mesh || !isPrefix) return { model: hash, sheets, length: codes.length };
  const tiles = filledTiles(surface).filter((tile) => sheetOfTile(sheets, tile) < own);
  return { model: await hashOf(form), sheets: sheets.slice(0, own), length: tiles.length * TILE_TEXELS };
}

/** What was kept as the values of a whole surface; null if it isn't what was kept of it. */
export function fromKept(known: unknown, { length }: KeptCues, surface: SurfaceMap): Uint16Array | null {
  if (!(known instanceof Uint16Array) || known.length !== length) return null;
  if (length === surface.codes.length) return known;
  const values = new Uint16Array(surface.codes.length);
  values.set(known);
  return values;
}

/** Measured data may take this much of the browser's storage; what was used longest ago goes first. */
const LIMIT_BYTES = 600e6;

/** A busy disk is waited for this long: what is kept can be measured anew in about the same time. */
const PATIENCE_MS = 3000;

/** How exactly it is known when a row was used last: noting it writes the whole row again. */
const NOTED_EVERY_MS = 24 * 3600e3;

/** @returns what was kept under the key; null if there is nothing, or the disk is too busy to tell */
export async function loadMap(store: ProjectStore, key: string): Promise<unknown> {
  const late = new Promise<null>((resolve) => setTimeout(() => resolve(null), PATIENCE_MS));
  const row = await Promise.race([store.maps.get(key), late]);
  if (!row) return null;
  const now = Date.now();
  if (now - row.usedAt > NOTED_EVERY_MS) void store.maps.update(key, { usedAt: now }).catch(() => undefined);
  return row.data;
}

/** Keeps measured data. If there is no room it isn't kept: it can be measured again. */
export async function keepMap(store: ProjectStore, key: string, data: unknown, bytes: number): Promise<void> {
  try {
    await store.maps.put({ key, usedAt: Date.now(), bytes, data });
    let total = 0;
    const stale: string[] = [];
    await store.maps
      .orderBy('usedAt')
      .reverse()
      .each((row) => {
        total += row.bytes;
        if (total > LIMIT_BYTES) stale.push(row.key);
      });
    await store.maps.bulkDelete(stale);
  } catch (error) {
    // Room is made for paint before measurements.
    await store.maps.clear().catch(() => undefined);
    if (!(error instanceof Error)) throw error;
  }
}
