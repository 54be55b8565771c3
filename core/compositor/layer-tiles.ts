import { setStrokes, strokePainter, type Brushwork } from '../brushwork';
import type { ColorChannels, TileSource } from '../composite';
import type { Picture } from '../formats';
import type { CueSpec } from '../cues';
import {
  findNode,
  groundName,
  localLayerOf,
  type LayerNode,
  type ProjectDocument,
  isGroup,
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
  type TwinsBy,
} from '../layers';
import type { InkSurface, InkLine } from '../ink';
import { regionsOfPlan } from '../light';
import { backdropSheets } from '../mesh';
import { PatternPictures } from '../pattern';
import { regionShape, shownShape, type RegionShape } from '../region';
import { pixelTile, placeLayers, PlaceReader, sheetOfTile, TILE_TEXELS, type SurfaceMap } from '../surface';
import { CueStore } from './cue-store';
import { CueUse } from './cue-use';
import { Identities, Kept, MadeByNode } from './kept';
import { maskOverPlaces, overPlaces } from './over-places';
import { TileCache } from './tile-cache';
import { type Pieces, differingTiles } from './tile-pieces';

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

/** What layers and masks have on each tile, made when it is asked for and kept exactly as long as what it was made from. */
export class LayerTiles {
  private surface: SurfaceMap;
  /** Sheets of backdrops. */
  private flat: ReadonlySet<number>;
  private document: ProjectDocument;
  private readonly pixels: ChannelPixels;
  private readonly patterns: PatternPictures;
  private readonly cues = new CueStore();
  private colors: LocalColors | null | undefined;
  private readonly regionShapes = new Map<number, RegionShape>();
  private readonly kept = new Kept();
  private use: CueUse;
  private readonly sources = new TileCache<TileSource | null>(SOURCE_BYTES);
  private readonly maskTiles = new TileCache<MaskTile>(MASK_BYTES);
  private readonly painters = new MadeByNode<(tile: number) => TileSource | null>();
  /** What layers consisted of when their painter was made. */
  private readonly painted = new Map<number, Pieces>();
  private readonly adjusters = new MadeByNode<(colors: ColorChannels) => void>();
  private readonly maskPainters = new MadeByNode<MaskPainter>();
  private readonly identities = new Identities();
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
    const maskOf = (layer: number): readonly MaskStep[] => this.use.maskOf(layer);
    this.names = {
      surface: '',
      of: (thing) => this.identities.nameOf(thing),
      cue: (spec) => this.cues.nameOf(spec),
      light: (id) => this.identities.nameOf(this.inputs.light(id)),
      region: (id) => {
        const region = this.document.regions.find((r) => r.id === id);
        return region
          ? `${this.identities.nameOf(region.faces)}/${this.identities.nameOf(region.cuts)}`
          : 'nothing';
      },
      pattern: (id) => `pattern ${this.identities.nameOf(files.get(id) ?? null)}`,
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
      pixels: (plane, tile) => this.pixels.get(plane, pixelTile(this.surface.sheets, tile)),
      names: this.names,
      kept: (name, make) => this.kept.get(name, make),
      isKept: (name) => this.kept.has(name),
      ownLines: finer && ((id) => finer.ownLinesById(id)),
    };
    this.use = new CueUse(document, this.inputs);
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
    this.use = new CueUse(document, this.inputs);
    this.cues.useGround(groundName(document));
    this.cues.prune(this.use.wanted());
    const { nodes } = this.use;
    for (const id of this.painters.keepOnly(nodes)) {
      this.sources.dropNode(id);
      this.painted.delete(id);
    }
    for (const id of this.maskPainters.keepOnly(nodes)) this.maskTiles.dropNode(id);
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
    return this.kept.get(
      `local-colors ${this.identities.nameOf(layer.colors)} ${this.identities.nameOf(layer.regions)} ${layer.fallback} ${this.identities.nameOf(this.document.regions)}`,
      () => localColorsOf(layer, this.document.regions, this.surface.mesh),
    );
  }

  /** A cue as it was handed over last, and how many were before it; undefined while there is none. */
  cue(spec: CueSpec): { readonly values: Uint16Array; readonly version: number } | undefined {
    return this.cues.get(spec);
  }

  /** The cues that the build-up is made from, each once. */
  wantedCues(): CueSpec[] {
    return this.use.wanted();
  }

  /** Takes a cue as a whole. @param values 0..65535 a texel, in the order of the surface's codes */
  setCue(spec: CueSpec, values: Uint16Array): void {
    this.cues.set(spec, values);
  }

  /** Takes finer values of a cue for some tiles of any layer of places. @returns those whose picture changes, and whether the cue is new */
  refineCue(
    spec: CueSpec,
    tiles: readonly { readonly tile: number; readonly values: Uint16Array }[],
  ): { readonly changed: readonly number[]; readonly isNew: boolean } {
    const known = this.cues.get(spec)?.values;
    const values = known ?? new Uint16Array(this.surface.codes.length);
    if (!known) this.setCue(spec, values);
    const { masks, layers } = this.use.nodesWith(spec);
    const there = tiles.filter(({ tile }) => (this.surface.slotOfTile[tile] ?? -1) >= 0);
    const changed = new Set<number>();
    for (const { tile: placed, values: part } of there) {
      values.set(part, this.surface.slotOfTile[placed]! * TILE_TEXELS);
      const tile = pixelTile(this.surface.sheets, placed);
      changed.add(tile);
      for (const node of masks) this.forgetMask(node, tile);
      for (const layer of layers) this.sources.drop(layer, tile);
    }
    return { changed: masks.length || layers.length ? [...changed] : [], isNew: !known };
  }

  /** Nodes whose mask is made from another's, and that one itself. */
  nodesWithMask(layer: number): number[] {
    return this.use.nodesWithMask(layer);
  }

  /** A mask is out of date on a tile. */
  forgetMask(node: number, tile: number): void {
    this.maskTiles.drop(node, tile);
  }

  // ---- what a compositor asks for ------------------------------------------------------------------------------------

  /** Names all that a node's own tiles and mask are made from, but pixels. */
  signature(node: LayerNode): string {
    const own = isGroup(node) ? '' : this.madeFrom(node);
    const strokes = isGroup(node) ? null : strokesOf(node);
    const laid = strokes ? ` | ${JSON.stringify(strokes)}` : '';
    return `${own} | ${maskInputs(node.mask, this.names)}${laid}${this.twinsName(node)}`;
  }

  /** What a node makes of texels that several places share, as part of a name; nothing where none has several. */
  private twinsName(node: LayerNode): string {
    return placeLayers(this.surface) > 1 ? ` ${this.twinsOf(node)}` : '';
  }

  private twinsOf(node: LayerNode): TwinsBy {
    return node.twins ?? this.document.twins;
  }

  /** Names all that a layer's own tiles are made from. */
  private madeFrom(layer: Layer): string {
    const cues = this.use.ofLayer(layer.id).map((spec) => this.names.cue(spec));
    const kind = kindOf(layer);
    const lights = kind.form === 'derived' ? (kind.lights?.(layer) ?? []) : [];
    const regions = lights.flatMap((id) => {
      const plan = this.inputs.light(id);
      return plan ? regionsOfPlan(plan).map((region) => this.names.region(region)) : [];
    });
    return [kind.inputs(layer, this.names), ...cues, ...regions].join(' ') + this.twinsName(layer);
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
    if (!this.painters.isFrom(layer.id, inputs)) this.forgetDiffering(layer);
    const paint = this.painters.get(layer.id, inputs, () => {
      const shared = this.twinsOf(layer) === 'first' ? 'first' : (kind.shared ?? 'mean');
      const smooth = overPlaces(this.surface, shared, kind.painter(layer, this.inputs));
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
    return this.adjusters.get(layer.id, kind.inputs(layer, this.names), () => kind.adjuster(layer));
  }

  /** A node’s mask on a tile. */
  mask(node: LayerNode, tile: number): MaskTile {
    const kind = isGroup(node) ? null : kindOf(node);
    // Strokes have the measured part of their layer's mask in them; its crisp borders cut through them.
    const isStroked = !isGroup(node) && strokesOf(node) !== null;
    const boundless = kind?.form === 'derived' && kind.boundless && !isStroked;
    const steps = isStroked ? crispSteps(node.mask) : node.mask;
    if (steps.length === 0 && !boundless) return null;
    // What form tells isn't there on a flat backdrop.
    if (this.isFlat(tile) && cuesOfMask(steps).length > 0) return 'none';
    const paint = this.maskPainters.get(
      node.id,
      `${isStroked} ${maskInputs(steps, this.names)}${this.twinsName(node)}`,
      () => this.maskPainter(node, steps),
      () => this.maskTiles.dropNode(node.id),
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
    const strokes = this.kept.get(`strokes${layer.id} ${JSON.stringify(how)}`, () =>
      setStrokes(surface, how),
    );
    const mask = layer.mask.length ? this.maskPainter(layer, layer.mask) : () => null;
    return strokePainter(strokes, how, { surface, places, source, mask });
  }

  private maskPainter(node: LayerNode, steps: readonly MaskStep[]): MaskPainter {
    const paint = maskPainter(node.id, steps, this.inputs);
    return this.twinsOf(node) === 'first' ? paint : maskOverPlaces(this.surface, paint);
  }

  private shapeOf(region: number): RegionShape | null {
    let shape = this.regionShapes.get(region);
    if (!shape) {
      const found = this.document.regions.find((r) => r.id === region);
      if (!found) return null;
      shape = shownShape(this.surface, regionShape(this.surface, found, this.inputs.places));
      this.regionShapes.set(region, shape);
    }
    return shape;
  }
}
