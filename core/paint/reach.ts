import { likeness } from '../color';
import {
  codesOfTile,
  pixelTile,
  PlaceReader,
  TILE_TEXELS,
  type Places,
  type ChannelTiles,
  type SurfaceMap,
} from '../surface';
import { compose, inverse, placeDirection, type Placing } from '../math';
import { SeenParts, type SeenFrom } from './seen';
import type { HeldStyle } from './stroke-fields';

/** What holds a stroke back, texel by texel: a region is one. */
export interface Reach {
  /** How much of a texel may be changed, 0..255, by its number in the tile and its code. */
  at(tile: number, texel: number, code: number): number;
}

type Held = HeldStyle;

interface Ground {
  /** Region that holds it; null for everywhere. */
  readonly guard: Reach | null;
  /** What takes the stroke's space to the model, once for each copy of the stroke. */
  readonly copies: readonly Placing[];
  /** The paint as it was before the stroke. */
  readonly plane: ChannelTiles;
}

/** Alpha below which a texel counts as having nothing. */
const NOTHING = 8;

/** Views that are kept with what they see, so that the next stroke from there need not look again. */
const KEPT = 3;

/** Puts together all that holds strokes back on one surface. What was reckoned for the same view and region is the same object. */
export class Reaches {
  private readonly surface: SurfaceMap;
  private readonly reader: PlaceReader;
  private readonly seen = new Map<string, Reach>();
  private joined: { readonly guard: Reach; readonly seen: Reach; readonly both: Reach } | null = null;

  constructor(surface: SurfaceMap, reader: PlaceReader) {
    this.surface = surface;
    this.reader = reader;
  }

  /** Null where nothing holds it back. */
  of({ seen, like }: Held, { guard, copies, plane }: Ground): Reach | null {
    let reach = guard;
    if (seen) {
      const from = this.seenFrom(seen, copies);
      if (!reach) reach = from;
      else if (this.joined?.guard === reach && this.joined.seen === from) reach = this.joined.both;
      else {
        this.joined = { guard: reach, seen: from, both: both(reach, from) };
        reach = this.joined.both;
      }
    }
    if (!like) return reach;
    const alike = likeReach(like, plane, this.surface);
    return reach ? both(reach, alike) : alike;
  }

  /** What is seen, from where it was looked at or from where a copy of the eye stands. */
  private seenFrom(from: NonNullable<Held['seen']>, copies: readonly Placing[]): Reach {
    const name = JSON.stringify([from, copies]);
    let known = this.seen.get(name);
    if (known) return known;
    const { mesh, slotOfTile } = this.surface;
    const eyes = copies.map((copy) => new SeenParts(mesh, movedEye(from, copy)));
    const tiles = new Map<number, Uint8Array>();
    const ofTile = (tile: number): Uint8Array => {
      let values = tiles.get(tile);
      if (values) return values;
      const places = this.reader.tile(tile)!;
      const codes = codesOfTile(this.surface, tile)!;
      values = Uint8Array.from({ length: TILE_TEXELS }, (_, i) =>
        codes[i]! < 0 ? 0 : seenBy(eyes, places, i),
      );
      tiles.set(tile, values);
      return values;
    };
    known = { at: (tile, texel) => (slotOfTile[tile]! < 0 ? 0 : ofTile(tile)[texel]!) };
    if (this.seen.size >= KEPT) this.seen.delete(this.seen.keys().next().value!);
    this.seen.set(name, known);
    return known;
  }
}

/** How much of a texel the eyes see, whichever sees most, 0..255. */
function seenBy(eyes: readonly SeenParts[], { px, py, pz, nx, ny, nz }: Places, i: number): number {
  const p = [px[i]!, py[i]!, pz[i]!] as const;
  const n = [nx[i]! / 32767, ny[i]! / 32767, nz[i]! / 32767] as const;
  let most = 0;
  for (const eye of eyes) most = Math.max(most, eye.at(p, n));
  return Math.round(255 * most);
}

/** The same look from where a copy of the eye stands. */
const movedEye = ({ view, eye, hidden }: SeenFrom, copy: Placing): SeenFrom => ({
  view: compose([...view], inverse(copy)),
  eye: placeDirection(eye, copy),
  hidden,
});

/** What of a plane is like a colour. */
function likeReach(
  { rgba, tolerance }: NonNullable<Held['like']>,
  plane: ChannelTiles,
  { sheets }: SurfaceMap,
): Reach {
  const [r, g, b, a] = rgba as [number, number, number, number];
  const isEmpty = a < NOTHING;
  const like = likeness(r | (g << 8) | (b << 16), tolerance);
  return {
    at: (tile, texel) => {
      const bytes = plane.get(pixelTile(sheets, tile));
      const o = texel * 4;
      const alpha = bytes ? bytes[o + 3]! : 0;
      // Nothing is only like nothing; what covers in part is like both, by how much it covers.
      if (isEmpty) return 255 - alpha;
      if (!bytes || alpha < NOTHING) return 0;
      return like(bytes[o]! | (bytes[o + 1]! << 8) | (bytes[o + 2]! << 16));
    },
  };
}

const both = (a: Reach, b: Reach): Reach => ({
  at: (tile, texel, code) => {
    const first = a.at(tile, texel, code);
    return first === 0 ? 0 : Math.round((first * b.at(tile, texel, code)) / 255);
  },
});
