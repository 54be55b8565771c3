import type { SurfacePoint } from '../mesh';
import type { ModelLinks } from '../follow';
import {
  codeAt,
  isCovered,
  layersOfTile,
  PlaceReader,
  ChannelSampler,
  texelIndex,
  texelPosition,
  TILE,
  TILE_TEXELS,
  type SurfaceMap,
} from '../surface';

/** An island of the model as it was that loses paint. */
export interface DamagedIsland {
  readonly part: string;
  /** One of its triangles. */
  readonly face: number;
  /** Which part of its painted places is bare, or looks quite otherwise, 0..1. */
  readonly lost: number;
}

/** What carrying over has changed, over the painted places: largest channel difference, 0..255. */
export interface CarryLoss {
  readonly mean: number;
  /** 99 of 100 painted places differ by no more. */
  readonly most: number;
  /** Places compared. */
  readonly places: number;
  /** Which part of them is bare now, or looks quite otherwise, 0..1. */
  readonly lost: number;
  /** The part of the model that most of those lie on; null where there are none. */
  readonly worst: string | null;
  /** Islands that lose more than the edges of what is painted on them, the worst first. */
  readonly damaged: readonly DamagedIsland[];
}

/** Differences of compared places, and how many of them look otherwise by more than the edge of paint that lies a texel beside. */
export interface Differences {
  readonly all: number[];
  lost: number;
  /** The same by island of the model as it was. */
  readonly islands: Map<number, IslandPlaces>;
}

interface IslandPlaces {
  readonly part: string;
  readonly face: number;
  places: number;
  lost: number;
}

export const noDifferences = (): Differences => ({ all: [], lost: 0, islands: new Map() });

/** An island is damaged where so many of its compared places are lost, and which part of them. */
const DAMAGED_PLACES = 20;
const DAMAGED_SHARE = 0.1;

/** A place that differs by more doesn't look as it did. */
const OTHERWISE = 64;

/** Places of the old sheet that are compared at the most. */
const COMPARED = 120_000;

/**
 * Compares old texels with the new plane at the same places of the surface.
 *
 * @param links how places of the old model are found on the new one; null where triangles of the same number are the same place
 * @param kept parts whose texels stay where they are
 * @param out receives a difference a place; where no place is found, all that was there
 */
export function collectDifferences(
  from: SurfaceMap,
  to: SurfaceMap,
  before: ReadonlyMap<number, Uint8Array>,
  after: ReadonlyMap<number, Uint8Array>,
  links: ModelLinks | null,
  out: Differences,
  kept?: ReadonlySet<number>,
): void {
  const sampler = new ChannelSampler(to, after);
  const reader = new PlaceReader(from);
  const place: SurfacePoint = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };
  const stride = Math.max(1, Math.ceil((before.size * TILE_TEXELS) / COMPARED));
  // Every place that showed a texel, also where several did.
  const layers = [...before].flatMap(([pixels, bytes]) =>
    layersOfTile(from, pixels).map((tile) => [tile, bytes] as const),
  );
  for (const [tile, bytes] of layers) {
    for (let k = 0; k < TILE_TEXELS; k += stride) {
      const texel = tile * TILE_TEXELS + k;
      const alpha = bytes[k * 4 + 3]! / 255;
      if (alpha === 0 || !isCovered(from, texel)) continue;
      const island = placesOf(from, codeAt(from, texel) >> 2, out);
      island.places++;
      if (kept?.has(from.mesh.faceParts[codeAt(from, texel) >> 2]!)) {
        out.all.push(0);
        continue;
      }
      sampler.begin();
      if (!links) {
        reader.locate(texel, place);
        sampler.add(place);
      } else {
        const at = reader.tile(tile)!;
        const part = from.mesh.faceParts[codeAt(from, texel) >> 2]!;
        if (links.find(part, at.px[k]!, at.py[k]!, at.pz[k]!, place)) sampler.add(place);
      }
      const now = sampler.finish() ? sampler.rgba : null;
      const difference = differs(bytes, k, now);
      out.all.push(difference);
      if (!(difference > OTHERWISE) || isBeside(bytes, k, now)) continue;
      out.lost++;
      island.lost++;
    }
  }
}

/** What is counted on the island of a triangle. */
function placesOf({ mesh, islandOfFace }: SurfaceMap, face: number, { islands }: Differences): IslandPlaces {
  const island = islandOfFace[face]!;
  let known = islands.get(island);
  if (!known) {
    known = { part: mesh.parts[mesh.faceParts[face]!]!, face, places: 0, lost: 0 };
    islands.set(island, known);
  }
  return known;
}

/** @returns the largest difference of a channel or of alpha, colours by what covers */
function differs(bytes: Uint8Array, texel: number, now: ArrayLike<number> | null): number {
  const alpha = bytes[texel * 4 + 3]!;
  const nowAlpha = now?.[3] ?? 0;
  let difference = Math.abs(alpha - nowAlpha);
  for (let c = 0; c < 3; c++) {
    const is = now ? now[c]! * nowAlpha : 0;
    difference = Math.max(difference, Math.abs(bytes[texel * 4 + c]! * alpha - is) / 255);
  }
  return difference;
}

/** Whether what is there now was there before, at most a texel beside: edges of paint fall between texels anew on another layout. */
function isBeside(bytes: Uint8Array, texel: number, now: ArrayLike<number> | null): boolean {
  const [x, y] = texelPosition(TILE, texel);
  for (let v = Math.max(0, y - 1); v <= Math.min(TILE - 1, y + 1); v++)
    for (let u = Math.max(0, x - 1); u <= Math.min(TILE - 1, x + 1); u++)
      if (differs(bytes, texelIndex(TILE, u, v), now) <= OTHERWISE) return true;
  return false;
}

/** Figures of differences, one a place. */
export function summarise({ all, lost, islands }: Differences): CarryLoss {
  const sorted = Float64Array.from(all).sort();
  const n = sorted.length;
  return {
    mean: n ? sorted.reduce((a, b) => a + b, 0) / n : 0,
    most: n ? sorted[Math.min(n - 1, Math.floor(n * 0.99))]! : 0,
    places: n,
    lost: n ? lost / n : 0,
    worst: worstPart(islands.values()),
    damaged: [...islands.values()]
      .filter((i) => i.lost >= DAMAGED_PLACES && i.lost >= DAMAGED_SHARE * i.places)
      .sort((a, b) => b.lost - a.lost)
      .map(({ part, face, places, lost }) => ({ part, face, lost: lost / places })),
  };
}

/** The part that most lost places lie on; null where there are none. */
function worstPart(islands: Iterable<IslandPlaces>): string | null {
  const lost = new Map<string, number>();
  for (const island of islands) lost.set(island.part, (lost.get(island.part) ?? 0) + island.lost);
  let worst: string | null = null;
  for (const [part, n] of lost) if (n > (worst === null ? 0 : lost.get(worst)!)) worst = part;
  return worst;
}
