import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** The same any-hit rays by Embree. */
export interface EmbreeRun {
  readonly hits: number;
  readonly ms: number;
}

/**
 * Embree on one core, one ray at a time; null where `libembree-dev` or a compiler isn't installed.
 *
 * @param rays origin and unit direction, 6 numbers each
 * @param reach how far they go
 */
export function embreeRays(
  positions: Float32Array,
  indices: Uint32Array,
  rays: Float32Array,
  reach: number,
): EmbreeRun | null {
  const folder = mkdtempSync(join(tmpdir(), 'embree-'));
  try {
    const program = join(folder, 'rays');
    const made = spawnSync(
      'g++',
      ['-O3', '-march=native', 'bench/embree-rays.cpp', '-o', program, '-lembree3'],
      {
        encoding: 'utf8',
      },
    );
    const remade =
      made.status === 0
        ? made
        : spawnSync('g++', ['-O3', '-march=native', 'bench/embree-rays.cpp', '-o', program, '-lembree4']);
    if (remade.status !== 0) return null;
    const file = join(folder, 'rays.bin');
    const counts = Uint32Array.of(positions.length / 3, indices.length / 3, rays.length / 6);
    const parts = [counts, Float32Array.of(reach), positions, indices, rays];
    writeFileSync(file, Buffer.concat(parts.map((a) => Buffer.from(a.buffer, a.byteOffset, a.byteLength))));
    const ran = spawnSync(program, [file], { encoding: 'utf8' });
    const [hits, seconds] = ran.stdout.trim().split(' ').map(Number);
    return ran.status === 0 && hits !== undefined && seconds !== undefined
      ? { hits, ms: seconds * 1000 }
      : null;
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
