import { hullLength, spanOf } from '../bezier';
import { mix, type Vec3 } from '../../math';
import { closeLine, insertPoint } from '../edit';
import { fitCurves } from '../fit';
import type { InkSurface } from '../ink-surface';
import { MOST_LINES, MOST_POINTS, pointCount, spanCount, type InkLine } from '../line';
import { chainLength, type Chain } from './chains';
import { contourLines } from './contours';
import { borderLines, creaseLines } from './edge-lines';
import { foldLines } from './folds';
import { hatchingLines } from './hatching';
import type { OwnLines } from './own-spec';

/** What lines that the form draws by itself are made from. */
export interface OwnCueSurface {
  readonly ground: InkSurface;
  readonly islandOfFace: Uint32Array;
  /** Of the model. */
  readonly diagonal: number;
  /** Triangles of a region, 0 or more a triangle; null if it isn't there. */
  region(id: number): Uint8Array | null;
  /** A cue at a place of a triangle, 0..1; null while it isn't measured. */
  cue(spec: NonNullable<OwnLines['width']>['cue']): ((face: number, at: Vec3) => number) | null;
}

/** How far a smooth line may stray, parts of the diagonal: at the least, and at the most. */
const STRAY = [1e-4, 1.2e-2] as const;

/** Where the width follows a cue, points are no further from one another than this part of the diagonal. */
const APART = 0.04;

/** Lines that the form draws by itself, numbered in order. */
export function ownLines(own: OwnLines, of: OwnCueSurface): InkLine[] {
  const { ground, diagonal } = of;
  const tolerance = diagonal * mix(STRAY[0], STRAY[1], own.smooth * own.smooth);
  const shortest = own.shortest * diagonal;
  const lines: InkLine[] = [];
  for (const chain of chainsFor(own, of)) {
    if (chain.points.length < 2 || chainLength(chain) < shortest) continue;
    const fitted = fitChain(chain, tolerance);
    if (!fitted) continue;
    const { style } = own;
    const id = lines.length;
    // No two lines stray alike.
    const line: InkLine = { ...fitted, id, style: { ...style, seed: (style.seed + id * 7919) % 2 ** 31 } };
    lines.push(withWidths(line, own, of, ground));
    if (lines.length === MOST_LINES) break;
  }
  return lines;
}

function chainsFor(own: OwnLines, of: OwnCueSurface): Chain[] {
  const { ground, diagonal } = of;
  const { from } = own;
  switch (from.along) {
    case 'borders': {
      const regions = from.regions.map((id) => of.region(id)).filter((faces) => faces !== null);
      return borderLines(from, ground, of.islandOfFace, regions);
    }
    case 'creases':
      return creaseLines(from, ground);
    case 'contours':
      return contourLines(from, ground);
    case 'folds':
      return foldLines(from, ground, diagonal);
    case 'hatching': {
      const tone = of.cue(from.tone);
      if (!tone) return [];
      const wide = Math.max(1e-6, from.high - from.low);
      const dark = (face: number, at: Vec3): number => {
        const t = Math.min(1, Math.max(0, (tone(face, at) - from.low) / wide));
        return from.invert ? t : 1 - t;
      };
      return hatchingLines(from, ground, dark, own.style.seed, diagonal);
    }
  }
}

function fitChain({ points, closed }: Chain, tolerance: number): Omit<InkLine, 'id' | 'style'> | null {
  const at = closed ? [...points, points[0]!] : points;
  const line = fitCurves({ at, press: at.map(() => 1) }, tolerance);
  if (!line || line.press.length > MOST_POINTS) return null;
  const open = { ...line, closed: false };
  return closed && pointCount(open) > 3 ? closeLine(open, true) : open;
}

/** As wide at each point as its cue says. */
function withWidths(
  line: InkLine,
  { width }: OwnLines,
  { cue, diagonal }: OwnCueSurface,
  ground: InkSurface,
): InkLine {
  const values = width && cue(width.cue);
  if (!width || !values) return line;
  let dense = line;
  for (let span = 0; span < spanCount(dense) && pointCount(dense) < MOST_POINTS;) {
    if (hullLength(spanOf(dense, span)) > APART * diagonal) dense = insertPoint(dense, span, 0.5);
    else span++;
  }
  const press = dense.press.map((_, i) => {
    const { face, at } = ground.nearest([dense.at[i * 3]!, dense.at[i * 3 + 1]!, dense.at[i * 3 + 2]!]);
    const value = values(face, at);
    return mix(1, width.least, width.invert ? 1 - value : value);
  });
  return { ...dense, press };
}
