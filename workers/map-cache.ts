import type { ProjectStore } from './store';

/** Measured data may take this much of the browser's storage; what was used longest ago goes first. */
const LIMIT_BYTES = 600e6;

export async function loadMap(store: ProjectStore, key: string): Promise<unknown> {
  const row = await store.maps.get(key);
  if (!row) return null;
  await store.maps.update(key, { usedAt: Date.now() });
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
