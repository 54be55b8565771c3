import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PNG } from 'pngjs';
import { describe, expect, it } from 'vitest';
import { run as runCli } from '../../cli/run';
import { encodePng, writeUnlitGlb } from '../../core/formats';
import { projection, seeModel, seenColors, type MatchCamera } from '../../core/match';
import { ball } from '../shapes';

const folder = mkdtempSync(join(tmpdir(), 'zanahoria-match-'));
const at = (name: string): string => join(folder, name);

async function match(...args: string[]): Promise<{ code: number; out: string; err: string }> {
  let [out, err] = ['', ''];
  const code = await runCli(['match', ...args], {
    out: (text) => void (out += text),
    error: (text) => void (err += text),
  });
  return { code, out, err };
}

const CAMERA: MatchCamera = {
  position: [1.5, 1, 5],
  target: [0, 0, 0],
  up: [0, 1, 0],
  fovY: 32,
  shift: [0, 0],
  width: 240,
  height: 300,
};

const mesh = ball(48, 24);
const side = 64;
/** Darker toward the lower half of the sheet. */
const albedo = (k: number) => {
  const rgba = new Uint8Array(side * side * 4);
  for (let i = 0; i < side * side; i++) {
    const v = 1 - Math.floor(i / side) / side;
    rgba.set([Math.round((70 + 120 * v) * k), Math.round((50 + 60 * v) * k), Math.round(40 * k), 255], i * 4);
  }
  return { width: side, height: side, rgba };
};
/** The ball on a plain ground, as an independent hand would have drawn it exactly. */
const reference = (): Uint8Array => {
  const rgba = seenColors(mesh, seeModel(mesh, CAMERA), [albedo(1)]);
  for (let i = 0; i < rgba.length; i += 4) if (rgba[i + 3] === 0) rgba.set([150, 180, 200, 255], i);
  return encodePng({ width: CAMERA.width, height: CAMERA.height, rgba });
};
const see = projection(CAMERA);
const POINTS = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
  [-1, 0, 0],
  [0, -1, 0],
  [0.6, 0.8, 0],
  [0, 0.6, 0.8],
].map((model) => {
  const { x, y } = see(model as [number, number, number]);
  return { model, picture: [x, y] };
});

describe('match', () => {
  it('finds the camera from pairs, and nothing to say of a model that is as it was drawn', async () => {
    writeFileSync(at('ball.glb'), await writeUnlitGlb(mesh, 'Ball', []));
    writeFileSync(at('albedo.png'), encodePng(albedo(1)));
    writeFileSync(at('dark.png'), encodePng(albedo(0.6)));
    writeFileSync(at('reference.png'), reference());
    writeFileSync(at('points.json'), JSON.stringify(POINTS));
    writeFileSync(at('camera.json'), JSON.stringify(CAMERA));
    const done = await match(
      at('ball.glb'),
      ...['--albedo', at('albedo.png'), '--reference', at('reference.png')],
      ...['--points', at('points.json'), '--out', at('out')],
    );
    expect(done.err).toBe('');
    expect(done.code).toBe(0);
    const report = JSON.parse(done.out) as {
      camera: MatchCamera;
      residuals: number[];
      silhouette: { iou: number; contourWorst: number };
      deltaE: { mean: number; p95: number };
      parts: { part: string; words: string }[];
      light: { part: string; degrees: number }[];
    };
    expect(Math.max(...report.residuals)).toBeLessThan(1e-3);
    report.camera.position.forEach((x, k) => expect(x).toBeCloseTo(CAMERA.position[k]!, 3));
    expect(report.camera.fovY).toBeCloseTo(CAMERA.fovY, 3);
    expect(report.silhouette.iou).toBeGreaterThan(0.995);
    expect(report.deltaE.mean).toBeLessThan(0.5);
    expect(report.parts).toMatchObject([{ part: 'Ball', words: 'no visible difference' }]);
    expect(report.light[0]!.degrees).toBeLessThan(1);
    expect(JSON.parse(readFileSync(at('out/report.json'), 'utf8'))).toEqual(report);
    const both = PNG.sync.read(readFileSync(at('out/side-by-side.png')));
    expect([both.width, both.height]).toEqual([480, 300]);
    expect(PNG.sync.read(readFileSync(at('out/heat.png'))).width).toBe(240);
  });

  it('says of another paint how far it is, from a camera that is given', async () => {
    const done = await match(
      at('ball.glb'),
      ...['--albedo', at('dark.png'), '--reference', at('reference.png')],
      ...['--camera', at('camera.json'), '--out', at('dark')],
    );
    const report = JSON.parse(done.out) as { deltaE: { mean: number }; parts: { words: string }[] };
    expect(report.deltaE.mean).toBeGreaterThan(10);
    expect(report.parts[0]!.words).toMatch(/dark/);
  });

  it('says what is wrong with what it was given, and writes nothing', async () => {
    const usual = [at('ball.glb'), '--albedo', at('albedo.png'), '--reference', at('reference.png')];
    writeFileSync(at('few.json'), JSON.stringify(POINTS.slice(0, 3)));
    writeFileSync(at('odd.json'), JSON.stringify({ ...CAMERA, width: 100 }));
    writeFileSync(at('broken.json'), '{');
    const cases: [string[], RegExp][] = [
      [
        [at('ball.glb'), '--albedo', at('albedo.png'), '--reference', at('albedo.png'), '--out', at('no')],
        /no plain ground|stands out of its ground/,
      ],
      [[...usual, '--points', at('few.json'), '--out', at('no')], /needs 4 pairs/],
      [[...usual, '--camera', at('odd.json'), '--out', at('no')], /picture of 100 x 300/],
      [[...usual, '--camera', at('broken.json'), '--out', at('no')], /is no JSON/],
      [[...usual, '--camera', at('points.json'), '--out', at('no')], /at “its start”/],
      [
        [...usual, '--camera', at('camera.json'), '--mask', at('albedo.png'), '--out', at('no')],
        /is 64 x 64/,
      ],
    ];
    for (const [args, words] of cases) {
      const { code, err } = await match(...args);
      expect(err).toMatch(words);
      expect(code).toBe(2);
    }
    expect(() => readFileSync(at('no/report.json'))).toThrow(/ENOENT/);
  });
});
