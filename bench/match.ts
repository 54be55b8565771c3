import { readFileSync } from 'node:fs';
import { readModelFile } from '../cli/read-model-file';
import { decodePng } from '../core/formats';
import {
  fitCamera,
  maskFromGround,
  NO_MATCH,
  projection,
  refineBySilhouette,
  type MatchCamera,
} from '../core/match';
import type { Vec3 } from '../core/math';
import { requireUvs } from '../core/mesh';
import { TILE_BYTES } from '../core/surface';
import { MatchSession } from '../workers/match-session';
import { limitRow, median, type Row } from './clock';

const SIZE = 2048;
const DEMO = 'app/public/demo';

/** The demo's otter beside its reference: a camera from six pairs, one refined by silhouettes, a report after a stroke, differences under the brush. */
export async function benchMatch(): Promise<Row[]> {
  const mesh = requireUvs(await readModelFile(`${DEMO}/otter.glb`));
  const picture = decodePng(readFileSync(`${DEMO}/otter-reference.png`));
  const camera: MatchCamera = {
    position: [0.55, 1.2, 6.2],
    target: [0.06, 1, 0],
    up: [0, 1, 0],
    fovY: 21,
    shift: [0, 0],
    width: picture.width,
    height: picture.height,
  };
  const see = projection(camera);
  const places: Vec3[] = [
    [0, 1.3, 0.6],
    [-0.5, 0.4, 0.3],
    [0.5, 0.5, 0.2],
    [0.3, 1.9, 0.1],
    [-0.4, 1.7, 0.3],
    [0.1, 0.1, 0.5],
  ];
  // Half a pixel off, as a hand sets them.
  const pairs = places.map((model, i) => ({
    model,
    picture: [see(model).x + (i % 2 ? 0.5 : -0.4), see(model).y + (i % 3) * 0.3] as const,
  }));
  const { width, height } = picture;
  const pairing = median(20, () => void fitCamera(pairs, { width, height }));

  // The picture at 1024 pixels.
  const large = { ...camera, width: 819, height: 1024 };
  const ground = maskFromGround(picture);
  const mask = Uint8Array.from({ length: 819 * 1024 }, (_, i) => {
    const [x, y] = [i % 819, Math.floor(i / 819)];
    return ground[Math.floor((y * height) / 1024) * width + Math.floor((x * width) / 819)]!;
  });
  const start = { ...large, position: [0.75, 1.3, 6.2] as const, target: [0.1, 1.05, 0] as const };
  const refining = median(3, () => void refineBySilhouette(mesh, start, mask));

  const rasterizer = new MatchSession();
  const paint = new Uint8Array(SIZE * SIZE * 4).fill(140);
  rasterizer.setModel({ mesh, sizes: [SIZE], pictures: [paint] });
  rasterizer.setReference(picture, { match: { ...NO_MATCH, camera }, regions: [] });
  rasterizer.report();
  const tiles = [300, 301, 332, 333];
  const stroke = (): void =>
    void rasterizer.setTiles({
      tiles,
      subs: tiles.map(() => 15),
      pixels: new Uint8Array(tiles.length * TILE_BYTES).fill(90),
    });
  const reporting = median(5, () => {
    stroke();
    rasterizer.report();
  });
  rasterizer.heat('all');
  const following = median(15, stroke);
  return [
    limitRow('camera from 6 pairs', pairing, 50),
    limitRow('camera refined by silhouettes, 1024 pixels', refining, 3000),
    limitRow('report after a stroke, 2048', reporting, 2000),
    limitRow('differences under the brush, 4 tiles of 2048', following, 100),
  ];
}
