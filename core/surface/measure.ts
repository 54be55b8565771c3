import { CoreError } from '../errors';
import {
  faceGeometry,
  findIslandSides,
  sheetCount,
  sheetOfFace,
  type IslandSides,
  type UvMesh,
} from '../mesh';
import { PlaceReader } from './places';
import {
  GUTTER,
  INSIDE,
  MOST_PLACES,
  sheetSpans,
  spannedTiles,
  type MeasuredSheet,
  type SurfaceMap,
} from './surface-map';
import { subTileBounds } from './sub-bounds';
import { SUB, SUB_TEXELS, texelIndex, TILE, TILE_TEXELS, tilesAcross } from './tiling';
import { flatTriangle, layTriangle, wrap, type FlatTriangle } from './triangle-on-sheet';

export interface MeasureOptions {
  /** Where the codes' memory comes from, for example shared memory. */
  readonly allocate?: (bytes: number) => ArrayBufferLike;
  /** Told the part done, 0..1, now and then. */
  readonly onProgress?: (done: number) => void;
}

/** Codes of the tiles that something may lie in, while they are found. */
interface Work {
  readonly mesh: UvMesh;
  /** Of each triangle on the model. */
  readonly areas: Float64Array;
  readonly sides: IslandSides;
  readonly slotOfTile: Int32Array;
  readonly codes: Int32Array;
  readonly further: FurtherPlaces;
}

/** Codes of texels that have several places, but the first of each. */
class FurtherPlaces {
  /** Of each tile its layers, from the second on. */
  private readonly ofTile: Int32Array[][];

  /** @param tiles of a layer */
  constructor(tiles: number) {
    this.ofTile = Array.from({ length: tiles }, () => []);
  }

  /** The codes of a tile in a further layer, made where they aren't there. */
  open(tile: number, layer: number): Int32Array {
    return (this.ofTile[tile]![layer] ??= new Int32Array(TILE_TEXELS).fill(-1));
  }

  /**
   * Puts a place into a layer that is free at a texel.
   *
   * @param wish the layer that is tried first, so that what belongs together stays together
   * @returns the layer; MOST_PLACES where all are taken
   */
  put(tile: number, texel: number, code: number, wish: number): number {
    for (let layer = wish, next = 1; layer < MOST_PLACES; layer = next++) {
      const codes = this.open(tile, layer);
      if (codes[texel]! >= 0) continue;
      codes[texel] = code;
      return layer;
    }
    return MOST_PLACES;
  }

  /** Numbers of tiles among all layers with their codes, in order. */
  all(): [tile: number, codes: Int32Array][] {
    const out: [number, Int32Array][] = [];
    for (let layer = 1; layer < MOST_PLACES; layer++) {
      this.ofTile.forEach((layers, tile) => {
        const codes = layers[layer];
        if (codes?.some((code) => code >= 0)) out.push([tile + layer * this.ofTile.length, codes]);
      });
    }
    return out;
  }
}

/** One sheet's triangles. */
interface SheetWork extends Work {
  readonly size: number;
  readonly firstTile: number;
  readonly faces: readonly number[];
}

/**
 * Measures the surface: every texel whose centre lies in a triangle belongs to that place; every other texel within GUTTER of
 * an island belongs to the island's nearest border point, so that paint and cues reach past every border and no seam can show.
 * Texels that several places share belong to one side of an island as a whole; its twins follow in further layers. UVs outside 0..1 wrap around, as textures do.
 *
 * @param sizes texels a side of each sheet, of SHEET_SIZES; a number where there is one sheet
 * @throws CoreError `bad-argument` if parts lie on a sheet that has no size
 */
export function measureSurface(
  mesh: UvMesh,
  sizes: number | readonly number[],
  options: MeasureOptions = {},
): SurfaceMap {
  const spans = sheetSpans(typeof sizes === 'number' ? [sizes] : sizes);
  if (sheetCount(mesh) > spans.length) {
    throw new CoreError(
      'bad-argument',
      `The model's parts lie on ${sheetCount(mesh)} sheets, but ${spans.length} are there. Put them on one of those.`,
    );
  }
  const progress = options.onProgress ?? (() => undefined);
  const sides = findIslandSides(mesh);
  progress(0.2);
  const facesOfSheet = spans.map((): number[] => []);
  // Side by side, so that of those that share texels one has all of them.
  for (const f of inOrder(sides)) facesOfSheet[sheetOfFace(mesh, f)]!.push(f);

  const slotOfTile = new Int32Array(spannedTiles(spans)).fill(-1);
  spans.forEach((span, s) => markTiles(mesh, span, facesOfSheet[s]!, slotOfTile));
  let marked = 0;
  slotOfTile.forEach((slot, tile) => {
    if (slot >= 0) slotOfTile[tile] = marked++;
  });
  const { areas } = faceGeometry(mesh);
  const codes = new Int32Array(marked * TILE_TEXELS).fill(-1);
  const further = new FurtherPlaces(slotOfTile.length);
  const work: Work = { mesh, areas, sides, slotOfTile, codes, further };
  progress(0.3);
  const twinOf = Uint32Array.from({ length: sides.count }, (_, side) => side);
  const sheets = spans.map((span, s): MeasuredSheet => {
    const sheet: SheetWork = { ...work, ...span, faces: facesOfSheet[s]! };
    const { covered, overlapped, area, flatArea, layers, twins } = fillTriangles(sheet);
    for (const [side, first] of twins) twinOf[side] = twinOf[first]!;
    progress(0.3 + (0.5 * (s + 0.5)) / spans.length);
    fillGutter(sheet, layers);
    progress(0.3 + (0.5 * (s + 1)) / spans.length);
    return {
      ...span,
      coveredTexels: covered,
      overlappedTexels: overlapped,
      texelLength: flatArea > 0 ? Math.sqrt(area / flatArea) : 0,
    };
  });
  const bare = {
    mesh,
    sheets,
    ...withoutEmptyTiles(work, options.allocate ?? ((bytes) => new ArrayBuffer(bytes))),
    islandOfFace: sides.ofFace,
    twinOf,
    islands: sides.islands,
    coveredTexels: sheets.reduce((sum, s) => sum + s.coveredTexels, 0),
    overlappedTexels: sheets.reduce((sum, s) => sum + s.overlappedTexels, 0),
  };
  return { ...bare, subBounds: subTileBounds(bare, new PlaceReader(bare)) };
}

/** Marks (by 0) every tile that a triangle with its gutter may touch. */
function markTiles(
  mesh: UvMesh,
  { size, firstTile }: { readonly size: number; readonly firstTile: number },
  faces: readonly number[],
  slotOfTile: Int32Array,
): void {
  const across = tilesAcross(size);
  const flat = flatTriangle();
  const tileAt = (texels: number): number => Math.floor(texels / TILE);
  for (const f of faces) {
    if (!layTriangle(mesh, f, size, flat)) continue;
    const [x0, y0, x1, y1, x2, y2] = flat.at as unknown as [number, number, number, number, number, number];
    const last = flat.stays ? across - 1 : Infinity;
    const first = flat.stays ? 0 : -Infinity;
    const left = Math.max(first, tileAt(Math.min(x0, x1, x2) - GUTTER - 1));
    const right = Math.min(last, tileAt(Math.max(x0, x1, x2) + GUTTER + 1));
    const top = Math.max(first, tileAt(Math.min(y0, y1, y2) - GUTTER - 1));
    const bottom = Math.min(last, tileAt(Math.max(y0, y1, y2) + GUTTER + 1));
    for (let y = top; y <= bottom; y++) {
      for (let x = left; x <= right; x++)
        slotOfTile[firstTile + wrap(y, across) * across + wrap(x, across)] = 0;
    }
  }
}

/** All layers, without the tiles in which nothing was found after all. */
function withoutEmptyTiles(
  { slotOfTile, codes, further }: Work,
  allocate: (bytes: number) => ArrayBufferLike,
): Pick<SurfaceMap, 'slotOfTile' | 'codes'> {
  const filled: [tile: number, codes: Int32Array][] = [];
  slotOfTile.forEach((slot, tile) => {
    if (slot < 0) return;
    const own = codes.subarray(slot * TILE_TEXELS, (slot + 1) * TILE_TEXELS);
    if (own.some((code) => code >= 0)) filled.push([tile, own]);
  });
  filled.push(...further.all());
  const layers = 1 + Math.floor((filled.at(-1)?.[0] ?? 0) / slotOfTile.length);
  const kept = new Int32Array(allocate(filled.length * TILE_TEXELS * 4));
  const slots = new Int32Array(allocate(layers * slotOfTile.length * 4)).fill(-1);
  filled.forEach(([tile, own], i) => {
    kept.set(own, i * TILE_TEXELS);
    slots[tile] = i;
  });
  return { slotOfTile: slots, codes: kept };
}

/** Triangles side by side, within a side in their own order. */
function inOrder({ ofFace, count }: IslandSides): number[] {
  const lists = Array.from({ length: count }, (): number[] => []);
  ofFace.forEach((side, f) => lists[side]!.push(f));
  return lists.flat();
}

/** The texel of a tile's codes that texel (x, y) of its sheet is, and that tile. */
function tileTexel(
  { size, firstTile }: SheetWork,
  x: number,
  y: number,
): readonly [tile: number, texel: number] {
  const i = texelIndex(size, x, y);
  return [firstTile + (i >> 12), i & (TILE_TEXELS - 1)];
}

/** Where the code of texel (x, y) of the sheet stands. */
function codeIndex(work: SheetWork, x: number, y: number): number {
  const [tile, texel] = tileTexel(work, x, y);
  return work.slotOfTile[tile]! * TILE_TEXELS + texel;
}

interface Filled {
  readonly covered: number;
  readonly overlapped: number;
  /** Of the triangles on the model, and on the sheet in texels. */
  readonly area: number;
  readonly flatArea: number;
  /** In which layer of places most of a side lies. */
  readonly layers: ReadonlyMap<number, number>;
  /** Sides that lie where another one does, and which. */
  readonly twins: ReadonlyMap<number, number>;
}

function fillTriangles(work: SheetWork): Filled {
  const { mesh, areas, size, codes, faces, slotOfTile, firstTile, further } = work;
  const across = tilesAcross(size);
  const seenTwice = new Set<number>();
  const shares = new Map<number, Share>();
  let share: Share = { texels: [0], under: new Map() };
  let side = -1;
  const flat = flatTriangle();
  let covered = 0;
  let area = 0;
  let flatArea = 0;
  for (const f of faces) {
    if (!layTriangle(mesh, f, size, flat)) continue;
    const [x0, y0, x1, y1, x2, y2] = flat.at as unknown as [number, number, number, number, number, number];
    const doubled = (x1 - x0) * (y2 - y0) - (y1 - y0) * (x2 - x0);
    if (doubled === 0) continue;
    if (work.sides.ofFace[f] !== side) {
      side = work.sides.ofFace[f]!;
      shares.set(side, (share = shares.get(side) ?? { texels: [0], under: new Map() }));
    }
    const sign = doubled > 0 ? 1 : -1;
    const inverse = 1 / doubled;
    // A centre exactly on an edge belongs to the triangle that has the edge at its top or left.
    const owns = (dx: number, dy: number): boolean => sign * dy < 0 || (dy === 0 && sign * dx > 0);
    const own0 = owns(x2 - x1, y2 - y1);
    const own1 = owns(x0 - x2, y0 - y2);
    const own2 = owns(x1 - x0, y1 - y0);
    const left = Math.ceil(Math.min(x0, x1, x2) - 0.5);
    const right = Math.floor(Math.max(x0, x1, x2) - 0.5);
    const top = Math.ceil(Math.min(y0, y1, y2) - 0.5);
    const bottom = Math.floor(Math.max(y0, y1, y2) - 0.5);
    for (let y = top; y <= bottom; y++) {
      const cy = y + 0.5;
      // What is the same along the row: of the three edges, and of where texels stand.
      const row0 = (x2 - x1) * (cy - y1);
      const row1 = (x0 - x2) * (cy - y2);
      const row2 = (x1 - x0) * (cy - y0);
      const ty = flat.stays ? y : wrap(y, size);
      const rowTile = firstTile + (ty >> 6) * across;
      const rowStart = ((ty >> 5) & 1) * 2 * SUB_TEXELS + (ty & 31) * SUB;
      for (let x = left; x <= right; x++) {
        const cx = x + 0.5;
        const w0 = (row0 - (y2 - y1) * (cx - x1)) * inverse;
        const w1 = (row1 - (y0 - y2) * (cx - x2)) * inverse;
        const w2 = (row2 - (y1 - y0) * (cx - x0)) * inverse;
        if (w0 < 0 || w1 < 0 || w2 < 0) continue;
        if ((w0 === 0 && !own0) || (w1 === 0 && !own1) || (w2 === 0 && !own2)) continue;
        const tx = flat.stays ? x : wrap(x, size);
        const i =
          slotOfTile[rowTile + (tx >> 6)]! * TILE_TEXELS +
          rowStart +
          ((tx >> 5) & 1) * SUB_TEXELS +
          (tx & 31);
        if (codes[i]! >= 0) {
          seenTwice.add(i);
          const { texels, under } = share;
          const first = work.sides.ofFace[codes[i]! >> 2]!;
          under.set(first, (under.get(first) ?? 0) + 1);
          const wish = Math.min(MOST_PLACES - 1, Math.max(1, texels.length - 1));
          const layer = further.put(rowTile + (tx >> 6), i & (TILE_TEXELS - 1), f * 4 + INSIDE, wish);
          texels[layer] = (texels[layer] ?? 0) + 1;
        } else {
          codes[i] = f * 4 + INSIDE;
          share.texels[0]!++;
          covered++;
        }
      }
    }
    area += areas[f]!;
    flatArea += Math.abs(doubled) / 2;
  }
  const layers = new Map([...shares].map(([s, { texels }]) => [s, indexOfMost(texels)]));
  return { covered, overlapped: seenTwice.size, area, flatArea, layers, twins: twinsAmong(shares) };
}

/** Where a side lies. */
interface Share {
  /** How many of its texels lie in each layer of places. */
  readonly texels: number[];
  /** How many of them belong to another side first. */
  readonly under: Map<number, number>;
}

/** Of two sides that are twins so much lies on one another: their borders may run through other texels. */
const TWINS_SHARE = 0.85;

function twinsAmong(shares: ReadonlyMap<number, Share>): Map<number, number> {
  const all = ({ texels }: Share): number => texels.reduce((sum, n) => sum + (n ?? 0), 0);
  const out = new Map<number, number>();
  for (const [side, share] of shares) {
    for (const [first, common] of share.under) {
      const other = shares.get(first);
      if (first !== side && other && common >= TWINS_SHARE * Math.max(all(share), all(other)))
        out.set(side, first);
    }
  }
  return out;
}

/** The place of the largest number; holes count as 0. */
const indexOfMost = (list: readonly number[]): number =>
  list.reduce((best, n, i) => ((n ?? 0) > (list[best] ?? 0) ? i : best), 0);

/** Twins' borders may lie so far apart by rounding, squared texels. */
const SAME_BORDER = 1e-3;

/** Gives the texels around the islands the nearest border edge; what has a twin there, in the layer in which most of its side lies. */
function fillGutter(work: SheetWork, layers: ReadonlyMap<number, number>): void {
  const { mesh, size, codes, sides, further } = work;
  const { borders } = sides;
  const nearest = new Float32Array(codes.length).fill(GUTTER * GUTTER);
  const flat: FlatTriangle = flatTriangle();
  const layerOf = (f: number): number => layers.get(sides.ofFace[f]!) ?? 0;
  const faces = layers.size ? [...work.faces].sort((a, b) => layerOf(a) - layerOf(b)) : work.faces;
  /** How near the nearest border of further layers is. */
  const twins = new Map<Int32Array, Float32Array>();
  for (const f of faces) {
    let laid = false;
    const layer = layerOf(f);
    // What is stacked too high has no place of its own.
    if (layer === MOST_PLACES) break;
    for (let k = 0; k < 3; k++) {
      if (!borders[f * 3 + k]) continue;
      if (!laid && !layTriangle(mesh, f, size, flat)) break;
      laid = true;
      const { at, stays } = flat;
      const next = (k + 1) % 3;
      const ax = at[k * 2]!;
      const ay = at[k * 2 + 1]!;
      const dx = at[next * 2]! - ax;
      const dy = at[next * 2 + 1]! - ay;
      const squared = dx * dx + dy * dy;
      const left = Math.floor(Math.min(ax, ax + dx) - GUTTER);
      const right = Math.ceil(Math.max(ax, ax + dx) + GUTTER);
      const top = Math.floor(Math.min(ay, ay + dy) - GUTTER);
      const bottom = Math.ceil(Math.max(ay, ay + dy) + GUTTER);
      for (let y = top; y <= bottom; y++) {
        for (let x = left; x <= right; x++) {
          if (stays && (x < 0 || y < 0 || x >= size || y >= size)) continue;
          const qx = x + 0.5 - ax;
          const qy = y + 0.5 - ay;
          let s = squared > 0 ? (qx * dx + qy * dy) / squared : 0;
          s = s < 0 ? 0 : s > 1 ? 1 : s;
          const ex = qx - dx * s;
          const ey = qy - dy * s;
          const d2 = ex * ex + ey * ey;
          if (d2 >= GUTTER * GUTTER) continue;
          const i = codeIndex(work, wrap(x, size), wrap(y, size));
          const code = codes[i]!;
          if (code >= 0 && (code & 3) === INSIDE) continue;
          if (layer === 0 ? d2 < nearest[i]! : d2 < nearest[i]! - SAME_BORDER) {
            nearest[i] = d2;
            codes[i] = f * 4 + k;
          } else if (layer > 0 && d2 <= nearest[i]! + SAME_BORDER) {
            const [tile, texel] = tileTexel(work, wrap(x, size), wrap(y, size));
            const own = further.open(tile, layer);
            let near = twins.get(own);
            if (!near) twins.set(own, (near = new Float32Array(TILE_TEXELS).fill(GUTTER * GUTTER)));
            if ((own[texel]! >= 0 && (own[texel]! & 3) === INSIDE) || d2 >= near[texel]!) continue;
            near[texel] = d2;
            own[texel] = f * 4 + k;
          }
        }
      }
    }
  }
}
