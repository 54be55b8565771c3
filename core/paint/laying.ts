import { hexToRgb, oklchToRgb, rgbToOklch } from '../color';
import type { MeshPlace } from '../mesh';
import type { RegionShape } from '../region';
import {
  codesOfTile,
  filledTiles,
  PlaceReader,
  PlaneSampler,
  SUB_TEXELS,
  TILE_TEXELS,
  type PlaneTiles,
} from '../surface';
import type { Dab } from './dab';
import type { PaintDesk, StrokeKernels } from './paint-desk';
import { hasShades, type BrushShape } from './brush';
import { shadesOf } from './shades';
import type { BrushedStyle, StyleOf, ToolName } from './stroke';
import { ThroughCoverage, type TexelColors } from './through';
import { WetPaint } from './wet';

/** What a stroke is made with and on. */
export interface LayingGround {
  readonly desk: PaintDesk;
  readonly kernels: StrokeKernels;
  readonly keepAlpha: boolean;
  readonly guard: RegionShape | null;
  /** The paint as it was before the stroke. */
  readonly plane: PlaneTiles;
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
  copy: (style, ground) => through(style, ground, copied(style, ground)),
  fill: ({ color, erase, opacity }, { desk, kernels, keepAlpha, guard }) => {
    const paint = { color: hexToRgb(color), opacity, erase, keepAlpha };
    const covered = new Map<number, Float32Array[]>();
    return {
      covers: () => {
        if (guard) coverGuard(desk, guard, covered);
        return [...covered.keys()].flatMap((tile) => [0, 1, 2, 3].map((k) => tile * 4 + k));
      },
      dab: () => undefined,
      paint: (tile, before, out) => kernels.stroke(before, covered.get(tile) ?? [], out, paint),
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

function through(
  { opacity, brush }: Pick<BrushedStyle, 'opacity' | 'brush'>,
  { desk, keepAlpha }: LayingGround,
  colors: TexelColors,
): Laying {
  const paint = new ThroughCoverage(colors, { opacity: brush.builds ? 1 : opacity, keepAlpha });
  return {
    dab: (sheet, dab, touched) => desk.dab(sheet, dab, touched),
    paint: (tile, before, out) => paint.paint(tile, before, desk.coverageOf(tile), out),
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

/** What the plane had where `from` leads to. */
function copied({ from }: StyleOf<'copy'>, { desk, plane }: LayingGround): TexelColors {
  const { surface } = desk;
  const { closest } = desk.open();
  const reader = new PlaceReader(surface);
  const sampler = new PlaneSampler(surface, plane);
  const place: MeshPlace = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };
  return {
    write: (tile, i, _before, out, o) => {
      const { px, py, pz } = reader.tile(tile)!;
      const row = (r: number): number =>
        from[r]! * px[i]! + from[r + 1]! * py[i]! + from[r + 2]! * pz[i]! + from[r + 3]!;
      closest.find(row(0), row(4), row(8), place);
      sampler.begin();
      sampler.add(place);
      if (sampler.finish()) out.set(sampler.rgba, o);
      else out.fill(0, o, o + 4);
    },
  };
}

function coverGuard({ surface }: PaintDesk, guard: RegionShape, out: Map<number, Float32Array[]>): void {
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
