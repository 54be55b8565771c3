import { cueKey, type CueSpec } from '../cues';
import { CoreError } from '../errors';
import type { Kernels, LayerTile, PaintDesk } from '../kernels';
import type { UvMesh } from '../mesh';
import { type Stroke, type StrokeStyle } from '../paint';
import { sizesKey, spannedTiles, texelCount, TILE_BYTES, TILE_TEXELS, type SurfaceMap } from '../surface';
import { applyToDocument, commandLabel, commandSchema, layerIndex, type Command } from './commands';
import { cuesOf, type Layer, type ProjectDocument } from './document';
import { EMPTY_HISTORY, type History, type HistoryEntry } from './history';
import { lightPainter, localPainter, washPainter, type TilePainter } from './layer-pixels';
import { LiveStroke } from './live-stroke';
import { packTiles, unpackTiles, type TileState } from './tile-pack';

/** What the picture shows instead of the whole build-up. */
export interface BuildUpView {
  /** Only this layer, at full opacity. */
  readonly alone: number | null;
  /** This layer's mask (its alpha) as grey. */
  readonly maskOf: number | null;
}

export const WHOLE_BUILD_UP: BuildUpView = { alone: null, maskOf: null };

/** A finished change, in full: whoever keeps the project writes all of it at once. */
export interface Commit {
  readonly document: ProjectDocument;
  readonly tiles: readonly TileState[];
  readonly history: History;
  /** The history's entries from here on are new or changed. */
  readonly historyFrom: number;
  /** Strokes a paint layer holds now, for the layers where that changed. */
  readonly strokes: ReadonlyMap<number, readonly Stroke[]>;
}

/** A model with the surface that was measured of it. */
export interface ModelState {
  readonly hash: string;
  readonly mesh: UvMesh;
  readonly surface: SurfaceMap;
}

/** A change of the model, its layout or the sheet's size, with the paint as it is carried over. */
export interface ModelChange {
  /** What the step is called. */
  readonly label: string;
  readonly model: ModelState;
  /** What else changes in the document: seams, weights, pins, names. */
  readonly patch: Partial<ProjectDocument>;
  /** Every filled tile of every paint layer from now on. */
  readonly pixels: readonly TileState[];
}

export interface EngineOptions {
  readonly mesh: UvMesh;
  readonly surface: SurfaceMap;
  readonly kernels: Kernels;
  readonly document: ProjectDocument;
  readonly pixels?: Iterable<TileState>;
  readonly strokes?: ReadonlyMap<number, readonly Stroke[]>;
  readonly history?: History;
  readonly onCommit?: (commit: Commit) => void;
}

/** A paint layer's pixels: tiles by number, absent where empty. */
type Pixels = Map<number, Uint8Array>;

/**
 * Holds one project: document, pixels, history. Everything is done by commands; the picture is composited tile by tile on
 * request. No clock, no randomness: the same commands give the same texels.
 */
export class Engine {
  private model: ModelState;
  /** Models that steps of the history lead to, by hash and size. */
  private readonly models = new Map<string, ModelState>();
  private readonly kernels: Kernels;
  private desk: PaintDesk;
  private readonly onCommit: (commit: Commit) => void;
  private document_: ProjectDocument;
  private history_: History;
  private view: BuildUpView = WHOLE_BUILD_UP;
  private readonly pixels = new Map<number, Pixels>();
  private readonly strokes = new Map<number, readonly Stroke[]>();
  private readonly cues = new Map<string, Uint16Array>();
  /** Derived layers: what makes their tiles, and the tiles made so far. */
  private readonly derived = new Map<number, { paint: TilePainter; tiles: Map<number, Uint8Array> }>();
  /** 1 for each triangle of a region, by its id. */
  private readonly regionFaces = new Map<number, Uint8Array>();
  private readonly dirtyTiles = new Set<number>();
  private live: LiveStroke | null = null;

  constructor(options: EngineOptions) {
    this.model = { hash: options.document.model, mesh: options.mesh, surface: options.surface };
    this.kernels = options.kernels;
    this.provideModel(this.model);
    this.desk = options.kernels.desk(options.surface);
    this.document_ = options.document;
    this.history_ = options.history ?? EMPTY_HISTORY;
    this.onCommit = options.onCommit ?? (() => undefined);
    for (const { layer, tile, bytes } of options.pixels ?? []) this.putTile({ layer, tile, bytes });
    for (const [layer, list] of options.strokes ?? []) this.strokes.set(layer, list);
    this.markAll();
  }

  get mesh(): UvMesh {
    return this.model.mesh;
  }

  get surface(): SurfaceMap {
    return this.model.surface;
  }

  get document(): ProjectDocument {
    return this.document_;
  }

  get history(): History {
    return this.history_;
  }

  /** Strokes of a paint layer, oldest first. */
  strokesOf(layer: number): readonly Stroke[] {
    return this.strokes.get(layer) ?? [];
  }

  strokeCount(): number {
    return this.document_.layers.reduce((n, l) => n + this.strokesOf(l.id).length, 0);
  }

  /** Every filled tile of a paint layer. */
  *tilesOf(layer: number): Iterable<TileState> {
    for (const [tile, bytes] of this.pixels.get(layer) ?? []) yield { layer, tile, bytes };
  }

  /**
   * Does a command.
   *
   * @param gesture commands with the same gesture, one after the other, become one step
   * @throws CoreError `bad-argument` or `layer-missing`; nothing is changed then
   */
  apply(input: Command, gesture: string | null = null): void {
    const parsed = commandSchema.safeParse(input);
    if (!parsed.success) {
      throw new CoreError(
        'bad-argument',
        `That can't be done: ${parsed.error.issues[0]?.message ?? 'unknown command'}.`,
      );
    }
    const command = parsed.data;
    if (command.do === 'stroke') {
      this.replay(command.layer, command.stroke);
      return;
    }
    this.cancelStroke();
    const before = this.document_;
    const after = applyToDocument(before, command);
    const previous = this.pixelsBefore(command, after);
    const next = this.pixelsAfter(command, previous);
    next.forEach((t) => this.putTile(t));
    this.takeDocument(after);
    this.record(
      {
        label: commandLabel(command, before),
        gesture,
        command,
        before,
        after,
        tiles: previous.length ? packTiles(previous) : null,
      },
      next,
      new Map(),
    );
  }

  /** Pixels that a command will change, as they are now. */
  private pixelsBefore(command: Command, after: ProjectDocument): TileState[] {
    if (command.do === 'remove-layer') return [...this.tilesOf(command.layer)];
    if (command.do === 'add-layer' && command.copyPixelsOf !== undefined) {
      const layer = after.nextId - 1;
      return [...this.tilesOf(command.copyPixelsOf)].map(({ tile }) => ({ layer, tile, bytes: null }));
    }
    return [];
  }

  private pixelsAfter(command: Command, previous: readonly TileState[]): TileState[] {
    return previous.map(({ layer, tile }) => ({
      layer,
      tile,
      bytes:
        command.do === 'add-layer'
          ? (this.pixels.get(command.copyPixelsOf!)?.get(tile)?.slice() ?? null)
          : null,
    }));
  }

  // ---- strokes -------------------------------------------------------------------------------------------------------

  /**
   * Begins a stroke on a paint layer.
   *
   * @throws CoreError `layer-missing`, or `bad-argument` if it isn't a paint layer
   */
  beginStroke(layer: number, style: StrokeStyle): void {
    this.cancelStroke();
    const command: Command = { do: 'stroke', layer, stroke: { ...style, runs: [] } };
    applyToDocument(this.document_, command);
    this.live = new LiveStroke({
      layer,
      style,
      part: partNumber(this.mesh.parts, this.document_.renamed, style.part),
      desk: this.desk,
      kernels: this.kernels,
      texelLength: this.surface.texelLength,
    });
  }

  /** Goes on with the stroke in hand. @param samples SAMPLE_STRIDE numbers each; @param lift begins a new run */
  extendStroke(samples: ArrayLike<number>, lift: boolean): void {
    const { live } = this;
    if (!live) return;
    const tiles = this.layerTiles(live.layer);
    for (const tile of live.extend(samples, lift)) {
      tiles.set(tile, live.paint(tile, tiles.get(tile)));
      this.dirtyTiles.add(tile);
    }
  }

  /** Finishes the stroke in hand; one that touched nothing leaves no step. */
  endStroke(): void {
    const { live } = this;
    if (!live) return;
    this.live = null;
    const previous = live.finish();
    if (previous.length === 0) return;
    const stroke = live.stroke();
    const command: Command = { do: 'stroke', layer: live.layer, stroke };
    const pixels = this.layerTiles(live.layer);
    const next = previous.map(({ layer, tile }): TileState => {
      const bytes = pixels.get(tile)!;
      const empty = bytes.every((b) => b === 0);
      if (empty) pixels.delete(tile);
      return { layer, tile, bytes: empty ? null : bytes };
    });
    this.strokes.set(live.layer, [...this.strokesOf(live.layer), stroke]);
    this.record(
      {
        label: commandLabel(command, this.document_),
        gesture: null,
        command,
        before: this.document_,
        after: this.document_,
        tiles: packTiles(previous),
      },
      next,
      new Map([[live.layer, this.strokesOf(live.layer)]]),
    );
  }

  /** Takes the stroke in hand back as if it had not been begun. */
  cancelStroke(): void {
    const { live } = this;
    if (!live) return;
    this.live = null;
    live.finish().forEach((t) => this.putTile(t));
  }

  private replay(layer: number, stroke: Stroke): void {
    const { runs, ...style } = stroke;
    this.beginStroke(layer, style);
    for (const run of runs) this.extendStroke(run, true);
    this.endStroke();
  }

  // ---- model ---------------------------------------------------------------------------------------------------------

  /** Hands over a model that a step of the history needs. */
  provideModel(model: ModelState): void {
    this.models.set(modelKey(model.hash, model.surface.sheets), model);
  }

  /** The model that the next undo or redo leads to, if it hasn't been provided yet. */
  modelNeeded(
    direction: 'undo' | 'redo',
  ): { readonly hash: string; readonly sizes: readonly number[] } | null {
    const { entries, done } = this.history_;
    const document = direction === 'undo' ? entries[done - 1]?.before : entries[done]?.after;
    if (!document || this.models.has(modelKey(document.model, document.sheets))) return null;
    return { hash: document.model, sizes: document.sheets.map((s) => s.size) };
  }

  /**
   * Changes the model and all paint as one step.
   *
   * @throws CoreError `bad-argument` if the sheets that were measured aren't those of the document
   */
  changeModel({ label, model, patch, pixels }: ModelChange): void {
    this.cancelStroke();
    const before = this.document_;
    const after: ProjectDocument = { ...before, ...patch, model: model.hash };
    if (sizesKey(after.sheets) !== sizesKey(model.surface.sheets)) {
      throw new CoreError('bad-argument', 'The sheets were measured at other sizes than they have.');
    }
    const isPaint = new Set(before.layers.filter((l) => l.kind === 'paint').map((l) => l.id));
    const key = ({ layer, tile }: TileState): string => `${layer} ${tile}`;
    const next = new Map(pixels.filter((t) => isPaint.has(t.layer)).map((t) => [key(t), t]));
    const previous = new Map([...isPaint].flatMap((id) => [...this.tilesOf(id)]).map((t) => [key(t), t]));
    // Both sides name the same tiles, so that a step either way empties what the other had.
    for (const [k, { layer, tile }] of previous) if (!next.has(k)) next.set(k, { layer, tile, bytes: null });
    for (const [k, { layer, tile }] of next)
      if (!previous.has(k)) previous.set(k, { layer, tile, bytes: null });
    this.provideModel(model);
    this.useModel(after);
    next.forEach((t) => this.putTile(t));
    this.takeDocument(after);
    this.markAll();
    this.record(
      {
        label,
        gesture: null,
        command: { do: 'change-model', label },
        before,
        after,
        tiles: packTiles([...previous.values()]),
      },
      [...next.values()],
      new Map(),
    );
  }

  /** Takes the document's model in hand, if it is another one. @throws CoreError `storage-damaged` if it isn't there */
  private useModel({ model, sheets }: ProjectDocument): void {
    if (modelKey(model, sheets) === modelKey(this.model.hash, this.surface.sheets)) return;
    const known = this.models.get(modelKey(model, sheets));
    if (!known) {
      throw new CoreError(
        'storage-damaged',
        'The model of that step is missing from storage, so the step can’t be taken. Nothing was changed.',
      );
    }
    this.model = known;
    this.desk = this.kernels.desk(known.surface);
    this.cues.clear();
    this.derived.clear();
    this.regionFaces.clear();
    this.dirtyTiles.clear();
  }

  // ---- history -------------------------------------------------------------------------------------------------------

  /** @returns false if there is nothing to undo */
  undo(): boolean {
    this.cancelStroke();
    const { entries, done } = this.history_;
    const entry = entries[done - 1];
    if (!entry) return false;
    this.step(done - 1, entry, entry.before, done - 1);
    return true;
  }

  /** @returns false if there is nothing to do again */
  redo(): boolean {
    this.cancelStroke();
    const { entries, done } = this.history_;
    const entry = entries[done];
    if (!entry) return false;
    this.step(done, entry, entry.after, done + 1);
    return true;
  }

  /** Swaps the entry's pixels with the present ones and takes the document of its other side. */
  private step(index: number, entry: HistoryEntry, document: ProjectDocument, done: number): void {
    const wanted = entry.tiles ? unpackTiles(entry.tiles) : [];
    const present = wanted.map(({ layer, tile }): TileState => ({
      layer,
      tile,
      bytes: this.pixels.get(layer)?.get(tile) ?? null,
    }));
    const otherModel =
      modelKey(document.model, document.sheets) !== modelKey(this.model.hash, this.surface.sheets);
    this.useModel(document);
    wanted.forEach((t) => this.putTile(t));
    if (otherModel) this.markAll();
    const strokes = this.stepStrokes(entry, done > index);
    this.takeDocument(document);
    const tiles = wanted.length ? packTiles(present) : null;
    this.history_ = { entries: this.history_.entries.with(index, { ...entry, tiles }), done };
    this.onCommit({ document, tiles: wanted, history: this.history_, historyFrom: index, strokes });
  }

  private stepStrokes({ command }: HistoryEntry, forward: boolean): Map<number, readonly Stroke[]> {
    if (command.do !== 'stroke') return new Map();
    const list = this.strokesOf(command.layer);
    this.strokes.set(command.layer, forward ? [...list, command.stroke] : list.slice(0, -1));
    return new Map([[command.layer, this.strokesOf(command.layer)]]);
  }

  private record(entry: HistoryEntry, tiles: TileState[], strokes: Map<number, readonly Stroke[]>): void {
    const { entries, done } = this.history_;
    const last = entries[done - 1];
    const joins = entry.gesture !== null && last?.gesture === entry.gesture && !entry.tiles && !last.tiles;
    const index = joins ? done - 1 : done;
    const kept = joins ? { ...entry, before: last.before } : entry;
    this.history_ = { entries: [...entries.slice(0, index), kept], done: index + 1 };
    this.onCommit({ document: this.document_, tiles, history: this.history_, historyFrom: index, strokes });
  }

  // ---- cues ----------------------------------------------------------------------------------------------------------

  /** The cues that the build-up uses and that haven't been handed over yet. */
  missingCues(): CueSpec[] {
    return cuesOf(this.document_).filter((spec) => !this.cues.has(cueKey(spec)));
  }

  /** @param values 0..65535 a texel, tiled order; may be handed over again when it has become finer */
  setCue(spec: CueSpec, values: Uint16Array): void {
    const key = cueKey(spec);
    this.cues.set(key, values);
    for (const layer of this.document_.layers) {
      if (layer.kind === 'wash' && cueKey(layer.source) === key) this.forget(layer.id);
    }
  }

  /** Takes finer values of a cue for some tiles. */
  refineCue(spec: CueSpec, tiles: readonly { tile: number; values: Uint16Array }[]): void {
    const key = cueKey(spec);
    let values = this.cues.get(key);
    if (!values) this.cues.set(key, (values = new Uint16Array(texelCount(this.surface))));
    for (const { tile, values: part } of tiles) values.set(part, tile * part.length);
    for (const layer of this.document_.layers) {
      if (layer.kind !== 'wash' || cueKey(layer.source) !== key) continue;
      // The painter is made anew: one made while the cue was missing knows none.
      const made = this.derived.get(layer.id)?.tiles ?? new Map<number, Uint8Array>();
      this.derived.set(layer.id, { paint: washPainter(this.surface, values, layer), tiles: made });
      for (const { tile } of tiles) {
        made.delete(tile);
        this.dirtyTiles.add(tile);
      }
    }
  }

  // ---- picture -------------------------------------------------------------------------------------------------------

  setView(view: BuildUpView): void {
    if (view.alone === this.view.alone && view.maskOf === this.view.maskOf) return;
    this.view = view;
    this.markAll();
  }

  /** Tiles whose picture is out of date, in the order in which they became so. */
  dirty(): readonly number[] {
    return [...this.dirtyTiles];
  }

  /** Composites one tile as it is to be shown: straight-alpha RGBA8 in tile order. */
  renderTile(tile: number, out: Uint8Array): void {
    this.dirtyTiles.delete(tile);
    const { alone, maskOf } = this.view;
    const only = this.document_.layers.find((l) => l.id === (maskOf ?? alone));
    if (!only) {
      this.compositeTile(tile, out);
      return;
    }
    const bytes = this.tileOf(only, tile);
    if (maskOf === null) {
      if (bytes) out.set(bytes);
      else out.fill(0);
      return;
    }
    const base = tile * (TILE_BYTES / 4);
    for (let i = 0; i < TILE_BYTES; i += 4) {
      out.fill(bytes ? bytes[i + 3]! : 0, i, i + 3);
      out[i + 3] = this.surface.face[base + i / 4]! >= 0 ? 255 : 0;
    }
  }

  /** Composites one tile of the whole build-up, whatever is shown: what is delivered. */
  compositeTile(tile: number, out: Uint8Array): void {
    const layers: LayerTile[] = [];
    for (const layer of this.document_.layers) {
      if (!layer.visible || layer.opacity === 0) continue;
      const bytes = this.tileOf(layer, tile);
      if (bytes) layers.push({ tile: bytes, mode: layer.blend, opacity: layer.opacity });
    }
    this.kernels.composite(layers, out);
  }

  private tileOf(layer: Layer, tile: number): Uint8Array | undefined {
    const bytes = this.wholeTileOf(layer, tile);
    if (layer.region === undefined || !bytes) return bytes;
    return this.masked(bytes, tile, layer.region);
  }

  /** A layer's tile without what lies outside a region. */
  private masked(bytes: Uint8Array, tile: number, region: number): Uint8Array {
    let inside = this.regionFaces.get(region);
    if (!inside) {
      inside = new Uint8Array(this.mesh.faceParts.length);
      for (const f of this.document_.regions.find((r) => r.id === region)?.faces ?? []) inside[f] = 1;
      this.regionFaces.set(region, inside);
    }
    const out = bytes.slice();
    const { face } = this.surface;
    const base = tile * TILE_TEXELS;
    for (let i = 0; i < TILE_TEXELS; i++) {
      const f = face[base + i]!;
      if (f < 0 || !inside[f]) out.fill(0, i * 4, i * 4 + 4);
    }
    return out;
  }

  private wholeTileOf(layer: Layer, tile: number): Uint8Array | undefined {
    if (layer.kind === 'paint') return this.pixels.get(layer.id)?.get(tile);
    let derived = this.derived.get(layer.id);
    if (!derived) {
      this.derived.set(layer.id, (derived = { paint: this.painterOf(layer), tiles: new Map() }));
    }
    let bytes = derived.tiles.get(tile);
    if (!bytes) derived.tiles.set(tile, (bytes = derived.paint(tile)));
    return bytes;
  }

  private painterOf(layer: Exclude<Layer, { kind: 'paint' }>): TilePainter {
    switch (layer.kind) {
      case 'local':
        return localPainter(this.surface, this.mesh.parts, layer);
      case 'wash':
        return washPainter(this.surface, this.cues.get(cueKey(layer.source)) ?? null, layer);
      case 'light':
        return lightPainter(this.surface, this.document_.light);
    }
  }

  // ---- upkeep --------------------------------------------------------------------------------------------------------

  private layerTiles(layer: number): Pixels {
    let tiles = this.pixels.get(layer);
    if (!tiles) this.pixels.set(layer, (tiles = new Map()));
    return tiles;
  }

  private putTile({ layer, tile, bytes }: TileState): void {
    if (bytes) this.layerTiles(layer).set(tile, bytes);
    else this.pixels.get(layer)?.delete(tile);
    this.dirtyTiles.add(tile);
  }

  private markAll(): void {
    for (let t = 0; t < spannedTiles(this.surface.sheets); t++) this.dirtyTiles.add(t);
  }

  /** Drops a derived layer's tiles; the whole picture is out of date. */
  private forget(layer: number): void {
    this.derived.delete(layer);
    this.markAll();
  }

  /** Takes a new document and drops exactly those derived pixels that no longer hold. */
  private takeDocument(next: ProjectDocument): void {
    const previous = this.document_;
    this.document_ = next;
    if (previous.regions !== next.regions) this.regionFaces.clear();
    else if (previous.layers === next.layers && previous.light === next.light) return;
    for (const layer of previous.layers) {
      const now = next.layers.find((l) => l.id === layer.id);
      if (!now || !samePixels(layer, now)) this.derived.delete(layer.id);
      else if (layer.kind === 'light' && previous.light !== next.light) this.derived.delete(layer.id);
    }
    if (next.layers.length > 0 || previous.layers.length > 0) this.markAll();
  }

  /** @throws CoreError `layer-missing` */
  layer(id: number): Layer {
    return this.document_.layers[layerIndex(this.document_, id)]!;
  }

  /** Colour of a texel in the whole build-up. */
  colorAt(texel: number): { r: number; g: number; b: number; a: number } {
    const out = new Uint8Array(TILE_BYTES);
    const texels = TILE_BYTES / 4;
    this.compositeTile(Math.floor(texel / texels), out);
    const o = (texel % texels) * 4;
    return { r: out[o]!, g: out[o + 1]!, b: out[o + 2]!, a: out[o + 3]! };
  }
}

/** True if two states of a derived layer have the same pixels: only name, visibility, opacity or blend mode differ. */
function samePixels(a: Layer, b: Layer): boolean {
  const core = ({ name: _n, visible: _v, opacity: _o, blend: _b, region: _r, ...rest }: Layer): string =>
    JSON.stringify(rest);
  return a === b || core(a) === core(b);
}

const modelKey = (hash: string, sheets: readonly { readonly size: number }[]): string =>
  `${hash} ${sizesKey(sheets)}`;

/** The number of a stroke's part, which may have been renamed since; -1 for any. */
export function partNumber(
  parts: readonly string[],
  renamed: Readonly<Record<string, string>>,
  name: string | null,
): number {
  if (name === null) return -1;
  return parts.indexOf(renamed[name] ?? name);
}
