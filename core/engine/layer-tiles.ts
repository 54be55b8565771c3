import { setStrokes, strokePainter, type Brushwork } from '../brushwork';
import type { ColorChannels, TileSource } from '../composite';
import type { Picture } from '../formats';
import { cueKey, type CueSpec } from '../cues';
import {
  findNode,
  groundName,
  localLayerOf,
  masksOf,
  nodesOf,
  type LayerNode,
  type ProjectDocument,
} from '../document';
import {
  crispSteps,
  cuesOfMask,
  inkFigures,
  inkSurface,
  kindOf,
  localColorsOf,
  maskInputs,
  maskPainter,
  masksUnder,
  ownLinesOf,
  type InkFigures,
  type InkLayer,
  type InputNames,
  type Layer,
  type LayerInputs,
  type LocalColors,
  type LocalLayer,
  type MaskPainter,
  type MaskStep,
} from '../layers';
import type { InkSurface, InkLine } from '../ink';
import { regionsOfPlan } from '../light';
import { backdropSheets } from '../mesh';
import { PatternPictures } from '../pattern';
import { regionShape, type RegionShape } from '../region';
import { PlaceReader, sheetOfTile, TILE_TEXELS, type SurfaceMap } from '../surface';
import { CueStore } from './cue-store';
import { TileCache } from './tile-cache';

/** What made tiles may take; they are made again when they are needed. */
const SOURCE_BYTES = 160e6;
const MASK_BYTES = 96e6;

/** Where pixels of planes are read from. */
export interface ChannelPixels {
  get(plane: number, tile: number): Uint8Array | undefined;
  /** Tiles of a plane that aren't empty. */
  tiles(plane: number): readonly number[];
}

/** A mask's value on a tile; null: it covers all of it, 'none': nothing of it. */
export type MaskTile = Uint16Array | null | 'none';

/** The strokes in which a layer is laid down; null: smoothly. */
const strokesOf = (layer: Layer): Brushwork | null => ('strokes' in layer ? (layer.strokes ?? null) : null);

/** The things that a layer consists of, and the tiles on which each lies. */
type Pieces = readonly (readonly [piece: object, tiles: readonly number[]])[];

/** Tiles of pieces that two lists don't have in common; of all of them where the common ones stand in another order. */
function differingTiles(was: Pieces, is: Pieces): ReadonlySet<number> {
  const [old, now] = [new Set(was.map(([piece]) => piece)), new Set(is.map(([piece]) => piece))];
  const stayed = (list: Pieces): object[] =>
    list.map(([piece]) => piece).filter((piece) => old.has(piece) && now.has(piece));
  const order = stayed(is);
  const isReordered = stayed(was).some((piece, i) => piece !== order[i]);
  const out = new Set<number>();
  for (const [list, others] of [
    [was, now],
    [is, old],
  ] as const) {
    for (const [piece, tiles] of list) {
      if (isReordered || !others.has(piece)) for (const tile of tiles) out.add(tile);
    }
  }
  return out;
}

interface Made<P> {
  /** What the painter was made from. */
  readonly inputs: string;
  readonly paint: P;
}

/** What layers and masks have on each tile, made when it is asked for and kept exactly as long as what it was made from. */
export class LayerTiles {
  private surface: SurfaceMap;
  /** Sheets of backdrops. */
  private flat: ReadonlySet<number>;
  private document: ProjectDocument;
  private readonly pixels: ChannelPixels;
  private readonly patterns: PatternPictures;
  private masks: ReadonlyMap<number, readonly MaskStep[]>;
  private readonly cues = new CueStore();
  private colors: LocalColors | null | undefined;
  private readonly regionShapes = new Map<number, RegionShape>();
  private readonly kept = new Map<string, unknown>();
  /** Cues that layers are made from themselves, by the layer. */
  private ownCues: ReadonlyMap<number, readonly CueSpec[]> = new Map();
  private readonly sources = new TileCache<TileSource | null>(SOURCE_BYTES);
  private readonly maskTiles = new TileCache<MaskTile>(MASK_BYTES);
  private readonly painters = new Map<number, Made<(tile: number) => TileSource | null>>();
  /** What layers consisted of when their painter was made. */
  private readonly painted = new Map<number, Pieces>();
  private readonly adjusters = new Map<number, Made<(colors: ColorChannels) => void>>();
  private readonly maskPainters = new Map<number, Made<MaskPainter>>();
  private readonly identities = new WeakMap<object, number>();
  private identityCount = 0;
  private inputs: LayerInputs;
  private readonly names: InputNames;

  /**
   * @param files what came as files, by id: patterns are read when they are asked for
   * @param finer the same layers on a finer surface of the model: lines that the form draws by itself are drawn there only
   */
  constructor(
    surface: SurfaceMap,
    document: ProjectDocument,
    pixels: ChannelPixels,
    files: ReadonlyMap<number, Uint8Array> = new Map(),
    finer: LayerTiles | null = null,
  ) {
    this.surface = surface;
    this.flat = backdropSheets(surface.mesh);
    this.document = document;
    this.pixels = pixels;
    this.patterns = new PatternPictures(files);
    this.masks = masksOf(document.layers);
    const maskOf = (layer: number): readonly MaskStep[] => this.masks.get(layer) ?? [];
    this.names = {
      surface: '',
      of: (thing) => this.nameOf(thing),
      cue: (spec) => this.cues.nameOf(spec),
      light: (id) => this.nameOf(this.inputs.light(id)),
      region: (id) => {
        const region = this.document.regions.find((r) => r.id === id);
        return region ? `${this.nameOf(region.faces)}/${this.nameOf(region.cuts)}` : 'nothing';
      },
      pattern: (id) => `pattern ${this.nameOf(files.get(id) ?? null)}`,
      maskOf,
    };
    this.inputs = {
      surface,
      places: new PlaceReader(surface),
      // A light that is being moved keeps the shadow that it had until its new one is there.
      cue: (spec, role) => this.cues.valuesFor(spec, role),
      localColors: () => this.localColors()?.name ?? null,
      light: (id) => this.document.lights.find((l) => l.id === id)?.plan ?? null,
      pattern: (id) => this.patterns.get(id),
      region: (id) => this.shapeOf(id),
      maskOf,
      pixels: (plane, tile) => this.pixels.get(plane, tile),
      names: this.names,
      kept: (name, make) => this.keep(name, make),
      isKept: (name) => this.kept.has(name),
      ownLines: finer && ((id) => finer.ownLinesById(id)),
    };
    this.ownCues = this.cuesOfLayers();
    this.cues.useGround(groundName(document));
  }

  /** Takes another surface in hand: nothing that was made or measured of the old one holds. */
  useSurface(surface: SurfaceMap): void {
    this.surface = surface;
    this.flat = backdropSheets(surface.mesh);
    this.inputs = { ...this.inputs, surface, places: new PlaceReader(surface) };
    this.cues.clear();
    this.colors = undefined;
    this.regionShapes.clear();
    this.kept.clear();
    this.sources.clear();
    this.maskTiles.clear();
    this.painters.clear();
    this.painted.clear();
    this.adjusters.clear();
    this.maskPainters.clear();
  }

  /** Takes another document in hand; what was made for nodes that are gone is let go of. */
  useDocument(document: ProjectDocument): void {
    if (document.regions !== this.document.regions) this.regionShapes.clear();
    if (document.regions !== this.document.regions || document.layers !== this.document.layers)
      this.colors = undefined;
    this.document = document;
    this.masks = masksOf(document.layers);
    this.ownCues = this.cuesOfLayers();
    this.cues.useGround(groundName(document));
    this.cues.prune(this.wantedCues());
    const there = new Set(this.masks.keys());
    for (const [painters, tiles] of [
      [this.painters, this.sources],
      [this.maskPainters, this.maskTiles],
    ] as const) {
      for (const id of painters.keys()) {
        if (there.has(id)) continue;
        painters.delete(id);
        tiles.dropNode(id);
        if (painters === this.painters) this.painted.delete(id);
      }
    }
  }

  /** A pattern's picture; null if it isn't there or can't be read. */
  pattern(id: number): Picture | null {
    return this.patterns.get(id);
  }

  // ---- cues ----------------------------------------------------------------------------------------------------------

  /** Whether a cue has been handed over, in whole or in part. */
  hasCue(spec: CueSpec): boolean {
    return this.cues.get(spec) !== undefined;
  }

  /** The local colours on the model, those of the lowest layer that holds any. */
  localColors(): LocalColors | null {
    if (this.colors === undefined) {
      const layer = localLayerOf(this.document);
      this.colors = layer && this.colorsOf(layer);
    }
    return this.colors;
  }

  private colorsOf(layer: LocalLayer): LocalColors {
    return this.keep(
      `local-colors ${this.nameOf(layer.colors)} ${this.nameOf(layer.regions)} ${layer.fallback} ${this.nameOf(this.document.regions)}`,
      () => localColorsOf(layer, this.document.regions, this.surface.mesh),
    );
  }

  /** A cue as it was handed over last, and how many were before it; undefined while there is none. */
  cue(spec: CueSpec): { readonly values: Uint16Array; readonly version: number } | undefined {
    return this.cues.get(spec);
  }

  /** The cues that the build-up is made from, each once. */
  wantedCues(): CueSpec[] {
    const wanted = new Map<string, CueSpec>();
    for (const mask of this.masks.values()) {
      for (const spec of cuesOfMask(mask)) wanted.set(cueKey(spec), spec);
    }
    for (const specs of this.ownCues.values()) for (const spec of specs) wanted.set(cueKey(spec), spec);
    return [...wanted.values()];
  }

  /** Takes a cue as a whole. @param values 0..65535 a texel, in the order of the surface's codes */
  setCue(spec: CueSpec, values: Uint16Array): void {
    this.cues.set(spec, values);
  }

  /** Takes finer values of a cue for some tiles. @returns those whose picture changes, and whether the cue is new */
  refineCue(
    spec: CueSpec,
    tiles: readonly { readonly tile: number; readonly values: Uint16Array }[],
  ): { readonly changed: readonly number[]; readonly isNew: boolean } {
    const known = this.cues.get(spec)?.values;
    const values = known ?? new Uint16Array(this.surface.codes.length);
    if (!known) this.setCue(spec, values);
    const nodes = this.nodesWithCue(spec);
    const key = cueKey(spec);
    const layers = [...this.ownCues].flatMap(([id, specs]) =>
      specs.some((s) => cueKey(s) === key) ? [id] : [],
    );
    const there = tiles.filter(({ tile }) => (this.surface.slotOfTile[tile] ?? -1) >= 0);
    for (const { tile, values: part } of there) {
      values.set(part, this.surface.slotOfTile[tile]! * TILE_TEXELS);
      for (const node of nodes) this.forgetMask(node, tile);
      for (const layer of layers) this.sources.drop(layer, tile);
    }
    return { changed: nodes.length || layers.length ? there.map(({ tile }) => tile) : [], isNew: !known };
  }

  /** Nodes whose mask is made from a cue, directly or through other masks. */
  private nodesWithCue(spec: CueSpec): number[] {
    const key = cueKey(spec);
    const uses = (mask: readonly MaskStep[]): boolean => cuesOfMask(mask).some((c) => cueKey(c) === key);
    return [...this.masks].flatMap(([id, mask]) => {
      const others = [...masksUnder(mask, (layer) => this.masks.get(layer) ?? [])];
      return uses(mask) || others.some((o) => uses(this.masks.get(o) ?? [])) ? [id] : [];
    });
  }

  /** Nodes whose mask is made from another's, and that one itself. */
  nodesWithMask(layer: number): number[] {
    return [...this.masks].flatMap(([id, mask]) =>
      id === layer || masksUnder(mask, (o) => this.masks.get(o) ?? []).has(layer) ? [id] : [],
    );
  }

  /** A mask is out of date on a tile. */
  forgetMask(node: number, tile: number): void {
    this.maskTiles.drop(node, tile);
  }

  // ---- what a compositor asks for ------------------------------------------------------------------------------------

  /** Names all that a node's own tiles and mask are made from, but pixels. */
  signature(node: LayerNode): string {
    const own = node.kind === 'group' ? '' : this.madeFrom(node);
    const strokes = node.kind === 'group' ? null : strokesOf(node);
    const laid = strokes ? ` | ${JSON.stringify(strokes)}` : '';
    return `${own} | ${maskInputs(node.mask, this.names)}${laid}`;
  }

  /** Names all that a layer's own tiles are made from. */
  private madeFrom(layer: Layer): string {
    const cues = this.ownCues.get(layer.id)?.map((spec) => this.names.cue(spec)) ?? [];
    const kind = kindOf(layer);
    const lights = kind.form === 'derived' ? (kind.lights?.(layer) ?? []) : [];
    const regions = lights.flatMap((id) => {
      const plan = this.inputs.light(id);
      return plan ? regionsOfPlan(plan).map((region) => this.names.region(region)) : [];
    });
    return [kind.inputs(layer, this.names), ...cues, ...regions].join(' ');
  }

  /** What a layer has on a tile; null: nothing. */
  source(layer: Layer, tile: number): TileSource | null {
    const kind = kindOf(layer);
    if (kind.form === 'pixels') {
      const bytes = this.pixels.get(layer.id, tile);
      return bytes ? { form: 'rgba8', bytes } : null;
    }
    if (kind.form === 'change' || (!kind.onBackdrops && this.isFlat(tile))) return null;
    const strokes = strokesOf(layer);
    const made = this.madeFrom(layer);
    const inputs = strokes
      ? `${made} ${JSON.stringify(strokes)} ${this.names.surface} ${maskInputs(layer.mask, this.names)}`
      : made;
    if (this.painters.get(layer.id)?.inputs !== inputs) this.forgetDiffering(layer);
    const paint = this.made(this.painters, layer.id, inputs, null, () => {
      const smooth = kind.painter(layer, this.inputs);
      return strokes ? this.stroked(layer, strokes, smooth) : smooth;
    });
    return this.sources.get(layer.id, tile, () => {
      const source = paint(tile);
      return [
        source,
        source === null || source.form === 'color' ? 64 : source.form === 'rgba8' ? 16_384 : 32_768,
      ];
    });
  }

  /** Whether a tile is a backdrop's. */
  private isFlat(tile: number): boolean {
    return this.flat.size > 0 && this.flat.has(sheetOfTile(this.surface.sheets, tile));
  }

  /** A layer is to be painted anew: what looks the same as before stays. */
  private forgetDiffering(layer: Layer): void {
    const tiles = this.differing(layer);
    if (tiles === 'all') this.sources.dropNode(layer.id);
    else for (const tile of tiles) this.sources.drop(layer.id, tile);
    const pieces = this.piecesOf(layer);
    if (pieces) this.painted.set(layer.id, pieces);
  }

  /** What a layer consists of; null: that isn't told. */
  private piecesOf(layer: Layer): Pieces | null {
    const kind = kindOf(layer);
    return kind.form === 'derived' && kind.pieces ? kind.pieces(layer, this.inputs) : null;
  }

  /** Tiles on which a layer may look different from when it was painted last. */
  differing(layer: Layer): ReadonlySet<number> | 'all' {
    const was = this.painted.get(layer.id);
    const is = this.piecesOf(layer);
    return was && is ? differingTiles(was, is) : 'all';
  }

  /** Tiles on which a layer has anything, or had when it was painted last. */
  reach(layer: Layer): ReadonlySet<number> | 'all' {
    const is = this.piecesOf(layer);
    if (!is) return 'all';
    return new Set([...(this.painted.get(layer.id) ?? []), ...is].flatMap(([, tiles]) => tiles));
  }

  /** Lines that the form draws by itself for an ink layer. */
  ownLines(layer: InkLayer): readonly InkLine[] {
    return ownLinesOf(layer, this.inputs);
  }

  private ownLinesById(id: number): readonly InkLine[] {
    const layer = findNode(this.document.layers, id);
    return layer?.kind === 'ink' ? this.ownLines(layer) : [];
  }

  inkFigures(layer: InkLayer): InkFigures {
    return inkFigures(layer, this.inputs);
  }

  /** What ink lines are laid on. */
  inkSurface(): InkSurface {
    return inkSurface(this.inputs);
  }

  /** How a layer changes the colours under it; null: it is none that does. */
  adjuster(layer: Layer): ((colors: ColorChannels) => void) | null {
    const kind = kindOf(layer);
    if (kind.form !== 'change') return null;
    return this.made(this.adjusters, layer.id, kind.inputs(layer, this.names), null, () =>
      kind.adjuster(layer),
    );
  }

  /** A node’s mask on a tile. */
  mask(node: LayerNode, tile: number): MaskTile {
    const kind = node.kind === 'group' ? null : kindOf(node);
    // Strokes have the measured part of their layer's mask in them; its crisp borders cut through them.
    const isStroked = node.kind !== 'group' && strokesOf(node) !== null;
    const boundless = kind?.form === 'derived' && kind.boundless && !isStroked;
    const steps = isStroked ? crispSteps(node.mask) : node.mask;
    if (steps.length === 0 && !boundless) return null;
    // What form tells isn't there on a flat backdrop.
    if (this.isFlat(tile) && cuesOfMask(steps).length > 0) return 'none';
    const paint = this.made(
      this.maskPainters,
      node.id,
      `${isStroked} ${maskInputs(steps, this.names)}`,
      this.maskTiles,
      () => maskPainter(node.id, steps, this.inputs),
    );
    return this.maskTiles.get(node.id, tile, () => {
      const mask = paint(tile);
      if (mask === null) return [null, 64];
      return mask.every((v) => v === 0) ? ['none', 64] : [mask, mask.byteLength];
    });
  }

  /** A smooth layer laid down in strokes. */
  private stroked(
    layer: Layer,
    how: Brushwork,
    source: (tile: number) => TileSource | null,
  ): (tile: number) => TileSource | null {
    const { surface, places } = this.inputs;
    const strokes = this.keep(`strokes${layer.id} ${JSON.stringify(how)}`, () => setStrokes(surface, how));
    const mask = layer.mask.length ? maskPainter(layer.id, layer.mask, this.inputs) : () => null;
    return strokePainter(strokes, how, { surface, places, source, mask });
  }

  /** A painter that was made from the same inputs, or a new one; then the old one's tiles are dropped. */
  private made<P>(
    all: Map<number, Made<P>>,
    node: number,
    inputs: string,
    tiles: Pick<TileCache<unknown>, 'dropNode'> | null,
    make: () => P,
  ): P {
    const known = all.get(node);
    if (known?.inputs === inputs) return known.paint;
    if (known) tiles?.dropNode(node);
    const paint = make();
    all.set(node, { inputs, paint });
    return paint;
  }

  private shapeOf(region: number): RegionShape | null {
    let shape = this.regionShapes.get(region);
    if (!shape) {
      const found = this.document.regions.find((r) => r.id === region);
      if (!found) return null;
      shape = regionShape(this.surface, found, this.inputs.places);
      this.regionShapes.set(region, shape);
    }
    return shape;
  }

  private keep<T>(name: string, make: () => T): T {
    if (!this.kept.has(name)) {
      // One name a purpose: what was made with other settings is let go of.
      const purpose = name.split(' ')[0]!;
      for (const other of this.kept.keys()) if (other.startsWith(`${purpose} `)) this.kept.delete(other);
      this.kept.set(name, make());
    }
    return this.kept.get(name) as T;
  }

  private cuesOfLayers(): ReadonlyMap<number, readonly CueSpec[]> {
    const out = new Map<number, readonly CueSpec[]>();
    for (const { node } of nodesOf(this.document.layers)) {
      if (node.kind === 'group') continue;
      const kind = kindOf(node);
      const cues = kind.form === 'derived' ? kind.cues?.(node, this.inputs) : undefined;
      if (cues?.length) out.set(node.id, cues);
    }
    return out;
  }

  private nameOf(thing: object | null): string {
    if (!thing) return 'nothing';
    let name = this.identities.get(thing);
    if (name === undefined) this.identities.set(thing, (name = ++this.identityCount));
    return String(name);
  }
}
