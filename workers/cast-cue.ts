import { formTiles, TILE_TEXELS } from '../core/surface';
import type { CastJob, JobEvents } from './job-protocol';
import type { JobPool } from './job-pool';

/** Shares a worker has of the fine values: several, so that shorter jobs get their turn between them. */
const FINE_SHARES = 3;

/** What the fine rays are of the whole work; the rest is evening out. */
const CAST_PART = 0.95;

/**
 * Casts the rays of a cue on all workers: a coarse look at the whole sheet first, then the fine values.
 *
 * @param onTiles told the values of some tiles as soon as they are there, the coarse ones first
 * @returns the fine values, evened out: 0..65535 a texel, in the order of the surface's codes
 * @throws CoreError `cancelled`, `worker-died`
 */
export async function castCue(
  pool: JobPool,
  job: Omit<CastJob, 'tiles' | 'coarse'>,
  signal: AbortSignal,
  onProgress: (done: number) => void,
  onTiles: (data: JobEvents['cueTiles']) => void,
): Promise<Uint16Array> {
  const { surface } = job;
  const filled = formTiles(surface);
  const values = new Uint16Array(surface.codes.length);
  const pass = async (coarse: boolean, wanted: number, progress: (done: number) => void): Promise<void> => {
    const shares = Math.max(1, Math.min(wanted, filled.length));
    const done = new Array<number>(shares).fill(0);
    await Promise.all(
      done.map((_, share) =>
        pool.run(
          'castTiles',
          { ...job, coarse, tiles: filled.filter((_t, i) => i % shares === share) },
          {
            signal,
            onProgress: (part) => {
              done[share] = part;
              progress(done.reduce((a, b) => a + b, 0) / shares);
            },
            onCueTiles: (data) => {
              data.tiles.forEach((tile, i) =>
                values.set(
                  data.values.subarray(i * TILE_TEXELS, (i + 1) * TILE_TEXELS),
                  surface.slotOfTile[tile]! * TILE_TEXELS,
                ),
              );
              onTiles(data);
            },
          },
        ),
      ),
    );
  };
  await pass(true, pool.size, () => undefined);
  await pass(false, pool.size * FINE_SHARES, (done) => onProgress(done * CAST_PART));
  return pool.run('finishCast', { ...job, values }, { signal });
}
