import { rampTable } from '../../color';
import { sheetOfFace, type UvMesh } from '../../mesh';
import { projection } from '../camera/camera';
import type { MatchCamera } from '../camera/on-picture';
import type { SeenModel } from '../camera/see-model';

/** Differences that are drawn as the hottest, CIEDE2000. */
export const HOTTEST = 20;

const HEAT = {
  stops: [
    { at: 0, color: '#1b2a4a' },
    { at: 0.25, color: '#3f7f86' },
    { at: 0.55, color: '#e8c34a' },
    { at: 1, color: '#d6402b' },
  ],
  mixing: 'oklab' as const,
  hardness: 0,
};

/** Too little of something one way, too much of it the other, nothing in the middle. */
const BOTH_WAYS = {
  stops: [
    { at: 0, color: '#2f6fd0' },
    { at: 0.5, color: '#2a2a2e' },
    { at: 1, color: '#e8a13a' },
  ],
  mixing: 'oklab' as const,
  hardness: 0,
};

const STEPS = 256;
const bytesOf = (ramp: typeof HEAT | typeof BOTH_WAYS): Uint8Array =>
  Uint8Array.from(rampTable(ramp, STEPS), (v) => Math.round(v * 255));
const TABLES = { oneWay: /* @__PURE__ */ bytesOf(HEAT), bothWays: /* @__PURE__ */ bytesOf(BOTH_WAYS) };

/** Whether a difference is told with its sign. */
export type HeatWay = keyof typeof TABLES;

/** Differences as colours; transparent where nothing is compared. @param field CIEDE2000, or with its sign */
export function heatColors(
  field: Float32Array,
  way: HeatWay = 'oneWay',
  out = new Uint8Array(field.length * 4),
): Uint8Array {
  for (let i = 0; i < field.length; i++) putHeat(field[i]!, way, out, i * 4);
  return out;
}

/** One of them. */
export function putHeat(d: number, way: HeatWay, out: Uint8Array, o: number): void {
  if (Number.isNaN(d)) {
    out[o + 3] = 0;
    return;
  }
  const part = way === 'oneWay' ? d / HOTTEST : 0.5 + d / (2 * HOTTEST);
  const at = Math.min(STEPS - 1, Math.max(0, Math.round(part * (STEPS - 1)))) * 3;
  const table = TABLES[way];
  out[o] = table[at]!;
  out[o + 1] = table[at + 1]!;
  out[o + 2] = table[at + 2]!;
  out[o + 3] = 255;
}

/** A texel further behind what is seen than this part of its own distance is hidden. */
const BEHIND = 0.004;

/**
 * For each texel of a small picture of a sheet the pixel of a camera's picture that shows it; -1 where nothing lies, or nothing of it is
 * seen.
 *
 * @param side texels a side
 */
export function pixelsOfSheet(
  mesh: UvMesh,
  camera: MatchCamera,
  seen: SeenModel,
  sheet: number,
  side: number,
): Int32Array {
  const out = new Int32Array(side * side).fill(-1);
  const see = projection(camera);
  const { width, height } = camera;
  const depths = depthsSeen(mesh, camera, seen);
  const { indices, uvs, positions: p } = mesh;
  for (let f = 0; f < indices.length / 3; f++) {
    if (sheetOfFace(mesh, f) !== sheet) continue;
    const corners = [0, 1, 2].map((k) => indices[f * 3 + k]!);
    const [ax, ay, bx, by, cx, cy] = corners.flatMap((v) => [
      uvs[v * 2]! * side,
      (1 - uvs[v * 2 + 1]!) * side,
    ]) as [number, number, number, number, number, number];
    const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
    if (area === 0) continue;
    const x1 = Math.min(side - 1, Math.ceil(Math.max(ax, bx, cx)));
    const y1 = Math.min(side - 1, Math.ceil(Math.max(ay, by, cy)));
    for (let y = Math.max(0, Math.floor(Math.min(ay, by, cy))); y <= y1; y++) {
      for (let x = Math.max(0, Math.floor(Math.min(ax, bx, cx))); x <= x1; x++) {
        const sb = ((x + 0.5 - ax) * (cy - ay) - (y + 0.5 - ay) * (cx - ax)) / area;
        const sc = ((bx - ax) * (y + 0.5 - ay) - (by - ay) * (x + 0.5 - ax)) / area;
        const sa = 1 - sb - sc;
        // A little over the border, so that no texel on it stays empty.
        if (sa < -0.02 || sb < -0.02 || sc < -0.02) continue;
        const at = (k: number): number =>
          p[corners[0]! * 3 + k]! * sa + p[corners[1]! * 3 + k]! * sb + p[corners[2]! * 3 + k]! * sc;
        const place = see([at(0), at(1), at(2)]);
        const [px, py] = [Math.floor(place.x), Math.floor(place.y)];
        if (!(place.depth > 0) || px < 0 || px >= width || py < 0 || py >= height) continue;
        const i = py * width + px;
        if (place.depth <= depths[i]! * (1 + BEHIND)) out[y * side + x] = i;
      }
    }
  }
  return out;
}

/** How far off what each pixel shows is; 0 where nothing is seen. */
function depthsSeen(
  { indices, positions: p }: UvMesh,
  camera: MatchCamera,
  { faces, shares }: SeenModel,
): Float32Array {
  const see = projection(camera);
  const depths = Float32Array.from(
    { length: p.length / 3 },
    (_, v) => see([p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!]).depth,
  );
  return Float32Array.from(faces, (f, i) => {
    if (f < 0) return 0;
    const [sb, sc] = [shares[i * 2]!, shares[i * 2 + 1]!];
    return (
      depths[indices[f * 3]!]! * (1 - sb - sc) +
      depths[indices[f * 3 + 1]!]! * sb +
      depths[indices[f * 3 + 2]!]! * sc
    );
  });
}
