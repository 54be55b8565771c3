import type { TileSource } from '../composite';
import { seededRandom, smoothstep } from '../math';
import { boxDistance } from '../mesh';
import { codesOfTile, SUB, TILE_TEXELS, type Places } from '../surface';
import { BLOCK, blockBoxes, BLOCKS, firstOfBlock, strokesNear, type Boxes } from './blocks';
import type { Brushwork } from './brushwork';
import type { LaidStrokes } from './set-strokes';
import { sampleOf, StrokeColors, type Color, type StrokeSurface } from './stroke-colors';

/** A texel that looks away by more (73°) lies on another side. */
const SAME_SIDE = 32767 * 0.3;

/** What lies under strokes that let through less than this alters no byte. */
const HIDDEN = 1 / 512;

/**
 * Paints a smooth layer in strokes: each has the colour that the layer has at its middle, and keeps to the part that lies there.
 *
 * @returns the strokes on a tile, with the smooth layer under them as far as is wanted
 */
export function strokePainter(
  strokes: LaidStrokes,
  how: Brushwork,
  ground: StrokeSurface,
): (tile: number) => TileSource | null {
  const { surface, places } = ground;
  const colors = new StrokeColors(strokes, how, ground);
  const { faceParts } = surface.mesh;
  const { scatter, along, across, halfLength, halfWidth, chance } = strokes;
  const { positions: p, normals: n, faces } = scatter;
  const soft = Math.max(0.04, how.edge);

  const layStroke = (
    s: number,
    [red, green, blue, alpha]: Color,
    { px, py, pz, nx, ny, nz }: Places,
    parts: Int32Array,
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
    const absBx = Math.abs(bx);
    const absBy = Math.abs(by);
    const absBz = Math.abs(bz);
    const L = halfLength[s]!;
    const W = halfWidth[s]!;
    const straight = Math.max(0, L - W);
    const hair = chance[o3 + 2]! * 1000;
    const far = L * L;
    for (let block = 0; block < BLOCKS; block++) {
      const b = block * 6;
      if (boxDistance(boxes, b, cx, cy, cz) > far) continue;
      // Strokes are thin: most blocks that their ball touches lie beside them.
      const off =
        ((boxes[b]! + boxes[b + 3]!) / 2 - cx) * bx +
        ((boxes[b + 1]! + boxes[b + 4]!) / 2 - cy) * by +
        ((boxes[b + 2]! + boxes[b + 5]!) / 2 - cz) * bz;
      const half =
        ((boxes[b + 3]! - boxes[b]!) * absBx +
          (boxes[b + 4]! - boxes[b + 1]!) * absBy +
          (boxes[b + 5]! - boxes[b + 2]!) * absBz) /
        2;
      if (Math.abs(off) > half + W) continue;
      const first = firstOfBlock(block);
      for (let row = 0; row < BLOCK; row++) {
        const end = first + row * SUB + BLOCK;
        for (let i = end - BLOCK; i < end; i++) {
          const o = i * 4;
          const through = acc[o + 3]!;
          if (through < HIDDEN) continue;
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
          if (parts[i] !== part) continue;
          if (nx[i]! * ux + ny[i]! * uy + nz[i]! * uz < SAME_SIDE) continue;
          let a = smoothstep(1, 1 - soft, d) * alpha;
          if (how.bristle > 0) a *= hairs(y / W, x / L, hair, how.bristle);
          if (a <= 0) continue;
          const seen = a * through;
          acc[o] = acc[o]! + red * seen;
          acc[o + 1] = acc[o + 1]! + green * seen;
          acc[o + 2] = acc[o + 2]! + blue * seen;
          acc[o + 3] = through - seen;
        }
      }
    }
  };

  return (tile) => {
    const codes = codesOfTile(surface, tile);
    const at = places.tile(tile);
    if (!codes || !at) return null;
    // From the topmost stroke down: colours times how much of them is seen, and how much of what lies below is seen.
    const acc = new Float32Array(TILE_TEXELS * 4);
    for (let i = 0; i < TILE_TEXELS; i++) acc[i * 4 + 3] = 1;
    const boxes = blockBoxes(at);
    const parts = Int32Array.from(codes, (code) => (code < 0 ? -1 : faceParts[code >> 2]!));
    for (const s of strokesNear(strokes, boxes).reverse()) {
      const color = colors.of(s);
      if (!color) continue;
      layStroke(s, color, at, parts, boxes, acc);
    }
    if (how.under > 0) layUnder(sampleOf(ground.source(tile), ground.mask(tile)), codes, how.under, acc);
    const bytes = new Uint8Array(TILE_TEXELS * 4);
    for (let o = 0; o < bytes.length; o += 4) {
      const alpha = 1 - acc[o + 3]!;
      if (!(alpha > 0)) continue;
      for (let c = 0; c < 3; c++) bytes[o + c] = Math.round((acc[o + c]! / alpha) * 255);
      bytes[o + 3] = Math.round(alpha * 255);
    }
    return { form: 'rgba8', bytes };
  };
}

/** Lays the smooth layer under the strokes of a tile. */
function layUnder(
  sample: ReturnType<typeof sampleOf>,
  codes: Int32Array,
  opacity: number,
  acc: Float32Array,
): void {
  const smooth = new Float64Array(4);
  for (let i = 0; i < TILE_TEXELS; i++) {
    const through = acc[i * 4 + 3]!;
    if (codes[i]! < 0 || through < HIDDEN) continue;
    sample(i, smooth);
    const seen = smooth[3]! * opacity * through;
    for (let c = 0; c < 3; c++) acc[i * 4 + c] = acc[i * 4 + c]! + smooth[c]! * seen;
    acc[i * 4 + 3] = through - seen;
  }
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
