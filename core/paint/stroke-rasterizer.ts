import { HeldTiles } from './held-tiles';
import type { StrokeKernels } from './stroke-kernels';
import type { Picture } from '../formats';
import { type Vec3 } from '../math';
import {
  backdropsOf,
  frameOfBackdrop,
  liesOn,
  diagonalOf,
  subjectBounds,
  type SurfacePoint,
  sheetOfFace,
  type Topology,
  topologyOf,
  type Twins,
  twinVertices,
  type BackdropFrame,
  surfaceFinders,
  type SurfaceFinders,
} from '../mesh';
import {
  layersOfTile,
  PlaceReader,
  SUB,
  SUB_TEXELS,
  spannedTiles,
  SubTileFinder,
  tileCount,
  tilesAcross,
  type SurfaceMap,
} from '../surface';
import { PLAIN_BRUSH, type BrushShape } from './brush';
import { onSheetAt } from './on-sheet';
import { Reaches, type Reach } from './reach';
import type { Dab } from './dab';
import {
  dabReach,
  isPlainBall,
  layTip,
  ON_TIP,
  tipWork,
  type LaidFlat,
  type TipSlot,
  type TipWork,
} from './tip-dab';

/** Where a stroke becomes coverage of texels: which sub-tiles each of its dabs touches, and how much of every texel. */
export class StrokeRasterizer {
  readonly surface: SurfaceMap;
  /** Where strokes on the same surface at rest are made. */
  readonly rest: StrokeRasterizer;
  private readonly kernels: StrokeKernels;
  private readonly finder: SubTileFinder;
  private readonly tiles: HeldTiles;
  private readonly found: number[] = [];
  private readonly diagonal: number;
  /** Flat backdrops. */
  private readonly flats: readonly { readonly sheet: number; readonly frame: BackdropFrame }[];
  private readonly place: SurfacePoint = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };
  private finders: SurfaceFinders | null = null;
  /** What holds strokes back. */
  readonly reaches: Reaches;
  private readonly sides = new Map<string, Twins>();
  private topology: Topology | null = null;
  private work: TipWork = tipWork(PLAIN_BRUSH);
  /** Sub-tiles of one layer of places. */
  private readonly subs: number;
  private readonly looking = {
    mask: new Float32Array(SUB_TEXELS),
    onTip: new Float32Array(SUB_TEXELS * ON_TIP),
  };

  /** @param rest the same surface at rest, where `surface` is a pose of it */
  constructor(surface: SurfaceMap, kernels: StrokeKernels, rest: StrokeRasterizer | null = null) {
    this.surface = surface;
    this.rest = rest ?? this;
    this.kernels = kernels;
    this.subs = spannedTiles(surface.sheets) * 4;
    const reader = new PlaceReader(surface);
    this.reaches = new Reaches(surface, reader);
    this.tiles = new HeldTiles(surface, kernels, reader);
    this.finder = new SubTileFinder(surface.subBounds);
    this.diagonal = diagonalOf(subjectBounds(surface.mesh));
    this.flats = backdropsOf(surface.mesh).map((b) => ({ sheet: b.sheet, frame: frameOfBackdrop(b) }));
  }

  /**
   * Begins a stroke.
   *
   * @param guard where it may come; null for everywhere
   * @param pictureOf reads the project's pictures; left out: there are none
   */
  begin(
    guard: Reach | null,
    brush: BrushShape = PLAIN_BRUSH,
    pictureOf?: (id: number) => Picture | null,
  ): void {
    this.tiles.begin(guard);
    this.work = tipWork(brush, pictureOf);
  }

  /** Lays a dab on one sheet. @param touched receives the numbers of the sub-tiles whose coverage changed */
  dab(sheet: number, wish: Dab, touched: Set<number>): void {
    const { work } = this;
    const { texelLength } = this.surface.sheets[sheet]!;
    const isPlain = isPlainBall(work.brush);
    const near = this.near(sheet, wish);
    if (!near) return;
    const { dab, flat, subs } = near;
    for (const sub of subs) {
      const held = this.tiles.take(sub);
      const changed = isPlain
        ? this.kernels.dab(held.slot, dab)
        : layTip(this.tiles.tipSlot(held, work.brush), dab, work, flat, texelLength);
      if (!changed) continue;
      held.covered = true;
      touched.add(this.pixelSub(sub));
    }
  }

  /**
   * Reads a dab off one sheet without laying it.
   *
   * @param visit is told, a sub-tile of any layer of places after the other, how much of each texel the dab covers, 0..1, and where it lies on the tip (see
   *   `layTip`); both hold until it returns
   */
  look(
    sheet: number,
    wish: Dab,
    visit: (sub: number, slot: TipSlot, coverage: Float32Array, onTip: Float32Array, dab: Dab) => void,
  ): void {
    const near = this.near(sheet, wish);
    if (!near) return;
    const { dab, flat, subs } = near;
    const { mask, onTip } = this.looking;
    for (const sub of subs) {
      mask.fill(0);
      const slot = { ...this.tiles.tipSlot(this.tiles.take(sub), this.work.brush), mask };
      layTip(slot, dab, this.work, flat, this.surface.sheets[sheet]!.texelLength, onTip);
      visit(sub, slot, mask, onTip, dab);
    }
  }

  /** The dab as it lies, and the sub-tiles that it may touch; they hold until the next. */
  private near(
    sheet: number,
    wish: Dab,
  ): { readonly dab: Dab; readonly flat: LaidFlat | null; readonly subs: readonly number[] } | null {
    if (this.flats.length > 0 && !this.meets(sheet, wish)) return null;
    const { size, firstTile } = this.surface.sheets[sheet]!;
    const { found, work } = this;
    const { lies } = work.brush;
    if (lies === 'sheet') return this.nearOnSheet(sheet, wish);
    const laid = lies === 'surface' ? this.layOn(wish) : { dab: wish, flat: null };
    if (!laid) return null;
    const { dab } = laid;
    found.length = 0;
    const reach = dabReach(dab, work.brush);
    // All places of the sheet's texels, layer by layer.
    for (let first = firstTile * 4; first < this.surface.slotOfTile.length * 4; first += this.subs)
      this.finder.near(dab.x, dab.y, dab.z, reach, first, first + tileCount(size) * 4, found);
    return { ...laid, subs: found };
  }

  /** Whether a dab may touch a sheet: one on a backdrop touches that alone, one on the model no backdrop. */
  private meets(sheet: number, { x, y, z }: Dab): boolean {
    const on = this.flats.find(({ frame }) => liesOn(frame, [x, y, z], this.diagonal));
    return on ? on.sheet === sheet : !this.flats.some((flat) => flat.sheet === sheet);
  }

  /** A dab with its middle on the surface, laid flat around there; null where it was thrown past the model. */
  private layOn(dab: Dab): { readonly dab: Dab; readonly flat: LaidFlat } | null {
    const { place } = this;
    const { closest, unroller } = this.open();
    closest.find(dab.x, dab.y, dab.z, place);
    if (place.distance > dab.radius) return null;
    const { positions: p, indices } = this.surface.mesh;
    const weights = [place.w0, place.w1, place.w2];
    const at: [number, number, number] = [0, 0, 0];
    weights.forEach((w, k) => {
      const o = indices[place.face * 3 + k]! * 3;
      for (let axis = 0; axis < 3; axis++) at[axis]! += p[o + axis]! * w;
    });
    const [x, y, z] = at;
    return {
      dab: { ...dab, x, y, z },
      flat: { by: 'surface', unrolled: unroller.around(place.face, x, y, z, ...dab.along, dab.radius) },
    };
  }

  /** The sub-tiles of a sheet that lie within a dab's radius there; null where it isn't over that sheet. */
  private nearOnSheet(
    sheet: number,
    dab: Dab,
  ): { readonly dab: Dab; readonly flat: LaidFlat; readonly subs: readonly number[] } | null {
    const { place, found } = this;
    const { mesh, sheets, slotOfTile } = this.surface;
    const { size, firstTile, texelLength } = sheets[sheet]!;
    this.open().closest.find(dab.x, dab.y, dab.z, place);
    if (place.distance > dab.radius || sheetOfFace(mesh, place.face) !== sheet) return null;
    const flat = onSheetAt(mesh, size, place, dab.along);
    if (!flat) return null;
    const reach = dab.radius / texelLength;
    const from = (at: number): number => Math.max(0, Math.floor((at - reach) / SUB));
    const to = (at: number): number => Math.min(size / SUB - 1, Math.floor((at + reach) / SUB));
    found.length = 0;
    for (let y = from(flat.y); y <= to(flat.y); y++) {
      for (let x = from(flat.x); x <= to(flat.x); x++) {
        const tile = firstTile + (y >> 1) * tilesAcross(size) + (x >> 1);
        if (slotOfTile[tile]! >= 0) found.push(tile * 4 + (y & 1) * 2 + (x & 1));
      }
    }
    return { dab, flat, subs: found };
  }

  /** Gets ready what dabs that lie on the surface are found by; the first of them would wait for it. */
  open(): SurfaceFinders {
    return (this.finders ??= surfaceFinders(this.surface.mesh));
  }

  /** The two sides of a plane, paired by how their vertices hang together. */
  twins(point: Vec3, normal: Vec3): Twins {
    const { mesh } = this.surface;
    const name = `${point.join()} ${normal.join()}`;
    let known = this.sides.get(name);
    if (known) return known;
    this.topology ??= topologyOf(mesh);
    known = twinVertices(mesh, this.topology, point, normal);
    this.sides.set(name, known);
    return known;
  }

  /** See `HeldTiles`. */
  coverage(sub: number): Float32Array | null {
    return this.tiles.coverage(sub);
  }

  /** See `HeldTiles`. */
  shade(sub: number, texel: number): number {
    return this.tiles.shade(sub, texel);
  }

  /** The sub-tile whose pixels one of any layer of places shares. */
  readonly pixelSub = (sub: number): number => sub % this.subs;

  /** The tile, of whichever layer of places, that is covered most at a texel; null where a tile's texels have one place each. */
  placesOf(tile: number): ((texel: number) => number) | null {
    const { surface, tiles } = this;
    if (layersOfTile(surface, tile).length < 2) return null;
    return (texel) => tiles.mostCovered(tile * 4 + (texel >> 10), texel & (SUB_TEXELS - 1)) >> 2;
  }

  /** The coverage of a tile's four sub-tiles. */
  coverageOf(tile: number): (Float32Array | null)[] {
    return [0, 1, 2, 3].map((k) => this.coverage(tile * 4 + k));
  }

  /** Ends the stroke in hand: nothing is covered any more. */
  clear(): void {
    this.tiles.clear();
  }
}
