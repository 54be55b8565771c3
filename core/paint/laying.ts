import { hexToRgb, oklchToRgb, rgbToOklch } from '../color';
import type { Picture } from '../formats';
import { clamp01, dot, normalize, sub } from '../math';
import type { MeshPlace } from '../mesh';
import { colorPyramid, samplePyramid } from '../pattern';
import {
  codesOfTile,
  filledTiles,
  PlaceReader,
  PlaneSampler,
  SUB_TEXELS,
  texelLengths,
  TILE_TEXELS,
  type PlaneTiles,
} from '../surface';
import type { Dab } from './dab';
import type { PaintDesk, StrokeKernels } from './paint-desk';
import { hasShades, type BrushShape } from './brush';
import { otherSide } from './other-side';
import type { Reach } from './reach';
import { shadesOf } from './shades';
import type { BrushedStyle, StyleOf, ToolName } from './stroke';
import { ThroughCoverage, type TexelColors } from './through';
import { WetPaint } from './wet';

/** What a stroke is made with and on. */
export interface LayingGround {
  readonly desk: PaintDesk;
  readonly kernels: StrokeKernels;
  readonly keepAlpha: boolean;
  readonly guard: Reach | null;
  /** The paint as it was before the stroke. */
  readonly plane: PlaneTiles;
  /** A picture of the project; null if it isn't there. */
  readonly picture: (id: number) => Picture | null;
}

/** How a tool makes paint of its dabs. */
export interface Laying {
  /** Sub-tiles that it covers before any dab. */
  covers?(): Iterable<number>;
  /** @param touched receives the sub-tiles that change */
  dab(sheet: number, dab: Dab, touched: Set<number>): void;
  /** A tile with the stroke laid on it. @param before as it was before the stroke */
  paint(tile: number, before: Uint8Array, out: Uint8Array): void;
}

/** One maker a tool. */
export const LAYINGS: { readonly [T in ToolName]: (style: StyleOf<T>, ground: LayingGround) => Laying } = {
  brush: ({ color, erase, opacity, brush }, ground) => {
    const { desk, kernels, keepAlpha } = ground;
    if (hasShades(brush) && !erase) return through({ opacity, brush }, ground, shaded(color, brush, desk));
    const paint = { color: hexToRgb(color), opacity: brush.builds ? 1 : opacity, erase, keepAlpha };
    return {
      dab: (sheet, dab, touched) => desk.dab(sheet, dab, touched),
      paint: (tile, before, out) => kernels.stroke(before, desk.coverageOf(tile), out, paint),
    };
  },
  soften: wet,
  smear: wet,
  tone: (style, ground) => through(style, { ...ground, keepAlpha: true }, toned(style)),
  copy: (style, ground) => {
    const { whole } = style;
    const colors = copied(style, ground);
    if (!whole) return through(style, ground, colors);
    const side = sideOf(whole, ground);
    return through(style, ground, { ...colors, replaces: true }, side);
  },
  through: (style, ground) =>
    through(style, ground, seenThrough(style, ground), style.whole ? ground.guard : undefined),
  fill: ({ color, erase, opacity }, { desk, kernels, keepAlpha, guard }) => {
    const paint = { color: hexToRgb(color), opacity, erase, keepAlpha };
    const area = guardArea(desk, guard);
    return {
      covers: area.subs,
      dab: () => undefined,
      paint: (tile, before, out) => kernels.stroke(before, area.coverageOf(tile), out, paint),
    };
  },
};

function wet(style: StyleOf<'soften'> | StyleOf<'smear'>, { desk, keepAlpha, plane }: LayingGround): Laying {
  const { tool, opacity, brush } = style;
  const paint = new WetPaint(desk, { tool, opacity: brush.builds ? 1 : opacity, keepAlpha }, plane);
  return {
    dab: (sheet, dab, touched) => paint.dab(sheet, dab, touched),
    paint: (tile, before, out) => paint.paint(tile, before, out),
  };
}

/** @param all what is covered before any dab; undefined for nothing */
function through(
  { opacity, brush }: Pick<BrushedStyle, 'opacity' | 'brush'>,
  { desk, keepAlpha }: LayingGround,
  colors: TexelColors,
  all?: Reach | null,
): Laying {
  const paint = new ThroughCoverage(colors, { opacity: brush.builds ? 1 : opacity, keepAlpha });
  const area = all === undefined ? null : guardArea(desk, all);
  return {
    ...(area && { covers: area.subs }),
    dab: (sheet, dab, touched) => desk.dab(sheet, dab, touched),
    paint: (tile, before, out) =>
      paint.paint(tile, before, area ? area.coverageOf(tile) : desk.coverageOf(tile), out),
  };
}

/** The shade of the dab that covers most, or came last. */
function shaded(color: string, brush: BrushShape, desk: PaintDesk): TexelColors {
  const shades = shadesOf(color, brush);
  return {
    changes: true,
    write: (tile, i, _before, out, o) => {
      const { r, g, b } = shades[desk.shades(tile * 4 + (i >> 10))?.[i & (SUB_TEXELS - 1)] ?? 0]!;
      out[o] = r;
      out[o + 1] = g;
      out[o + 2] = b;
      out[o + 3] = 255;
    },
  };
}

/** What is there, deeper or lifted: the nearest colour of the same hue that a screen can show. */
function toned({ lightness, chroma }: StyleOf<'tone'>): TexelColors {
  const known = new Map<number, number>();
  return {
    write: (_tile, i, before, out, o) => {
      const [r, g, b] = [before[i * 4]!, before[i * 4 + 1]!, before[i * 4 + 2]!];
      const was = (r << 16) | (g << 8) | b;
      let now = known.get(was);
      if (now === undefined) {
        const { L, C, h } = rgbToOklch({ r, g, b });
        const to = oklchToRgb({
          L: Math.min(1, Math.max(0, L + lightness)),
          // Grey has no hue that could be brought out.
          C: C < GREY ? C : Math.max(0, C + chroma),
          h,
        });
        now = (to.r << 16) | (to.g << 8) | to.b;
        known.set(was, now);
      }
      out[o] = now >> 16;
      out[o + 1] = (now >> 8) & 255;
      out[o + 2] = now & 255;
      out[o + 3] = 255;
    },
  };
}

/** Below this OKLCH chroma a colour of 8 bits is as good as grey. */
const GREY = 0.004;

/** What lies on one side of a plane, smooth over one texel, and within the guard. */
function sideOf(
  { point, normal }: NonNullable<StyleOf<'copy'>['whole']>,
  { desk: { surface }, guard }: LayingGround,
): Reach {
  const reader = new PlaceReader(surface);
  const texels = texelLengths(surface);
  const n = normalize(normal);
  return {
    at: (tile, i, code) => {
      const { px, py, pz } = reader.tile(tile)!;
      const far = dot(sub([px[i]!, py[i]!, pz[i]!], point), n);
      const part = clamp01(far / texels(code >> 2, tile) + 0.5);
      return part === 0 ? 0 : Math.round(part * (guard ? guard.at(tile, i, code) : 255));
    },
  };
}

/** What the plane had where `from` leads to. */
function copied({ from, whole }: StyleOf<'copy'>, { desk, plane }: LayingGround): TexelColors {
  const { surface } = desk;
  const { closest } = desk.open();
  const toOther = whole?.twins ? otherSide(desk, whole.point, whole.normal) : null;
  const reader = new PlaceReader(surface);
  const sampler = new PlaneSampler(surface, plane);
  const place: MeshPlace = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };
  return {
    write: (tile, i, _before, out, o) => {
      const { px, py, pz } = reader.tile(tile)!;
      const row = (r: number): number =>
        from[r]! * px[i]! + from[r + 1]! * py[i]! + from[r + 2]! * pz[i]! + from[r + 3]!;
      if (toOther) toOther([px[i]!, py[i]!, pz[i]!], place);
      else closest.find(row(0), row(4), row(8), place);
      sampler.begin();
      sampler.add(place);
      if (sampler.finish()) out.set(sampler.rgba, o);
      else out.fill(0, o, o + 4);
    },
  };
}

/** What a picture shows that lies over the model; nothing beyond its rim. Where texels are larger than its pixels, its halvings are read. */
function seenThrough(
  { picture: id, view }: StyleOf<'through'>,
  { desk, picture }: LayingGround,
): TexelColors {
  const { surface } = desk;
  const found = picture(id);
  if (!found) return { write: (_tile, _i, _before, out, o) => void out.fill(0, o, o + 4) };
  const pyramid = colorPyramid(found);
  const { width, height } = found;
  const reader = new PlaceReader(surface);
  const texels = texelLengths(surface);
  const sum = new Float64Array(4);
  // Pixels a unit of length at depth 1.
  const scale = Math.sqrt(view[0]! ** 2 + view[1]! ** 2 + view[2]! ** 2);
  return {
    write: (tile, i, _before, out, o) => {
      const { px, py, pz } = reader.tile(tile)!;
      const row = (r: number): number =>
        view[r]! * px[i]! + view[r + 1]! * py[i]! + view[r + 2]! * pz[i]! + view[r + 3]!;
      const depth = row(8);
      const [x, y] = [row(0) / depth, row(4) / depth];
      out.fill(0, o, o + 4);
      if (!(depth > 0 && x >= 0 && y >= 0 && x < width && y < height)) return;
      const code = codesOfTile(surface, tile)![i]!;
      const level = Math.max(0, Math.log2((texels(code >> 2, tile) * scale) / depth));
      sum.fill(0);
      // Half a pixel off the rim: what lies beyond is the other side of the picture.
      const u = Math.min(width - 0.5, Math.max(0.5, x)) / width;
      const v = 1 - Math.min(height - 0.5, Math.max(0.5, y)) / height;
      samplePyramid(pyramid, u, v, level, 1, sum);
      const alpha = sum[3]!;
      if (alpha <= 0) return;
      for (let c = 0; c < 3; c++) out[o + c] = Math.min(255, Math.floor((sum[c]! / alpha) * 255 + 0.5));
      out[o + 3] = Math.min(255, Math.floor(alpha * 255 + 0.5));
    },
  };
}

interface GuardArea {
  readonly subs: () => number[];
  readonly coverageOf: (tile: number) => readonly Float32Array[];
}

/** All that a guard lets through, as coverage. */
function guardArea(desk: PaintDesk, guard: Reach | null): GuardArea {
  const covered = new Map<number, Float32Array[]>();
  return {
    subs: () => {
      if (guard) coverGuard(desk, guard, covered);
      return [...covered.keys()].flatMap((tile) => [0, 1, 2, 3].map((k) => tile * 4 + k));
    },
    coverageOf: (tile) => covered.get(tile) ?? [],
  };
}

function coverGuard({ surface }: PaintDesk, guard: Reach, out: Map<number, Float32Array[]>): void {
  for (const tile of filledTiles(surface)) {
    const codes = codesOfTile(surface, tile)!;
    const values = new Float32Array(TILE_TEXELS);
    let some = false;
    for (let i = 0; i < TILE_TEXELS; i++) {
      if (codes[i]! < 0) continue;
      values[i] = guard.at(tile, i, codes[i]!) / 255;
      some ||= values[i]! > 0;
    }
    if (!some) continue;
    out.set(
      tile,
      [0, 1, 2, 3].map((k) => values.subarray(k * SUB_TEXELS, (k + 1) * SUB_TEXELS)),
    );
  }
}
