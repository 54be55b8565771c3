import { cross, dot, THRESHOLDS } from '../math';
import { INSIDE, SUB_TEXELS, TILE_BYTES, type ChannelTiles } from '../surface';
import type { Dab } from './dab';
import { EvenGrid } from './even-grid';
import type { StrokeRasterizer } from './stroke-rasterizer';
import { ON_TIP } from './tip-dab';

/**
 * Cells along a dab at the most: of a larger one several texels share one. What is evened out over five cells and more has no finer detail.
 */
const MOST_CELLS = { soften: 72, smear: 160 } as const;
const FEWEST_CELLS = 5;

/** A dab evens out over so much of its radius. */
const SOFTER_BY = 0.15;

/** What of a sub-tile is being worked on: colour times alpha and alpha, 0..255, finer than it is kept. */
interface WetSub {
  readonly values: Float32Array;
  changed: boolean;
}

/**
 * Tools that work on the paint that lies there. Each dab lays the surface around it flat, with the paint on it, works on that, and lays
 * the result back: so it goes along the surface, and over seams, by itself.
 */
export class WetPaint {
  private readonly rasterizer: StrokeRasterizer;
  private readonly tool: 'soften' | 'smear';
  private readonly opacity: number;
  private readonly keepAlpha: boolean;
  private readonly plane: ChannelTiles;
  private readonly subs = new Map<number, WetSub>();
  private readonly grid = new EvenGrid();
  /** How a dab covers the sub-tiles that it touches, and where they lie on it. */
  private readonly covered: {
    sub: number;
    codes: Int32Array;
    coverage: Float32Array;
    onTip: Float32Array;
    dab: Dab;
  }[] = [];

  /** @param plane the paint as it was before the stroke */
  constructor(
    rasterizer: StrokeRasterizer,
    how: { readonly tool: 'soften' | 'smear'; readonly opacity: number; readonly keepAlpha: boolean },
    plane: ChannelTiles,
  ) {
    this.rasterizer = rasterizer;
    this.tool = how.tool;
    this.opacity = how.opacity;
    this.keepAlpha = how.keepAlpha;
    this.plane = plane;
  }

  /** @param touched receives the sub-tiles that changed */
  dab(sheet: number, wish: Dab, touched: Set<number>): void {
    const { grid, covered, rasterizer } = this;
    if (this.tool === 'smear' && !wish.move) return;
    covered.length = 0;
    rasterizer.look(sheet, wish, (layerSub, { codes }, coverage, onTip, dab) => {
      if (!coverage.some((w) => w > 0)) return;
      const sub = rasterizer.pixelSub(layerSub);
      covered.push({ sub, codes, coverage: coverage.slice(), onTip: onTip.slice(), dab });
    });
    onePlaceATexel(covered);
    const [first] = covered;
    if (!first) return;
    const across = (2 * first.dab.radius) / rasterizer.surface.sheets[sheet]!.texelLength;
    grid.begin(Math.max(FEWEST_CELLS, Math.min(MOST_CELLS[this.tool], Math.ceil(across) + 1)));
    for (const { sub, codes, onTip } of covered) {
      const { values } = this.open(sub);
      for (let i = 0; i < SUB_TEXELS; i++) {
        const x = onTip[i * ON_TIP]!;
        // Gutter says again what its island's border says.
        if (x === x && (codes[i]! & 3) === INSIDE) grid.put(x, onTip[i * ON_TIP + 1]!, values, i * 4);
      }
    }
    const [back, aside] = this.tool === 'smear' ? wayOnTip(first.dab) : [0, 0];
    if (this.tool === 'soften') grid.blur(SOFTER_BY);
    for (const { sub, coverage, onTip } of covered) {
      if (this.lay(this.open(sub), coverage, onTip, back, aside)) touched.add(sub);
    }
  }

  /** Lays what is on the grid back, so far off. @returns whether anything changed */
  private lay(
    wet: WetSub,
    coverage: Float32Array,
    onTip: Float32Array,
    back: number,
    aside: number,
  ): boolean {
    const { grid, opacity, keepAlpha } = this;
    const { values } = wet;
    let changed = false;
    for (let i = 0; i < SUB_TEXELS; i++) {
      const w = coverage[i]! * opacity;
      if (w === 0 || !grid.at(onTip[i * ON_TIP]! - back, onTip[i * ON_TIP + 1]! - aside)) continue;
      const o = i * 4;
      const alpha = grid.read[3]!;
      // With alpha kept the colour goes over, as much of it as there was before.
      const as = keepAlpha ? (alpha > 0 ? values[o + 3]! / alpha : 0) : 1;
      if (as === 0) continue;
      for (let k = 0; k < 3; k++) values[o + k]! += (grid.read[k]! * as - values[o + k]!) * w;
      if (!keepAlpha) values[o + 3]! += (alpha - values[o + 3]!) * w;
      changed = true;
    }
    wet.changed ||= changed;
    return changed;
  }

  /** A sub-tile as it is by now. */
  private open(sub: number): WetSub {
    let wet = this.subs.get(sub);
    if (wet) return wet;
    const values = new Float32Array(SUB_TEXELS * 4);
    const bytes = this.plane.get(sub >> 2);
    if (bytes) {
      const from = (sub & 3) * SUB_TEXELS * 4;
      for (let o = 0; o < values.length; o += 4) {
        const alpha = bytes[from + o + 3]!;
        for (let k = 0; k < 3; k++) values[o + k] = (bytes[from + o + k]! * alpha) / 255;
        values[o + 3] = alpha;
      }
    }
    wet = { values, changed: false };
    this.subs.set(sub, wet);
    return wet;
  }

  /** A tile as it is by now. @param before as it was before the stroke */
  paint(tile: number, before: Uint8Array, out: Uint8Array): void {
    out.set(before);
    for (let k = 0; k < 4; k++) {
      const wet = this.subs.get(tile * 4 + k);
      if (!wet?.changed) continue;
      const { values } = wet;
      const to = (k * TILE_BYTES) / 4;
      for (let o = 0; o < values.length; o += 4) {
        const alpha = Math.floor(values[o + 3]! + 0.5);
        const up = THRESHOLDS[o / 4]!;
        for (let c = 0; c < 3; c++) {
          const color = alpha > 0 ? (values[o + c]! * 255) / values[o + 3]! : 0;
          out[to + o + c] = Math.max(0, Math.min(255, Math.floor(color + up)));
        }
        out[to + o + 3] = alpha;
      }
    }
  }
}

/** Where a dab covers several places of the same texels, the one that it covers most is worked on. */
function onePlaceATexel(covered: readonly { readonly sub: number; readonly coverage: Float32Array }[]): void {
  const bySub = new Map<number, Float32Array[]>();
  for (const { sub, coverage } of covered) bySub.set(sub, [...(bySub.get(sub) ?? []), coverage]);
  for (const layers of bySub.values()) {
    if (layers.length < 2) continue;
    for (let i = 0; i < SUB_TEXELS; i++) {
      const most = layers.reduce((best, layer, k) => (layer[i]! > layers[best]![i]! ? k : best), 0);
      layers.forEach((layer, k) => k !== most && (layer[i] = 0));
    }
  }
}

/** The way from the dab before on the tip, 1 as long as its radius. */
function wayOnTip(dab: Dab): [along: number, aside: number] {
  const { move, along, normal, radius, flipped } = dab;
  if (!move) return [0, 0];
  const left = cross(normal, along);
  return [dot(move, along) / radius, ((flipped ? -1 : 1) * dot(move, left)) / radius];
}
