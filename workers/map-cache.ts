import { cueKey, type CueSpec } from '../core/cues';
import { sizesKey } from '../core/surface';
import type { ProjectStore } from './store';

/**
 * Under which a cue's values are kept: they hold for one model on sheets of these sizes.
 *
 * @param dense names the denser model that it is measured on; empty: none
 */
export const cueMapKey = (
  model: string,
  sheets: readonly { readonly size: number }[],
  spec: CueSpec,
  dense = '',
): string => `cue of places ${model} ${sizesKey(sheets)} ${cueKey(spec)}${dense && ` on ${dense}`}`;

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
