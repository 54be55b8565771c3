import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import validator from 'gltf-validator';
import { PNG } from 'pngjs';
import { describe, expect, it } from 'vitest';
import { run } from '../../cli/run';
import { flattenAlbedo, type Engine } from '../../core/engine';
import { writeProjectFile } from '../../core/project-file';
import { contentHash } from '../../core/math';
import { PLAIN_BRUSH, SEEN_SIDE, type StrokeWish } from '../../core/paint';
import { engineOn, PAINT } from '../engines';
import { rebuildOra, worstDifference } from '../rebuilt-ora';
import { seamedFloor } from '../shapes';
import { line, PLAIN_STROKE } from '../strokes';

const folder = mkdtempSync(join(tmpdir(), 'zanahoria-deliver-'));
const { seed, up, eye, nearSide } = PLAIN_STROKE;
const brushed = { opacity: 0.9, seed, up, eye, nearSide, brush: PLAIN_BRUSH };

/** Strokes of every tool. */
const STROKES: readonly StrokeWish[] = [
  { ...PLAIN_STROKE, runs: [line([-0.8, 0, 0], [0.8, 0, 0.1], 0.2)] },
  {
    ...PLAIN_STROKE,
    color: '#2a6f77',
    brush: { ...PLAIN_BRUSH, tip: 'chalk', grain: { kind: 'value', scale: 30, depth: 0.6 } },
    symmetry: { planes: [{ point: [0, 0, 0], normal: [1, 0, 0] }], axis: null },
    runs: [line([0.2, 0, -0.6], [0.7, 0, -0.3], 0.15)],
  },
  { tool: 'soften', ...brushed, runs: [line([0, 0, -0.5], [0, 0, 0.5], 0.2)] },
  { tool: 'smear', ...brushed, runs: [line([-0.2, 0, -0.2], [0.4, 0, 0.3], 0.2)] },
  {
    tool: 'tone',
    lightness: -0.2,
    chroma: 0.02,
    ...brushed,
    runs: [line([-0.5, 0, 0.1], [0, 0, 0.1], 0.15)],
  },
  {
    tool: 'copy',
    whole: null,
    from: [1, 0, 0, -0.4, 0, 1, 0, 0, 0, 0, 1, 0.3],
    ...brushed,
    runs: [line([0.3, 0, -0.5], [0.8, 0, -0.5], 0.2)],
  },
  {
    ...PLAIN_STROKE,
    color: '#406020',
    like: { rgba: [200, 60, 20, 255], tolerance: 15 },
    seen: {
      view: [SEEN_SIDE / 2.5, 0, 0, SEEN_SIDE / 2, 0, 0, SEEN_SIDE / 2.5, SEEN_SIDE / 2, 0, 0, 0, 1],
      eye: [0, 1, 0],
      hidden: [],
    },
    symmetry: { planes: [{ point: [0, 0, 0], normal: [0, 0, 1] }], axis: null, twins: true },
    runs: [line([-0.7, 0, 0.1], [0.2, 0, 0.2], 0.2)],
  },
];

function painted(size: 128 | 256): Engine {
  const engine = engineOn(seamedFloor(), size);
  for (const stroke of STROKES) engine.apply({ do: 'stroke', layer: PAINT, stroke });
  return engine;
}

const hashOf = (engine: Engine): string =>
  contentHash(flattenAlbedo(engine, { size: engine.surface.sheets[0]!.size, bleed: Infinity }).rgba);

async function deliver(...args: string[]): Promise<{ code: number; out: string; err: string }> {
  let [out, err] = ['', ''];
  const code = await run(['deliver', ...args], {
    out: (text) => void (out += text),
    error: (text) => void (err += text),
  });
  return { code, out, err };
}

describe('deliver', () => {
  const engine = painted(128);
  const { document, mesh } = engine;
  const file = join(folder, 'floor.zip');
  writeFileSync(file, writeProjectFile({ document, mesh, ...engine.everything(), files: new Map() }));

  it('gives the texels of the project as it is', async () => {
    const { code, out } = await deliver(file, '--out', join(folder, 'same'));
    expect(code).toBe(0);
    expect(JSON.parse(out)).toMatchObject({ layers: 2, strokes: STROKES.length, texelHash: hashOf(engine) });
    const png = PNG.sync.read(readFileSync(join(folder, 'same', 'albedo.png')));
    expect([png.width, contentHash(png.data)]).toEqual([128, hashOf(engine)]);
  });

  it('at another size paints every stroke again: the texels that a project of that size would have', async () => {
    const { out } = await deliver(file, '--size', '256', '--out', join(folder, 'large'));
    expect(JSON.parse(out)).toMatchObject({ texelHash: hashOf(painted(256)) });
    expect(JSON.parse(readFileSync(join(folder, 'large', 'report.json'), 'utf8'))).toEqual(JSON.parse(out));
  });

  // The stored project of the tenth form has both; pngjs and the Khronos validator read what comes out.
  it('writes the detail sheet and the ramp sheet beside them, where there are any', async () => {
    const out = join(folder, 'toon');
    const done = await deliver('tests/fixtures/v10/plate.project.zip', '--out', out);
    expect(done.code).toBe(0);
    expect(JSON.parse(done.out)).toMatchObject({
      detail: { channels: { r: 'dark', g: 'line', b: 'shine', a: 'none' } },
    });
    const read = (name: string): PNG => PNG.sync.read(readFileSync(join(out, name)));
    const stored = PNG.sync.read(readFileSync('tests/fixtures/v10/plate.detail.png'));
    const detail = read('detail.png');
    // What is stored ends where the surface does; what is delivered is bled beyond it.
    for (let i = 0; i < stored.data.length; i += 4) {
      if (stored.data[i + 3] === 0) continue;
      for (let c = 0; c < 3; c++)
        expect(Math.abs(detail.data[i + c]! - stored.data[i + c]!)).toBeLessThanOrEqual(1);
    }
    expect([read('ramps.png').width, read('ramps.png').height]).toEqual([32, 32]);
    const { issues } = await validator.validateBytes(new Uint8Array(readFileSync(join(out, 'model.glb'))));
    expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
    expect(() => readFileSync(join(folder, 'same', 'detail.png'))).toThrow(/ENOENT/);
  });

  it('writes the layers as OpenRaster where that is asked for, and tells what was flattened', async () => {
    const out = join(folder, 'layers');
    const done = await deliver(file, '--out', out, '--ora');
    expect(JSON.parse(done.out)).toMatchObject({ flattened: [] });
    const ora = rebuildOra(readFileSync(join(out, 'layers.ora')));
    expect(worstDifference(ora)).toBeLessThanOrEqual(1);
    expect([...ora.root.querySelectorAll('layer')]).toHaveLength(2);
  });

  it('says what is wrong with a file or a size, and writes nothing', async () => {
    const bad = join(folder, 'bad.zip');
    writeFileSync(bad, 'no project');
    const out = join(folder, 'none');
    expect(await deliver(bad, '--out', out)).toMatchObject({ code: 2, out: '' });
    expect((await deliver(file, '--size', '300', '--out', out)).err).toMatch(/--size 300/);
    expect((await deliver(file)).err).toMatch(/--out is missing/);
    expect(() => readFileSync(join(out, 'albedo.png'))).toThrow(/ENOENT/);
  });
});
