import { describe, expect, it } from 'vitest';
import { changeModel, engineOn, modelOf, PAINT } from '../../tests/engines';
import { stage } from '../../tests/rigged';
import { HARD, PLAIN_STROKE, sampleAt } from '../../tests/strokes';
import { importModel, readFileMotion } from '../formats';
import { requireUvs, type UvMesh } from '../mesh';
import { placed, placeDirection, type Placing, type Vec3 } from '../math';
import { Poser, REST, type FilePose, type Motion } from '../motion';
import { codeAt, PlaceReader, TILE_TEXELS } from '../surface';
import { createWasmKernels } from '../kernels';
import { compositeSheet } from './pictures/flatten';
import type { Engine } from './engine';

const FILE = 900;
const BENT: FilePose = { file: FILE, clip: 'Bend', time: 1, morphs: [] };

interface Stage {
  readonly mesh: UvMesh;
  readonly motion: Motion;
  readonly engine: Engine;
}

async function posedStage(size: 128 | 256 = 128): Promise<Stage> {
  const { mesh: read, file } = await importModel('stage.glb', await stage());
  const mesh = requireUvs(read);
  const motion = (await readFileMotion(file!))!;
  const modelFile = { id: FILE, name: 'stage', placing: null };
  const patch = { modelFile, nextId: FILE + 1 };
  const engine = engineOn(mesh, size, patch, createWasmKernels(), [], new Map([[FILE, file!]]));
  engine.provideMotion(FILE, motion);
  return { mesh, motion, engine };
}

/** The middle of a triangle of the strip's far end, at rest or in the pose. */
function middleOf({ mesh, motion }: Stage, pose: FilePose | null): { at: number[]; normal: number[] } {
  const form = new Poser(mesh, motion, null).pose(pose ?? REST);
  const normals = form.turn(mesh.normals);
  const mean = (data: Float32Array): number[] =>
    [0, 1, 2].map((k) =>
      [0, 1, 2].reduce((sum, c) => sum + data[mesh.indices[FACE * 3 + c]! * 3 + k]! / 3, 0),
    );
  return { at: mean(form.positions), normal: mean(normals) };
}

/** The last triangle but one of the strip, which the tip's joint holds. */
const FACE = 4;

function dab(stage: Stage, from: FilePose | null, pose: FilePose | null): void {
  const { at, normal } = middleOf(stage, from);
  const style = { ...PLAIN_STROKE, brush: HARD, nearSide: false, ...(pose && { pose }) };
  stage.engine.beginStroke(PAINT, style);
  stage.engine.extendStroke(sampleAt(at as never, normal as never, 0.25), true);
  stage.engine.endStroke();
}

/** How far painted texels lie from a place of the model at rest, and how many there are. */
function painted({ engine }: Stage, from: readonly number[]): { count: number; farthest: number } {
  const { surface } = engine;
  const reader = new PlaceReader(surface);
  let [count, farthest] = [0, 0];
  for (const { plane, tile, bytes } of engine.everything().pixels) {
    if (plane !== engine.paintPlanes().planes[0]?.plane || !bytes) continue;
    const { px, py, pz } = reader.tile(tile)!;
    for (let i = 0; i < TILE_TEXELS; i++) {
      if (bytes[i * 4 + 3] === 0 || codeAt(surface, tile * TILE_TEXELS + i) < 0) continue;
      count++;
      farthest = Math.max(farthest, Math.hypot(px[i]! - from[0]!, py[i]! - from[1]!, pz[i]! - from[2]!));
    }
  }
  return { count, farthest };
}

describe('a stroke in a pose', () => {
  it('goes onto what the pose shows under the brush, and nothing else', async () => {
    const stage = await posedStage();
    dab(stage, BENT, BENT);
    const { count, farthest } = painted(stage, middleOf(stage, null).at);
    expect(count).toBeGreaterThan(10);
    // The strip is stretched in the pose: what lies within the brush there is near at rest.
    expect(farthest).toBeLessThan(0.6);
  });

  it('isn’t laid where the pose has taken the model away', async () => {
    const stage = await posedStage();
    const apart = middleOf(stage, null).at.map((x, k) => x - middleOf(stage, BENT).at[k]!);
    expect(Math.hypot(...apart)).toBeGreaterThan(0.5);
    dab(stage, null, BENT);
    expect(painted(stage, [0, 0, 0]).count).toBe(0);
  });

  it('is laid the same again at another size, and on a model that was moved', async () => {
    const small = await posedStage();
    dab(small, BENT, BENT);
    const sheets = small.engine.document.sheets.map((sheet) => ({ ...sheet, size: 256 as const }));
    const { carried } = await changeModel(small.engine, modelOf(small.mesh, 256), { patch: { sheets } });
    expect(carried.repainted).toHaveLength(1);
    expect(carried.resampled).toEqual([]);
    const large = await posedStage(256);
    dab(large, BENT, BENT);
    expect(compositeSheet(small.engine)).toEqual(compositeSheet(large.engine));

    const placing: Placing = [0, 0, 2, 5, 0, 2, 0, 0, -2, 0, 0, 1];
    const form = {
      positions: each(large.mesh.positions, (p) => placed(p, placing)),
      normals: each(large.mesh.normals, (n) => placeDirection(n, placing)),
    };
    const still = painted(large, middleOf(small, null).at);
    const moved = { ...large.mesh, ...form };
    await changeModel(large.engine, modelOf(moved, 256), { placing });
    // Its texels are the same: only another size makes the strokes again.
    for (const size of [128, 256] as const) {
      const other = large.engine.document.sheets.map((sheet) => ({ ...sheet, size }));
      const again = await changeModel(large.engine, modelOf(moved, size), { patch: { sheets: other } });
      expect(again.carried.repainted).toHaveLength(1);
    }
    const { count, farthest } = painted(large, placed(middleOf(small, null).at as never, placing));
    expect(Math.abs(count - still.count)).toBeLessThan(still.count * 0.02);
    expect(farthest).toBeCloseTo(still.farthest * 2, 1);
  });

  it('keeps its paint where the pose can’t be had any more', async () => {
    const stage = await posedStage();
    dab(stage, BENT, BENT);
    const { mesh, engine } = stage;
    const before = compositeSheet(engine);
    const longer = { ...mesh, positions: mesh.positions.map((x) => x * 1.0001) };
    await changeModel(engine, modelOf(longer), { file: null });
    expect(compositeSheet(engine)).toEqual(before);
    expect(() => dab(stage, BENT, BENT)).toThrow(/isn’t the model’s any more/u);
    const sheets = engine.document.sheets.map((sheet) => ({ ...sheet, size: 256 as const }));
    const { carried } = await changeModel(engine, modelOf(longer, 256), { patch: { sheets } });
    expect(carried.resampled).toHaveLength(1);
    expect(painted(stage, middleOf(stage, null).at).farthest).toBeLessThan(0.6);
  });

  it('is mirrored to where the pose has taken the other side', async () => {
    const stage = await posedStage();
    const { at, normal } = middleOf(stage, BENT);
    // The strip lies on both sides of x = 1 at rest, and is turned on its side in the pose.
    const symmetry = { planes: [{ point: [1, 0, 0], normal: [1, 0, 0] }], axis: null, twins: false };
    const style = { ...PLAIN_STROKE, brush: HARD, nearSide: false, pose: BENT };
    stage.engine.beginStroke(PAINT, { ...style, symmetry: symmetry as never });
    stage.engine.extendStroke(sampleAt(at as never, normal as never, 0.1), true);
    stage.engine.endStroke();
    const mean = middleOf(stage, null).at;
    const other = [2 - mean[0]!, mean[1]!, mean[2]!];
    const both = painted(stage, mean);
    expect(both.farthest).toBeGreaterThan(Math.hypot(other[0]! - mean[0]!) - 0.1);
    expect(both.farthest).toBeLessThan(Math.hypot(other[0]! - mean[0]!) + 0.2);
  });
});

/** Each vertex by what takes it there. */
const each = (data: Float32Array, move: (p: Vec3) => Vec3): Float32Array =>
  Float32Array.from(
    Array.from({ length: data.length / 3 }, (_, v) =>
      move([data[v * 3]!, data[v * 3 + 1]!, data[v * 3 + 2]!]),
    ).flat(),
  );
