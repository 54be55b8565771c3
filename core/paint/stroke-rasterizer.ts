import type { Picture } from '../formats';
import { cellularNoise, ridgedNoise, smoothstep, valueNoise, type Vec3 } from '../math';
import {
  backdropsOf,
  frameOfBackdrop,
  liesOn,
  centreOf,
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
  NOWHERE,
  PlaceReader,
  sheetOfTile,
  SUB,
  SUB_TEXELS,
  SubTileFinder,
  TILE,
  TILE_TEXELS,
  tileCount,
  tilesAcross,
  type SurfaceMap,
} from '../surface';
import { hasShades, PLAIN_BRUSH, type BrushShape } from './brush';
import { onSheetAt } from './on-sheet';
import { Reaches, type Reach } from './reach';
import type { Dab, RasterSlot } from './dab';
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
import type { StrokePaint } from './stroke-tile';

/** The hot loops of making strokes. */
export interface StrokeKernels {
  /** Memory for one more sub-tile. */
  slot(): RasterSlot;
  /** @returns whether the dab changed anything */
  dab(slot: RasterSlot, dab: Dab): boolean;
  /**
   * One tile: `out` is `before` with the stroke laid on it.
   *
   * @param coverage of the tile's four sub-tiles, 0..1 a texel; null where the stroke hasn't come
   */
  stroke(
    before: Uint8Array,
    coverage: readonly (Float32Array | null)[],
    out: Uint8Array,
    paint: StrokePaint,
  ): void;
}

/** Sub-tiles that are held ready at the most: 23.5 KB each. */
const MOST_SLOTS = 1024;

interface Held {
  readonly slot: RasterSlot;
  sub: number;
  /** The stroke for which `reach` was reckoned. */
  stroke: number;
  covered: boolean;
  /** Which shade each texel has. */
  shades: Uint8Array | null;
  /** What of the grain of that name shows, 0..1 a texel. */
  grain: { readonly name: string; readonly values: Float32Array } | null;
  /** All that tips read of it. */
  tip: TipSlot | null;
}

type Grain = NonNullable<BrushShape['grain']>;

/** A brush passes over many texels at a time: two octaves are as fine as it needs. */
const OCTAVES = 2;

const NOISES = { value: valueNoise, ridged: ridgedNoise, cellular: cellularNoise } as const;

/**
 * Where a stroke is made: the sub-tiles near the brush with their places in the kernels' memory, and the coverage of the stroke in
 * hand. What wasn't needed for longest makes room.
 */
export class StrokeRasterizer {
  readonly surface: SurfaceMap;
  private readonly kernels: StrokeKernels;
  private readonly reader: PlaceReader;
  private readonly finder: SubTileFinder;
  private readonly held = new Map<number, Held>();
  /** Coverage of sub-tiles that had to make room. */
  private readonly parked = new Map<
    number,
    { readonly mask: Float32Array; readonly shades: Uint8Array | null }
  >();
  private readonly found: number[] = [];
  private readonly centre: Vec3;
  private readonly diagonal: number;
  /** Flat backdrops. */
  private readonly flats: readonly { readonly sheet: number; readonly frame: BackdropFrame }[];
  private readonly place: SurfacePoint = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };
  private finders: SurfaceFinders | null = null;
  /** What holds strokes back. */
  readonly reaches: Reaches;
  private readonly sides = new Map<string, Twins>();
  private topology: Topology | null = null;
  private guard: Reach | null = null;
  private work: TipWork = tipWork(PLAIN_BRUSH);
  private stroke = 0;
  private readonly looking = {
    mask: new Float32Array(SUB_TEXELS),
    onTip: new Float32Array(SUB_TEXELS * ON_TIP),
  };

  constructor(surface: SurfaceMap, kernels: StrokeKernels) {
    this.surface = surface;
    this.kernels = kernels;
    this.reader = new PlaceReader(surface);
    this.reaches = new Reaches(surface, this.reader);
    this.finder = new SubTileFinder(surface.subBounds);
    const bounds = subjectBounds(surface.mesh);
    this.centre = centreOf(bounds);
    this.diagonal = diagonalOf(bounds);
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
    this.clear();
    this.work = tipWork(brush, pictureOf);
    // Reach that was reckoned for the same guard holds on.
    if (guard !== this.guard) this.stroke++;
    this.guard = guard;
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
      const held = this.take(sub);
      const changed = isPlain
        ? this.kernels.dab(held.slot, dab)
        : layTip(this.tipSlot(held), dab, work, flat, texelLength);
      if (!changed) continue;
      held.covered = true;
      touched.add(sub);
    }
  }

  /**
   * Reads a dab off one sheet without laying it.
   *
   * @param visit is told, a sub-tile after the other, how much of each texel the dab covers, 0..1, and where it lies on the tip (see
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
      const slot = { ...this.tipSlot(this.take(sub)), mask };
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
    this.finder.near(
      dab.x,
      dab.y,
      dab.z,
      dabReach(dab, work.brush),
      firstTile * 4,
      (firstTile + tileCount(size)) * 4,
      found,
    );
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

  private tipSlot(held: Held): TipSlot {
    const { brush } = this.work;
    const grain = brush.grain && this.grainOf(held, brush.grain);
    const shades = hasShades(brush) ? (held.shades ??= new Uint8Array(SUB_TEXELS)) : null;
    // Made once a sub-tile: a large dab asks for hundreds.
    if (held.tip?.grain === grain && held.tip.shades === shades) return held.tip;
    const { codes, slotOfTile } = this.surface;
    const from = slotOfTile[held.sub >> 2]! * TILE_TEXELS + (held.sub & 3) * SUB_TEXELS;
    const [, x, y] = this.originOf(held.sub);
    held.tip = { ...held.slot, codes: codes.subarray(from, from + SUB_TEXELS), grain, shades, x, y };
    return held.tip;
  }

  /** The sheet on which a sub-tile lies, and its first texel there. */
  private originOf(sub: number): [sheet: number, x: number, y: number] {
    const { sheets } = this.surface;
    const tile = sub >> 2;
    const sheet = sheetOfTile(sheets, tile);
    const { size, firstTile } = sheets[sheet]!;
    const across = tilesAcross(size);
    const own = tile - firstTile;
    return [
      sheet,
      (own % across) * TILE + (sub & 1) * SUB,
      Math.floor(own / across) * TILE + ((sub >> 1) & 1) * SUB,
    ];
  }

  /** Held with the sub-tile as long as the brush has the same grain. */
  private grainOf(held: Held, grain: Grain): Float32Array {
    const name = `${grain.kind} ${grain.scale} ${grain.depth}`;
    if (held.grain?.name === name) return held.grain.values;
    const values = held.grain?.values ?? new Float32Array(SUB_TEXELS);
    const noise = NOISES[grain.kind];
    const k = this.diagonal > 0 ? grain.scale / this.diagonal : 0;
    const [cx, cy, cz] = this.centre;
    const { px, py, pz } = held.slot;
    for (let i = 0; i < SUB_TEXELS; i++) {
      const n =
        px[i]! >= NOWHERE ? 0 : noise((px[i]! - cx) * k, (py[i]! - cy) * k, (pz[i]! - cz) * k, 3, OCTAVES);
      values[i] = 1 - grain.depth * (1 - smoothstep(0.3, 0.7, n));
    }
    held.grain = { name, values };
    return values;
  }

  /** Coverage of a sub-tile, 0..1 a texel; null where the stroke hasn't come. To be read at once: it moves. */
  coverage(sub: number): Float32Array | null {
    const held = this.held.get(sub);
    return (held?.covered ? held.slot.mask : undefined) ?? this.parked.get(sub)?.mask ?? null;
  }

  /** Which shade each texel of a sub-tile has, where the stroke has come; see `shadesOf`. To be read at once. */
  shades(sub: number): Uint8Array | null {
    const held = this.held.get(sub);
    return (held?.covered ? held.shades : undefined) ?? this.parked.get(sub)?.shades ?? null;
  }

  /** The same of a tile's four sub-tiles. */
  coverageOf(tile: number): (Float32Array | null)[] {
    return [0, 1, 2, 3].map((k) => this.coverage(tile * 4 + k));
  }

  /** Ends the stroke in hand: nothing is covered any more. */
  clear(): void {
    this.parked.clear();
    for (const held of this.held.values()) {
      if (!held.covered) continue;
      held.slot.mask.fill(0);
      held.covered = false;
    }
  }

  private take(sub: number): Held {
    let held = this.held.get(sub);
    if (held) this.held.delete(sub);
    else {
      held = this.free();
      held.sub = sub;
      held.stroke = -1;
      held.grain = held.shades = held.tip = null;
      this.reader.readSub(sub, held.slot);
      const parked = this.parked.get(sub);
      if (parked) {
        held.slot.mask.set(parked.mask);
        held.shades = parked.shades;
        this.parked.delete(sub);
      } else held.slot.mask.fill(0);
      held.covered = parked !== undefined;
    }
    // At the end of the map is what was used last.
    this.held.set(sub, held);
    if (held.stroke !== this.stroke) this.reckonReach(held);
    return held;
  }

  private free(): Held {
    const [oldest] = this.held.values();
    if (this.held.size < MOST_SLOTS || !oldest) {
      return {
        slot: this.kernels.slot(),
        sub: -1,
        stroke: -1,
        covered: false,
        shades: null,
        grain: null,
        tip: null,
      };
    }
    this.held.delete(oldest.sub);
    if (oldest.covered) {
      this.parked.set(oldest.sub, { mask: oldest.slot.mask.slice(), shades: oldest.shades });
    }
    return oldest;
  }

  private reckonReach(held: Held): void {
    const { codes, slotOfTile } = this.surface;
    const from = slotOfTile[held.sub >> 2]! * TILE_TEXELS + (held.sub & 3) * SUB_TEXELS;
    const { reach } = held.slot;
    const { guard } = this;
    const tile = held.sub >> 2;
    const first = (held.sub & 3) * SUB_TEXELS;
    for (let i = 0; i < SUB_TEXELS; i++) {
      const code = codes[from + i]!;
      reach[i] = code < 0 ? 0 : guard ? guard.at(tile, first + i, code) : 255;
    }
    held.stroke = this.stroke;
  }
}
