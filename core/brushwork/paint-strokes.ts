import type { TileSource } from '../composite';
import { seededRandom, smoothstep } from '../math';
import { boxDistance } from '../mesh';
import { codesOfTile, SUB, TILE_TEXELS, type Places } from '../surface';
import { BLOCK, blockBoxes, BLOCKS, firstOfBlock, strokesNear, type Boxes } from './blocks';
import type { Brushwork } from './brushwork';
import type { LaidStrokes } from './set-strokes';
import { sampleOf, StrokeColors, type Color, type StrokeGround } from './stroke-colors';

/** A texel that looks away by more (73°) lies on another side. */
const SAME_SIDE = 32767 * 0.3;

/**
 * Paints a smooth layer in strokes: each has the colour that the layer has at its middle, and keeps to the part that lies there.
 *
 * @returns the strokes on a tile, with the smooth layer under them as far as is wanted
 */
export function strokePainter(
  strokes: LaidStrokes,
  how: Brushwork,
  ground: StrokeGround,
): (tile: number) => TileSource | null {
  const { surface, places } = ground;
  const colors = new StrokeColors(strokes, how, ground);
  const { faceParts } = surface.mesh;
  const { scatter, along, across, halfLength, halfWidth, chance } = strokes;
  const { positions: p, normals: n, faces } = scatter;
  const smooth = new Float64Array(4);
  const soft = Math.max(0.04, how.edge);

  const layStroke = (
    s: number,
    [red, green, blue, alpha]: Color,
    { px, py, pz, nx, ny, nz }: Places,
    codes: Int32Array,
    boxes: Boxes,
    acc: Float32Array,
  ): void => {
    const part = faceParts[faces[s]!]!;
    const o3 = s * 3;
    const cx = p[o3]!;
    const cy = p[o3 + 1]!;
    const cz = p[o3 + 2]!;
    const ux = n[o3]!;
    const uy = n[o3 + 1]!;
    const uz = n[o3 + 2]!;
    const tx = along[o3]!;
    const ty = along[o3 + 1]!;
    const tz = along[o3 + 2]!;
    const bx = across[o3]!;
    const by = across[o3 + 1]!;
    const bz = across[o3 + 2]!;
    const L = halfLength[s]!;
    const W = halfWidth[s]!;
    const straight = Math.max(0, L - W);
    const hair = chance[o3 + 2]! * 1000;
    const far = L * L;
    for (let block = 0; block < BLOCKS; block++) {
      if (boxDistance(boxes, block * 6, cx, cy, cz) > far) continue;
      const first = firstOfBlock(block);
      for (let row = 0; row < BLOCK; row++) {
        const end = first + row * SUB + BLOCK;
        for (let i = end - BLOCK; i < end; i++) {
          const dx = px[i]! - cx;
          const dy = py[i]! - cy;
          const dz = pz[i]! - cz;
          if (dx * dx + dy * dy + dz * dz > far) continue;
          const y = dx * bx + dy * by + dz * bz;
          if (y > W || y < -W) continue;
          const x = dx * tx + dy * ty + dz * tz;
          const beyond = Math.max(0, Math.abs(x) - straight);
          const d = Math.sqrt(beyond * beyond + y * y) / W;
          if (d >= 1) continue;
          if (faceParts[codes[i]! >> 2] !== part) continue;
          if (nx[i]! * ux + ny[i]! * uy + nz[i]! * uz < SAME_SIDE) continue;
          let a = smoothstep(1, 1 - soft, d) * alpha;
          if (how.bristle > 0) a *= hairs(y / W, x / L, hair, how.bristle);
          if (a <= 0) continue;
          const o = i * 4;
          const below = acc[o + 3]! * (1 - a);
          const all = a + below;
          acc[o] = (red * a + acc[o]! * below) / all;
          acc[o + 1] = (green * a + acc[o + 1]! * below) / all;
          acc[o + 2] = (blue * a + acc[o + 2]! * below) / all;
          acc[o + 3] = all;
        }
      }
    }
  };

  return (tile) => {
    const codes = codesOfTile(surface, tile);
    const at = places.tile(tile);
    if (!codes || !at) return null;
    const acc = new Float32Array(TILE_TEXELS * 4);
    if (how.under > 0) {
      const sample = sampleOf(ground.source(tile), ground.mask(tile));
      for (let i = 0; i < TILE_TEXELS; i++) {
        if (codes[i]! < 0) continue;
        sample(i, smooth);
        for (let c = 0; c < 3; c++) acc[i * 4 + c] = smooth[c]!;
        acc[i * 4 + 3] = smooth[3]! * how.under;
      }
    }
    const boxes = blockBoxes(at);
    for (const s of strokesNear(strokes, boxes)) {
      const color = colors.of(s);
      if (!color) continue;
      layStroke(s, color, at, codes, boxes, acc);
    }
    const bytes = new Uint8Array(TILE_TEXELS * 4);
    for (let i = 0; i < bytes.length; i++) bytes[i] = Math.round(acc[i]! * 255);
    return { form: 'rgba8', bytes };
  };
}

/** How many hairs lie side by side in a brush. */
const HAIRS = 9;

/** How far hairs reach down, by chance: 0..1. */
const HAIR_HEIGHTS = Float32Array.from({ length: 1024 }, seededRandom(77));

/** How much a brush's hairs leave: they part toward the end of a stroke. @param v across, u along, each -1..1 */
function hairs(v: number, u: number, seed: number, bristle: number): number {
  const at = (v + 1) * 0.5 * HAIRS + seed;
  const i = Math.floor(at);
  const t = at - i;
  const from = HAIR_HEIGHTS[i & 1023]!;
  const value = from + (HAIR_HEIGHTS[(i + 1) & 1023]! - from) * t * t * (3 - 2 * t);
  // The brush lifts at one end: there most hairs leave the surface.
  const end = smoothstep(-0.2, 1, u);
  const dry = bristle * (0.25 + 0.75 * end);
  return smoothstep(dry - 0.18, dry + 0.18, value + 0.18 * (1 - bristle));
}
