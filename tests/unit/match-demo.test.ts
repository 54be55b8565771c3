import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { ciede2000, hexToRgb, paletteOf, rgbToCielab } from '../../core/color';
import { decodePng } from '../../core/formats';
import { readProjectFile } from '../../core/engine';
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
import { readModelFile } from '../../cli/options';
import { TONES } from '../../demo/palette';
import { OTTER_CAMERA, REFERENCE_LIGHT } from '../../demo/references';

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

// The script that drew the reference knows its camera, its colours and its light, and hands none of them over.
describe('the demo’s otter in its reference', async () => {
  const mesh = requireUvs(await readModelFile(`${DEMO}/otter.glb`));
  const picture = decodePng(readFileSync(`${DEMO}/otter-reference.png`));
  const { width, height } = picture;
  const truth: MatchCamera = {
    position: [...OTTER_CAMERA.position],
    target: [...OTTER_CAMERA.target],
    up: [0, 1, 0],
    fovY: OTTER_CAMERA.fov,
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

  it('has its parts’ colours within 2 ΔE', () => {
    for (const part of ['Head', 'Apron', 'Muzzle', 'Pocket', 'Scarf', 'Headband']) {
      const number = mesh.parts.indexOf(part);
      const pixels: number[] = [];
      prepared.seen.faces.forEach((f, i) => {
        if (f >= 0 && mesh.faceParts[f] === number && prepared.mask[i])
          pixels.push(...picture.rgba.subarray(i * 4, i * 4 + 4));
      });
      const wanted = rgbToCielab(hexToRgb(TONES[part]!.local));
      const nearest = Math.min(
        ...paletteOf(Uint8Array.from(pixels), 6).map(
          ({ hex }) => ciede2000(wanted, rgbToCielab(hexToRgb(hex))).deltaE,
        ),
      );
      expect(nearest, part).toBeLessThan(2);
    }
  });

  it('is lit from where it was drawn to be, within 10 degrees', () => {
    expect(degreesBetween(prepared.light!.direction, [...REFERENCE_LIGHT])).toBeLessThan(10);
  });

  it('was brought near it: the looks on the way tell how, the last within ΔE 4 and 12', () => {
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
