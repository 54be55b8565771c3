import { linearSrgbToOklab, linearToSrgb, oklabToLinearSrgb, srgbToLinear } from '../color';
import type { TileSource } from '../composite';
import { clamp01, seededRandom, smoothstep } from '../math';
import { boundsOf, boxDistance, diagonalOf, sheetOfFace } from '../mesh';
import {
  codesOfTile,
  flatTriangle,
  layTriangle,
  NOWHERE,
  SUB,
  SUB_TEXELS,
  texelOnSheet,
  TILE_TEXELS,
  type PlaceReader,
  type Places,
  type SurfaceMap,
} from '../surface';
import type { Brushwork } from './brushwork';
import { strokeDirections } from './directions';
import { scatterOver, type Scatter } from './scatter';

/** Strokes as they lie on a model, all but their colours. */
export interface LaidStrokes {
  readonly scatter: Scatter;
  /** Unit, along each stroke and across it, xyz. */
  readonly along: Float32Array;
  readonly across: Float32Array;
  /** Half a stroke's length and width, model units. */
  readonly halfLength: Float32Array;
  readonly halfWidth: Float32Array;
  /** -0.5..0.5 three times: hue, lightness, bristles. */
  readonly chance: Float32Array;
  readonly grid: ReadonlyMap<string, readonly number[]>;
  readonly cell: number;
  /** No stroke reaches farther from its middle. */
  readonly reach: number;
}

/** Small strokes are this much of the size of large ones. */
const SMALL = 0.42;

/** Sets strokes over a model: large ones first, small ones on top of them. */
export function setStrokes({ mesh }: Pick<SurfaceMap, 'mesh'>, how: Brushwork): LaidStrokes {
  const diagonal = diagonalOf(boundsOf(mesh.positions));
  const rounds = [
    { size: 1, amount: how.amount, seed: how.seed },
    ...(how.small > 0 ? [{ size: SMALL, amount: how.amount * how.small, seed: how.seed + 7919 }] : []),
  ].map(({ size, amount, seed }) => {
    const width = how.size * size * diagonal;
    const length = width * how.length;
    // A stroke covers its length and width; as they lie over one another they stand closer.
    const all = scatterOver(mesh, Math.sqrt(width * length) * (1 - how.overlap), seed);
    const scatter = amount < 1 ? thinned(all, amount, seed) : all;
    return { scatter, width, length, seed, along: strokeDirections(mesh, scatter, how, length) };
  });
  const count = rounds.reduce((n, r) => n + r.scatter.count, 0);
  const scatter = joined(rounds.map((r) => r.scatter));
  const out = {
    scatter,
    along: new Float32Array(count * 3),
    across: new Float32Array(count * 3),
    halfLength: new Float32Array(count),
    halfWidth: new Float32Array(count),
    chance: new Float32Array(count * 3),
  };
  let i = 0;
  for (const round of rounds) {
    const random = seededRandom(round.seed + 13);
    for (let k = 0; k < round.scatter.count; k++, i++) {
      const n = scatter.normals.subarray(i * 3, i * 3 + 3);
      const t = round.along.subarray(k * 3, k * 3 + 3);
      const angle = ((random() - 0.5) * 2 * how.angleJitter * Math.PI) / 180;
      turnAbout(n, t, angle, out.along, i * 3);
      turnAbout(n, t, angle + Math.PI / 2, out.across, i * 3);
      // No two strokes of a hand are of one size.
      const own = 0.8 + 0.4 * random();
      out.halfLength[i] = (round.length / 2) * own;
      out.halfWidth[i] = (round.width / 2) * (0.85 + 0.3 * random());
      for (let c = 0; c < 3; c++) out.chance[i * 3 + c] = random() - 0.5;
    }
  }
  const reach = out.halfLength.reduce((most, l) => Math.max(most, l), 0);
  const cell = Math.max(reach, 1e-9);
  const grid = new Map<string, number[]>();
  for (let s = 0; s < count; s++) {
    const key = [0, 1, 2].map((k) => Math.floor(scatter.positions[s * 3 + k]! / cell)).join(' ');
    const list = grid.get(key);
    if (list) list.push(s);
    else grid.set(key, [s]);
  }
  return { ...out, grid, cell, reach };
}

function thinned(all: Scatter, amount: number, seed: number): Scatter {
  const random = seededRandom(seed + 29);
  const kept = Array.from({ length: all.count }, (_, i) => i).filter(() => random() < amount);
  const take = (data: Float32Array): Float32Array =>
    Float32Array.from(kept.flatMap((i) => [data[i * 3]!, data[i * 3 + 1]!, data[i * 3 + 2]!]));
  return {
    count: kept.length,
    positions: take(all.positions),
    normals: take(all.normals),
    faces: Int32Array.from(kept, (i) => all.faces[i]!),
    weights: take(all.weights),
  };
}

function joined(list: readonly Scatter[]): Scatter {
  const count = list.reduce((n, s) => n + s.count, 0);
  const out = {
    count,
    positions: new Float32Array(count * 3),
    normals: new Float32Array(count * 3),
    faces: new Int32Array(count),
    weights: new Float32Array(count * 3),
  };
  let at = 0;
  for (const s of list) {
    out.positions.set(s.positions, at * 3);
    out.normals.set(s.normals, at * 3);
    out.weights.set(s.weights, at * 3);
    out.faces.set(s.faces, at);
    at += s.count;
  }
  return out;
}

/** A tangent turned about a normal. */
function turnAbout(n: Float32Array, t: Float32Array, angle: number, out: Float32Array, at: number): void {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  out[at] = t[0]! * c + (n[1]! * t[2]! - n[2]! * t[1]!) * s;
  out[at + 1] = t[1]! * c + (n[2]! * t[0]! - n[0]! * t[2]!) * s;
  out[at + 2] = t[2]! * c + (n[0]! * t[1]! - n[1]! * t[0]!) * s;
}

/** What a layer has and how much of it shows on a texel: r, g, b, a, each 0..1. */
type Sample = (texel: number, out: Float64Array) => void;

/** What strokes take their colours from. */
export interface StrokeGround {
  readonly surface: SurfaceMap;
  readonly places: PlaceReader;
  /** The smooth layer on a tile. */
  source(tile: number): TileSource | null;
  /** How much of it shows, 0..65535 a texel; null: all. */
  mask(tile: number): Uint16Array | null;
}

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
      const first = (block >> 4) * SUB_TEXELS + ((block >> 2) & 3) * SUB * BLOCK + (block & 3) * BLOCK;
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

/** Strokes are looked for in blocks of 8 x 8 texels: an island's edge makes the box of anything larger span the model. */
const BLOCK = 8;
const BLOCKS = TILE_TEXELS / (BLOCK * BLOCK);

/** A texel that looks away by more (73°) lies on another side. */
const SAME_SIDE = 32767 * 0.3;

/** Boxes of a tile's blocks in space, min xyz and max xyz: sub-tile by sub-tile, 16 each, row by row. */
type Boxes = Float32Array;

function blockBoxes({ px, py, pz }: Places): Boxes {
  const out = new Float32Array(BLOCKS * 6);
  for (let block = 0; block < BLOCKS; block++) {
    const o = block * 6;
    out.fill(Infinity, o, o + 3);
    out.fill(-Infinity, o + 3, o + 6);
    const first = (block >> 4) * SUB_TEXELS + ((block >> 2) & 3) * SUB * BLOCK + (block & 3) * BLOCK;
    for (let k = 0; k < BLOCK * BLOCK; k++) {
      const i = first + (k >> 3) * SUB + (k & 7);
      const x = px[i]!;
      if (x >= NOWHERE) continue;
      if (x < out[o]!) out[o] = x;
      if (x > out[o + 3]!) out[o + 3] = x;
      if (py[i]! < out[o + 1]!) out[o + 1] = py[i]!;
      if (py[i]! > out[o + 4]!) out[o + 4] = py[i]!;
      if (pz[i]! < out[o + 2]!) out[o + 2] = pz[i]!;
      if (pz[i]! > out[o + 5]!) out[o + 5] = pz[i]!;
    }
  }
  return out;
}

/** Strokes that touch the boxes of some blocks, in the order in which they are laid. */
function strokesNear({ grid, cell, reach, scatter, halfLength }: LaidStrokes, boxes: Boxes): number[] {
  const found = new Set<number>();
  const cells = new Set<string>();
  const { positions: p } = scatter;
  for (let block = 0; block < BLOCKS; block++) {
    const o = block * 6;
    if (boxes[o] === Infinity) continue;
    const from = [0, 1, 2].map((k) => Math.floor((boxes[o + k]! - reach) / cell)) as [number, number, number];
    const to = [0, 1, 2].map((k) => Math.floor((boxes[o + 3 + k]! + reach) / cell)) as [
      number,
      number,
      number,
    ];
    // A block that spans the model touches more cells than there are.
    if ((to[0] - from[0] + 1) * (to[1] - from[1] + 1) * (to[2] - from[2] + 1) > grid.size) {
      for (const key of grid.keys()) cells.add(key);
      break;
    }
    for (let x = from[0]; x <= to[0]; x++) {
      for (let y = from[1]; y <= to[1]; y++) {
        for (let z = from[2]; z <= to[2]; z++) cells.add(`${x} ${y} ${z}`);
      }
    }
  }
  for (const key of cells) {
    for (const s of grid.get(key) ?? []) {
      const far = halfLength[s]! ** 2;
      for (let block = 0; block < BLOCKS; block++) {
        if (boxDistance(boxes, block * 6, p[s * 3]!, p[s * 3 + 1]!, p[s * 3 + 2]!) > far) continue;
        found.add(s);
        break;
      }
    }
  }
  return [...found].sort((a, b) => a - b);
}

type Color = readonly [r: number, g: number, b: number, a: number];

/** The colours of strokes: those of the smooth layer at their middles, each a little off. */
class StrokeColors {
  private readonly strokes: LaidStrokes;
  private readonly how: Brushwork;
  private readonly ground: StrokeGround;
  private readonly known: (Color | null | undefined)[] = [];
  /** The texel at each stroke's middle, and the strokes of each tile. */
  private readonly texel: Int32Array;
  private readonly ofTile = new Map<number, number[]>();

  constructor(strokes: LaidStrokes, how: Brushwork, ground: StrokeGround) {
    this.strokes = strokes;
    this.how = how;
    this.ground = ground;
    const { count, faces, weights } = strokes.scatter;
    const { surface } = ground;
    this.texel = new Int32Array(count).fill(-1);
    const flat = flatTriangle();
    for (let s = 0; s < count; s++) {
      const sheet = surface.sheets[sheetOfFace(surface.mesh, faces[s]!)]!;
      if (!layTriangle(surface.mesh, faces[s]!, sheet.size, flat)) continue;
      const [x, y] = [0, 1].map((k) =>
        Math.floor([0, 1, 2].reduce((sum, c) => sum + flat.at[c * 2 + k]! * weights[s * 3 + c]!, 0)),
      ) as [number, number];
      const wrap = (v: number): number => ((v % sheet.size) + sheet.size) % sheet.size;
      const texel = texelOnSheet(sheet, wrap(x), wrap(y));
      this.texel[s] = texel;
      const tile = Math.floor(texel / TILE_TEXELS);
      const list = this.ofTile.get(tile);
      if (list) list.push(s);
      else this.ofTile.set(tile, [s]);
    }
  }

  /** Null where the layer has nothing. */
  of(stroke: number): Color | null {
    const known = this.known[stroke];
    if (known !== undefined) return known;
    if (this.texel[stroke]! < 0) return (this.known[stroke] = null);
    const tile = Math.floor(this.texel[stroke]! / TILE_TEXELS);
    const { ground } = this;
    const isThere = ground.surface.slotOfTile[tile]! >= 0;
    const sample = isThere ? sampleOf(ground.source(tile), ground.mask(tile)) : null;
    const out = new Float64Array(4);
    for (const s of this.ofTile.get(tile) ?? []) {
      sample?.(this.texel[s]! % TILE_TEXELS, out);
      this.known[s] = sample && out[3]! > 0.004 ? this.jittered(s, out) : null;
    }
    return this.known[stroke] ?? null;
  }

  private jittered(s: number, [r, g, b, a]: Float64Array): Color {
    const { hueJitter, lightJitter } = this.how;
    if (hueJitter === 0 && lightJitter === 0) return [r!, g!, b!, a!];
    const { chance } = this.strokes;
    const lab = linearSrgbToOklab(srgbToLinear(r!), srgbToLinear(g!), srgbToLinear(b!));
    const turn = (chance[s * 3]! * 2 * hueJitter * Math.PI) / 180;
    const [c, d] = [Math.cos(turn), Math.sin(turn)];
    const linear = oklabToLinearSrgb({
      L: clamp01(lab.L + chance[s * 3 + 1]! * 2 * lightJitter),
      a: lab.a * c - lab.b * d,
      b: lab.a * d + lab.b * c,
    });
    const [x, y, z] = linear.map((v) => linearToSrgb(clamp01(v))) as [number, number, number];
    return [x, y, z, a!];
  }
}

/** Reads what a layer has on a tile, through its mask. */
function sampleOf(source: TileSource | null, mask: Uint16Array | null): Sample {
  const shows = (i: number): number => (mask ? mask[i]! / 65535 : 1);
  if (!source) return (_i, out) => out.fill(0);
  switch (source.form) {
    case 'color':
      return (i, out) => out.set([...source.color, shows(i)]);
    case 'rgba8':
      return (i, out) => {
        for (let c = 0; c < 4; c++) out[c] = source.bytes[i * 4 + c]! / 255;
        out[3]! *= shows(i);
      };
    case 'rgba16':
      return (i, out) => {
        for (let c = 0; c < 4; c++) out[c] = source.words[i * 4 + c]! / 65535;
        out[3]! *= shows(i);
      };
  }
}
