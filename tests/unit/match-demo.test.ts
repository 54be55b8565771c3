import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { ciede2000, hexToRgb, paletteOf, rgbToCielab } from '../../core/color';
import { decodePng } from '../../core/formats';
import { readProjectFile } from '../../core/project-file';
import {
  degreesBetween,
  findBySilhouette,
  maskFromGround,
  prepareMatch,
  projection,
  seeModel,
  withoutPockets,
  type MatchCamera,
} from '../../core/match';
import type { Vec3 } from '../../core/math';
import { requireUvs, type UvMesh } from '../../core/mesh';
import { readModelFile } from '../../cli/read-model-file';
import { TONES } from '../../demo/palette';
import {
  inTheStall,
  LANTERN_CAMERA,
  OTTER_CAMERA,
  REFERENCE_LIGHT,
  STALL_CAMERA,
  STALL_LIGHT,
} from '../../demo/references';
import { makeStall } from '../../demo/stall';
import { together } from '../shapes';

const DEMO = 'app/public/demo';

/** The farthest that a vertex is seen off, in parts of the picture's height. */
function off(mesh: UvMesh, a: MatchCamera, b: MatchCamera): number {
  const [one, two] = [projection(a), projection(b)];
  let most = 0;
  for (let v = 0; v < mesh.positions.length; v += 3) {
    const p: Vec3 = [mesh.positions[v]!, mesh.positions[v + 1]!, mesh.positions[v + 2]!];
    const [x, y] = [one(p), two(p)];
    most = Math.max(most, Math.hypot(x.x - y.x, x.y - y.y));
  }
  return most / a.height;
}

const glb = async (name: string): Promise<UvMesh> => requireUvs(await readModelFile(`${DEMO}/${name}.glb`));
const [otter, lantern, kettle, crate] = (await Promise.all(
  ['otter', 'lantern', 'kettle', 'crate'].map(glb),
)) as [UvMesh, UvMesh, UvMesh, UvMesh];

/** All that stands in the stall as one model. */
const stall = together(
  ...inTheStall({ otter, lantern, kettle, crate, stall: makeStall() }).map(({ mesh, offset }) => ({
    ...mesh,
    positions: mesh.positions.map((x, i) => x + offset[i % 3]!),
  })),
);

const REFERENCES = [
  {
    name: 'otter',
    mesh: otter,
    drawnFrom: OTTER_CAMERA,
    light: REFERENCE_LIGHT,
    parts: ['Head', 'Apron', 'Muzzle', 'Pocket', 'Scarf', 'Headband'],
  },
  {
    name: 'lantern',
    mesh: lantern,
    drawnFrom: LANTERN_CAMERA,
    light: REFERENCE_LIGHT,
    parts: ['Shell', 'Fins'],
  },
  {
    name: 'stall',
    mesh: stall,
    drawnFrom: STALL_CAMERA,
    light: STALL_LIGHT,
    parts: [
      'Counter',
      'Roof',
      'Posts',
      'Cloth',
      'Head',
      'Muzzle',
      'Kettle',
      'Stove',
      'Slats',
      'Leaves',
      'Shell',
    ],
  },
] as const;

// The script that drew the references knows their cameras, their colours and their light, and hands none of them over.
describe.each(REFERENCES)('the demo’s $name in its reference', ({ name, mesh, drawnFrom, light, parts }) => {
  const picture = decodePng(readFileSync(`${DEMO}/${name}-reference.png`));
  const { width, height } = picture;
  const truth: MatchCamera = {
    position: [...drawnFrom.position],
    target: [...drawnFrom.target],
    up: [0, 1, 0],
    fovY: drawnFrom.fov,
    shift: [0, 0],
    width,
    height,
  };
  const ground = maskFromGround(picture);
  const { camera } = findBySilhouette(mesh, ground, { width, height });
  const covered = Uint8Array.from(seeModel(mesh, camera).faces, (f) => (f >= 0 ? 1 : 0));
  const prepared = prepareMatch({ mesh, camera, picture, mask: withoutPockets(picture, ground, covered) });

  it('is found within a hundredth of the height, by itself', () => {
    expect(off(mesh, camera, truth)).toBeLessThan(0.01);
    expect(prepared.silhouette.iou).toBeGreaterThan(0.95);
  });

  it.each(parts)('has %s’s colour within 2 ΔE', (part) => {
    const number = mesh.parts.indexOf(part);
    const pixels: number[] = [];
    prepared.seen.faces.forEach((f, i) => {
      if (f >= 0 && mesh.faceParts[f] === number && prepared.mask[i])
        pixels.push(...picture.rgba.subarray(i * 4, i * 4 + 4));
    });
    const wanted = rgbToCielab(hexToRgb(TONES[part]!.local));
    const found = paletteOf(Uint8Array.from(pixels), 6).map(
      ({ hex }) => ciede2000(wanted, rgbToCielab(hexToRgb(hex))).deltaE,
    );
    expect(Math.min(...found)).toBeLessThan(2);
  });

  it('is lit from where it was drawn to be, within 10 degrees', () => {
    expect(degreesBetween(prepared.light!.direction, [...light])).toBeLessThan(10);
  });
});

describe('the demo’s otter', () => {
  it('was brought near its reference: the looks on the way tell how, the last within ΔE 4 and 12', () => {
    const { document, files } = readProjectFile(readFileSync(`${DEMO}/otter-matched.zip`));
    const means = document.looks.map((l) => l.match!.mean);
    expect(means[0]).toBeGreaterThan(8);
    expect(means.every((m, i) => i === 0 || m < means[i - 1]!)).toBe(true);
    const last = document.looks.at(-1)!.match!;
    expect(last.mean).toBeLessThan(4);
    expect(last.p95).toBeLessThan(12);
    expect(last.iou).toBeGreaterThan(0.95);
    expect(document.looks.every((l) => files.has(l.id))).toBe(true);
  });
});
