import { linearSrgbToOklab, linearToSrgb, oklabToLinearSrgb, srgbToLinear } from '../color';
import type { TileSource } from '../composite';
import { clamp01 } from '../math';
import { sheetOfFace } from '../mesh';
import {
  flatTriangle,
  layTriangle,
  texelOnSheet,
  TILE_TEXELS,
  type PlaceReader,
  type SurfaceMap,
} from '../surface';
import type { Brushwork } from './brushwork';
import type { LaidStrokes } from './set-strokes';

/** What a layer has and how much of it shows on a texel: r, g, b, a, each 0..1. */
type Sample = (texel: number, out: Float64Array) => void;

/** What strokes take their colours from. */
export interface StrokeSurface {
  readonly surface: SurfaceMap;
  readonly places: PlaceReader;
  /** The smooth layer on a tile. */
  source(tile: number): TileSource | null;
  /** How much of it shows, 0..65535 a texel; null: all. */
  mask(tile: number): Uint16Array | null;
}

export type Color = readonly [r: number, g: number, b: number, a: number];

/** The colours of strokes: those of the smooth layer at their middles, each a little off. */
export class StrokeColors {
  private readonly strokes: LaidStrokes;
  private readonly how: Brushwork;
  private readonly ground: StrokeSurface;
  private readonly known: (Color | null | undefined)[] = [];
  /** The texel at each stroke's middle, and the strokes of each tile. */
  private readonly texel: Int32Array;
  private readonly ofTile = new Map<number, number[]>();

  constructor(strokes: LaidStrokes, how: Brushwork, ground: StrokeSurface) {
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
export function sampleOf(source: TileSource | null, mask: Uint16Array | null): Sample {
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
