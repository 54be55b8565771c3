import type { CueSpec } from '../cues';
import {
  applyPatch,
  applyToDocument,
  commandLabel,
  commandSchema,
  diffDocuments,
  requireNode,
  type Command,
  type GuardWish,
  type LayerNode,
  type NodePatch,
  type ProjectDocument,
  type SingleCommand,
} from '../document';
import { CoreError } from '../errors';
import {
  History,
  type HistoryChange,
  type HistoryData,
  type HistoryStep,
  type HistoryView,
} from '../history';
import type { Kernels } from '../kernels';
import { planeOf, type Channel } from '../layers';
import type { UvMesh } from '../mesh';
import type { PlanePaint } from '../model';
import { LiveStroke, PaintDesk, type Stroke, type StrokeStyle } from '../paint';
import { isEmptyTile, packTiles, PixelStore, unpackTiles, type PackedTiles, type TileState } from '../pixels';
import { TILE_BYTES, TILE_TEXELS, type SurfaceMap } from '../surface';
import { LayerTiles } from './layer-tiles';
import { planModelChange, type ModelChange, type ModelChanged } from './model-change';
import { modelKey, Models, type ModelState } from './models';
import { Picture, type BuildUpView } from './picture';
import { paintedPlane, pixelWork, planesOf } from './pixel-work';
import { Planes } from './planes';
import { prepareStroke } from './prepare-stroke';

/** A finished change, in full: whoever keeps the project writes all of it at once. */
export interface Commit {
  /** Grows by one with every commit. */
  readonly revision: number;
  readonly document: ProjectDocument;
  /** Tiles that have changed, as they are now. */
  readonly tiles: readonly TileState[];
  readonly history: HistoryChange;
  /** For the planes whose strokes changed: how many they have now, and those that came at the end. */
  readonly strokes: ReadonlyMap<number, { readonly count: number; readonly added: readonly Stroke[] }>;
  /** A model that is new to the project. */
  readonly model: { readonly hash: string; readonly mesh: UvMesh } | null;
}

export interface EngineOptions {
  readonly surface: SurfaceMap;
  readonly kernels: Kernels;
  readonly document: ProjectDocument;
  readonly pixels?: Iterable<TileState>;
  readonly strokes?: ReadonlyMap<number, readonly Stroke[]>;
  readonly history?: HistoryData;
  readonly onCommit?: (commit: Commit) => void;
  /** Bytes that unpacked pixels may take. */
  readonly pixelBudget?: number;
}

/** What a command has brought about. */
export interface CommandResult {
  /** Ids that were given, in order. */
  readonly ids: readonly number[];
  /** Number of the step that it became. */
  readonly step: number;
}

/** Changes of the model that can be under way at once. */
const MOST_BEGUN = 8;

/** A stroke in hand. */
interface Hand {
  readonly layer: number;
  readonly channel: Channel;
  readonly plane: number;
  readonly live: LiveStroke;
  readonly style: StrokeStyle;
  readonly prepared: ReturnType<typeof prepareStroke>;
}

/** A change that is ready to be recorded. */
interface Change {
  readonly label: string;
  readonly kind: string;
  readonly after: ProjectDocument;
  /** Tiles as they are after it; those of the step itself, and those of bases. */
  readonly tiles: readonly TileState[];
  readonly baseTiles?: readonly TileState[];
  readonly gesture?: string | null;
  readonly stroke?: { readonly plane: number; readonly stroke: Stroke } | null;
  readonly models?: readonly string[];
  readonly model?: Commit['model'];
}

/**
 * Holds one project: document, pixels, history. Everything is done by commands; the picture is composited tile by tile on
 * request. No clock, no randomness: the same commands give the same texels.
 */
export class Engine {
  private readonly kernels: Kernels;
  private readonly onCommit: (commit: Commit) => void;
  private readonly pixels: PixelStore;
  private readonly planes: Planes;
  private readonly models = new Models();
  private readonly history_: History;
  private readonly tiles: LayerTiles;
  private readonly picture: Picture;
  private model: ModelState;
  private desk: PaintDesk;
  private document_: ProjectDocument;
  private hand: Hand | null = null;
  private previewing = false;
  private revision_ = 0;
  /** Documents from which changes of the model have begun, by revision. */
  private readonly begun = new Map<number, ProjectDocument>();
  /** The revision at which each plane last changed. */
  private readonly changedAt = new Map<number, number>();

  constructor(options: EngineOptions) {
    const { surface, kernels, document } = options;
    this.kernels = kernels;
    this.onCommit = options.onCommit ?? (() => undefined);
    this.document_ = document;
    this.model = { hash: document.model, surface };
    this.models.provide(this.model);
    this.desk = new PaintDesk(surface, kernels);
    this.pixels = new PixelStore(options.pixelBudget);
    for (const state of options.pixels ?? []) this.pixels.put(state);
    this.planes = new Planes(this.pixels, options.strokes ?? new Map());
    this.history_ = new History(options.history);
    this.tiles = new LayerTiles(surface, document, this.pixels);
    this.picture = new Picture(kernels, this.tiles, this.pixels, surface, document);
  }

  get mesh(): UvMesh {
    return this.model.surface.mesh;
  }
  get surface(): SurfaceMap {
    return this.model.surface;
  }
  get document(): ProjectDocument {
    return this.document_;
  }
  /** Grows by one with every change: long work names the one that it began from. */
  get revision(): number {
    return this.revision_;
  }
  get history(): HistoryView {
    return this.history_.view();
  }
  get historyData(): HistoryData {
    return this.history_.data;
  }
  get strokeInHand(): boolean {
    return this.hand !== null;
  }

  /** Strokes of a layer, oldest first. */
  strokesOf(layer: number, channel: Channel = 'pixels'): readonly Stroke[] {
    return this.planes.strokesOf(planeOf(layer, channel));
  }

  strokeCount(): number {
    return planesOf(this.document_).reduce((n, plane) => n + this.planes.strokesOf(plane).length, 0);
  }

  /** Every filled tile of a layer. */
  tilesOf(layer: number, channel: Channel = 'pixels'): Iterable<TileState & { readonly bytes: Uint8Array }> {
    return this.pixels.states(planeOf(layer, channel));
  }

  /** All pixels and strokes, as they are kept. */
  everything(): { readonly pixels: TileState[]; readonly strokes: ReadonlyMap<number, readonly Stroke[]> } {
    return {
      pixels: this.pixels.planeNumbers().flatMap((plane) => [...this.pixels.states(plane)]),
      strokes: new Map(this.planes.numbers().map((plane) => [plane, this.planes.strokesOf(plane)])),
    };
  }

  /** @throws CoreError `layer-missing` */
  layer(id: number): LayerNode {
    return requireNode(this.document_.layers, id);
  }

  /**
   * Does a command.
   *
   * @param gesture commands of one drag share a name and become one step
   * @throws CoreError `bad-argument`, `layer-missing` or `document-invalid`; nothing is changed then
   */
  apply(input: Command, gesture: string | null = null): CommandResult {
    const parsed = commandSchema.safeParse(input);
    if (!parsed.success) {
      const issue = parsed.error.issues[0];
      throw new CoreError('bad-argument', `That can't be done: ${issue?.message ?? 'unknown command'}.`, {
        cause: parsed.error,
      });
    }
    const command = parsed.data;
    if (command.do === 'stroke') return this.makeStroke(command);
    this.cancelStroke();
    const before = this.document_;
    const commands: readonly SingleCommand[] = command.do === 'several' ? command.commands : [command];
    if (command.do === 'several' && command.commands.some((c) => c.do === 'stroke')) {
      throw new CoreError('bad-argument', 'Strokes are steps of their own.');
    }
    let after = before;
    const ids: number[] = [];
    const tiles = new Map<string, TileState>();
    const undoTrial: TileState[] = [];
    const rebased: number[] = [];
    try {
      for (const one of commands) {
        const applied = applyToDocument(after, one);
        const { pixels, surface, picture } = this;
        const work = pixelWork(one, {
          before: after,
          after: applied.document,
          ids: applied.ids,
          pixels,
          surface,
          picture,
        });
        for (const state of work.tiles) {
          const { plane, tile } = state;
          tiles.set(`${plane} ${tile}`, state);
          if (commands.length === 1) continue;
          // Later ones of several see what earlier ones did.
          undoTrial.push({ plane, tile, bytes: this.pixels.get(plane, tile) ?? null });
          this.pixels.put(state);
        }
        rebased.push(...work.rebased);
        ids.push(...applied.ids);
        after = applied.document;
        if (commands.length > 1) this.showDocument(after);
      }
    } finally {
      undoTrial.reverse().forEach((state) => this.pixels.put(state));
      if (commands.length > 1) this.showDocument(before);
    }
    const bases = rebased.flatMap((plane) => this.planes.baseIsNow(plane));
    const step = this.commit({
      label: commandLabel(command, before),
      kind: kindName(command),
      after: this.withBases(after, rebased),
      tiles: [...tiles.values(), ...bases],
      gesture,
    });
    return { ids, step };
  }

  /** The document in which planes lie on what they are now. */
  private withBases(document: ProjectDocument, planes: readonly number[]): ProjectDocument {
    if (planes.length === 0) return document;
    const bases = planes.map((plane) => ({ plane, strokes: this.planes.strokesOf(plane).length }));
    return { ...document, bases: [...document.bases.filter((b) => !planes.includes(b.plane)), ...bases] };
  }

  // ---- strokes -------------------------------------------------------------------------------------------------------

  private makeStroke(command: Extract<SingleCommand, { do: 'stroke' }>): CommandResult {
    const { runs, ...style } = command.stroke;
    this.beginStroke(command.layer, style, command.guard, command.channel);
    for (const run of runs) this.extendStroke(run, true);
    this.endStroke();
    return { ids: [], step: this.history.last ?? 0 };
  }

  /**
   * Begins a stroke on a paint layer or a painted mask.
   *
   * @throws CoreError `layer-missing`, or `bad-argument` if nothing can be painted there
   */
  beginStroke(
    layer: number,
    style: StrokeStyle,
    guard: GuardWish | null = null,
    channel: Channel = 'pixels',
  ): void {
    this.cancelStroke();
    const plane = paintedPlane(this.document_, layer, channel);
    const used = (): Iterable<number> => this.guardsInUse();
    const prepared = prepareStroke(this.document_, this.mesh, guard, used);
    const keepAlpha = channel === 'pixels' && this.layer(layer).lock === 'transparent';
    const { desk, kernels } = this;
    const live = new LiveStroke({ style, keepAlpha, guard: prepared.faces, desk, kernels });
    this.hand = { layer, channel, plane, live, style, prepared };
    this.history_.endGesture();
    this.picture.hold(layer);
  }

  /** Goes on with the stroke in hand. @param samples SAMPLE_STRIDE numbers each; @param lift begins a new run */
  extendStroke(samples: ArrayLike<number>, lift: boolean): void {
    const { hand } = this;
    if (!hand) return;
    const subs = new Map<number, number>();
    for (const sub of hand.live.extend(samples, lift)) {
      subs.set(sub >> 2, (subs.get(sub >> 2) ?? 0) | (1 << (sub & 3)));
    }
    for (const [tile, touched] of subs) {
      const bytes = hand.live.paint(tile, this.pixels.get(hand.plane, tile));
      this.pixels.put({ plane: hand.plane, tile, bytes });
      this.picture.touch(hand.plane, tile, touched);
    }
  }

  /** Finishes the stroke in hand; one that touched nothing leaves no step. */
  endStroke(): void {
    const { hand } = this;
    if (!hand) return;
    const { plane, live, style, prepared } = hand;
    const previous = [...live.before].map(([tile, bytes]): TileState => ({ plane, tile, bytes }));
    const next = previous.map(({ tile }): TileState => {
      const bytes = this.pixels.get(plane, tile)!;
      return { plane, tile, bytes: isEmptyTile(bytes) ? null : bytes };
    });
    this.letGo();
    if (previous.length === 0) return;
    previous.forEach((state) => this.pixels.put(state));
    const stroke: Stroke = {
      ...style,
      keepAlpha: hand.channel === 'pixels' && this.layer(hand.layer).lock === 'transparent',
      within: prepared.within,
      frame: prepared.frame,
      runs: live.runs,
    };
    this.commit({
      label: commandLabel(
        {
          do: 'stroke',
          layer: hand.layer,
          channel: hand.channel,
          guard: null,
          stroke: { ...style, runs: [] },
        },
        this.document_,
      ),
      kind: 'stroke',
      after: prepared.document,
      tiles: next,
      baseTiles: this.planes.baseBefore(this.document_, plane, previous),
      stroke: { plane, stroke },
    });
  }

  /** Takes the stroke in hand back as if it had not been begun. @returns whether there was one */
  cancelStroke(): boolean {
    const { hand } = this;
    if (!hand) return false;
    const { plane } = hand;
    hand.live.before.forEach((bytes, tile) => {
      this.pixels.put({ plane, tile, bytes });
      this.picture.touch(plane, tile);
    });
    this.letGo();
    return true;
  }

  private letGo(): void {
    this.hand?.live.end();
    this.hand = null;
    this.picture.hold(null);
  }

  private *guardsInUse(): Iterable<number> {
    for (const plane of this.planes.numbers()) {
      for (const { within } of this.planes.strokesOf(plane)) if (within !== null) yield within;
    }
    for (const { stroke } of this.history_.data.steps) {
      if (stroke && stroke.stroke.within !== null) yield stroke.stroke.within;
    }
  }

  // ---- model ---------------------------------------------------------------------------------------------------------

  /** Long work on the model begins: `changeModel` is to name the revision that it began from. */
  beginChange(): { readonly from: number; readonly document: ProjectDocument } {
    this.begun.set(this.revision_, this.document_);
    const [oldest] = this.begun.keys();
    if (this.begun.size > MOST_BEGUN && oldest !== undefined) this.begun.delete(oldest);
    return { from: this.revision_, document: this.document_ };
  }

  /** Every painted plane with all that carrying it to another model needs, as it is now. */
  paintPlanes(): { readonly paintedAt: number; readonly planes: PlanePaint[] } {
    const planes = this.planes.numbers().map((plane) => this.planes.paintOf(this.document_, plane));
    return { paintedAt: this.revision_, planes };
  }

  /** Hands over a model that a step of the history needs. */
  provideModel(model: ModelState): void {
    this.models.provide(model);
  }

  /** What has to be handed over before the next undo or redo can be taken. */
  needed(direction: 'undo' | 'redo'): {
    readonly model: { readonly hash: string; readonly sizes: readonly number[] } | null;
    /** Number of the step whose pixels are away. */
    readonly step: number | null;
  } {
    const next = this.history_.next(direction);
    if (!next) return { model: null, step: null };
    const { step, number } = next;
    const { model, sheets } = this.otherSide(step, direction);
    const known = this.isModelInHand(model, sheets) || this.models.get(model, sheets);
    return {
      model: known ? null : { hash: model, sizes: sheets.map((s) => s.size) },
      step: step.tiles === 'away' ? number : null,
    };
  }

  /** Hands over a step's pixels that were away. */
  provideStep(number: number, tiles: PackedTiles): void {
    this.history_.provide(number, tiles);
  }

  /** Lets go of what the history holds in memory though it is on disk as well. */
  releaseSteps(isKept: (number: number) => boolean): void {
    this.history_.release(isKept);
  }

  /**
   * Changes the model and all paint as one step. What was painted since the change was begun is carried along.
   *
   * @returns `again` if the model, its seams or its sheets have changed since, or while a stroke is being made: nothing is done then
   * @throws CoreError `bad-argument` if the sheets that were measured aren't those of the document, `document-invalid`
   */
  changeModel(change: ModelChange): ModelChanged {
    if (this.hand) return { done: false, again: 'stroke' };
    const planned = planModelChange(change, {
      begun: this.begun.get(change.from),
      document: this.document_,
      surface: this.surface,
      changedAt: (plane) => this.changedAt.get(plane) ?? 0,
      paintOf: (plane) => this.planes.paintOf(this.document_, plane),
      planes: this.planes.numbers(),
      kernels: this.kernels,
    });
    if (!planned) return { done: false, again: 'model' };
    const { document, pixels } = planned;
    const before = this.document_.model;
    // Both sides name the same tiles, so that a step either way empties what the other had.
    const next = new Map(pixels.map((t) => [`${t.plane} ${t.tile}`, t]));
    for (const plane of this.pixels.planeNumbers()) {
      for (const tile of this.pixels.tiles(plane)) {
        const key = `${plane} ${tile}`;
        if (!next.has(key)) next.set(key, { plane, tile, bytes: null });
      }
    }
    this.models.provide(change.model);
    const step = this.commit({
      label: change.label,
      kind: 'change-model',
      after: document,
      tiles: [...next.values()],
      models: [before, change.model.hash],
      model: { hash: change.model.hash, mesh: change.model.surface.mesh },
    });
    return { done: true, step };
  }

  private isModelInHand(hash: string, sheets: readonly { readonly size: number }[]): boolean {
    return modelKey(hash, sheets) === modelKey(this.model.hash, this.surface.sheets);
  }

  /** Takes the document's model in hand, if it is another one. @throws CoreError `storage-damaged` if it isn't there */
  private useModel({ model, sheets }: ProjectDocument): boolean {
    if (this.isModelInHand(model, sheets)) return false;
    const known = this.models.get(model, sheets);
    if (!known) {
      throw new CoreError(
        'storage-damaged',
        'The model of that step is missing from storage, so the step can’t be taken. Nothing was changed.',
      );
    }
    this.model = known;
    this.desk = new PaintDesk(known.surface, this.kernels);
    this.tiles.useSurface(known.surface);
    this.picture.useSurface(known.surface);
    return true;
  }

  // ---- history -------------------------------------------------------------------------------------------------------

  /**
   * Takes back the last step, or the stroke in hand.
   *
   * @param step only if it is this one
   * @returns false if there is nothing to undo
   * @throws CoreError `bad-argument` if other steps have come after `step`
   */
  undo(step: number | null = null): boolean {
    if (step !== null) this.requireLast(step);
    return this.cancelStroke() || this.take('undo');
  }

  /** @returns false if there is nothing to do again */
  redo(): boolean {
    return !this.cancelStroke() && this.take('redo');
  }

  private requireLast(step: number): void {
    const { last } = this.history;
    if (last === step) return;
    throw new CoreError(
      'bad-argument',
      last === null || last < step
        ? 'That was taken back already.'
        : `Since then ${last - step} more ${last - step === 1 ? 'step was' : 'steps were'} done. Take those back first.`,
    );
  }

  private otherSide({ patch }: HistoryStep, direction: 'undo' | 'redo'): ProjectDocument {
    return applyPatch(this.document_, patch, direction === 'undo' ? 'back' : 'forward');
  }

  /** Swaps the step's pixels with the present ones and takes the document of its other side. */
  private take(direction: 'undo' | 'redo'): boolean {
    const next = this.history_.next(direction);
    if (!next) return false;
    const { step } = next;
    if (step.tiles === 'away') {
      throw new CoreError(
        'storage-damaged',
        'The pixels of that step are missing from storage, so it can’t be taken. Nothing was changed.',
      );
    }
    const document = this.otherSide(step, direction);
    const wanted = step.tiles ? unpackTiles(step.tiles) : [];
    const present = wanted.map(({ plane, tile }): TileState => ({
      plane,
      tile,
      bytes: this.pixels.get(plane, tile) ?? null,
    }));
    const bases =
      direction === 'redo' && step.stroke
        ? this.planes.baseBefore(this.document_, step.stroke.plane, present)
        : [];
    this.useModel(document);
    const strokes = this.stepStrokes(step, direction);
    const tiles = [...bases, ...wanted];
    this.takeTiles(tiles, document);
    const history = this.history_.take(direction, wanted.length ? packTiles(present) : null);
    this.tell(tiles, history, strokes, null);
    return true;
  }

  private stepStrokes({ stroke }: HistoryStep, direction: 'undo' | 'redo'): Commit['strokes'] {
    if (!stroke) return new Map();
    const list = this.planes.strokesOf(stroke.plane);
    const next = direction === 'redo' ? [...list, stroke.stroke] : list.slice(0, -1);
    this.planes.setStrokes(stroke.plane, next);
    const added = direction === 'redo' ? [stroke.stroke] : [];
    return new Map([[stroke.plane, { count: next.length, added }]]);
  }

  /** Makes a change and records it as a step. @returns the step's number */
  private commit(change: Change): number {
    const {
      label,
      kind,
      after,
      tiles,
      baseTiles = [],
      gesture = null,
      stroke = null,
      models = [],
      model = null,
    } = change;
    const before = this.document_;
    const previous = tiles.map(({ plane, tile }): TileState => ({
      plane,
      tile,
      bytes: this.pixels.get(plane, tile) ?? null,
    }));
    this.useModel(after);
    let strokes: Commit['strokes'] = new Map();
    if (stroke) {
      const list = [...this.planes.strokesOf(stroke.plane), stroke.stroke];
      this.planes.setStrokes(stroke.plane, list);
      strokes = new Map([[stroke.plane, { count: list.length, added: [stroke.stroke] }]]);
    }
    this.takeTiles([...tiles, ...baseTiles], after);
    const step: HistoryStep = {
      label,
      kind,
      patch: diffDocuments(before, after),
      stroke,
      models,
      tiles: previous.length ? packTiles(previous) : null,
    };
    const history = this.history_.add(step, before, after, gesture);
    this.tell([...tiles, ...baseTiles], history, strokes, model);
    return history.number;
  }

  private takeTiles(tiles: readonly TileState[], document: ProjectDocument): void {
    for (const state of tiles) {
      this.pixels.put(state);
      this.picture.touch(state.plane, state.tile);
      this.changedAt.set(state.plane, this.revision_ + 1);
    }
    this.showDocument(document);
  }

  private showDocument(document: ProjectDocument): void {
    if (document === this.document_ && !this.previewing) return;
    this.previewing = false;
    this.document_ = document;
    this.tiles.useDocument(document);
    this.picture.useDocument(document);
  }

  private tell(
    tiles: readonly TileState[],
    history: HistoryChange,
    strokes: Commit['strokes'],
    model: Commit['model'],
  ): void {
    this.revision_++;
    for (const plane of strokes.keys()) this.changedAt.set(plane, this.revision_);
    this.onCommit({ revision: this.revision_, document: this.document_, tiles, history, strokes, model });
  }

  // ---- cues and picture ----------------------------------------------------------------------------------------------

  /** The cues that the build-up uses and that haven't been handed over yet. */
  missingCues(): CueSpec[] {
    return this.tiles.wantedCues().filter((spec) => !this.tiles.hasCue(spec));
  }

  /** The cues that the build-up uses. */
  wantedCues(): CueSpec[] {
    return this.tiles.wantedCues();
  }

  /** @param values 0..65535 a texel in the order of the surface's codes; may be handed over again when it has become finer */
  setCue(spec: CueSpec, values: Uint16Array): void {
    if (values.length !== this.surface.codes.length) {
      throw new CoreError('bad-argument', 'The cue was measured on another model or at another size.');
    }
    this.tiles.setCue(spec, values);
    this.picture.refresh();
  }

  /** Takes finer values of a cue for some tiles, 4096 each. */
  refineCue(spec: CueSpec, tiles: readonly { tile: number; values: Uint16Array }[]): void {
    const isNew = !this.tiles.hasCue(spec);
    const values = this.tiles.cueInHand(spec);
    const nodes = this.tiles.nodesWithCue(spec);
    for (const { tile, values: part } of tiles) {
      const slot = this.surface.slotOfTile[tile];
      if (slot === undefined || slot < 0) continue;
      values.set(part, slot * TILE_TEXELS);
      for (const node of nodes) this.tiles.forgetMask(node, tile);
      if (nodes.length) this.picture.mark(tile);
    }
    if (isNew) this.picture.refresh();
  }

  setView(view: BuildUpView): void {
    this.picture.setView(view);
  }

  /**
   * Shows a node as it would look with other settings, until the next change or until it is taken back.
   *
   * @param patch null: as it is
   */
  preview(layer: number, patch: NodePatch | null): void {
    const document = patch
      ? applyToDocument(this.document_, { do: 'patch-layer', layer, patch }).document
      : this.document_;
    this.previewing = patch !== null;
    this.tiles.useDocument(document);
    this.picture.useDocument(document);
  }

  /** Tiles whose picture is out of date, in the order in which they became so. */
  dirty(): readonly number[] {
    return this.picture.dirty();
  }

  /** See `Picture.render`. */
  renderTile(tile: number, out: Uint8Array): number {
    return this.picture.render(tile, out);
  }

  /** Composites one tile of the whole build-up, whatever is shown: what is delivered. */
  compositeTile(tile: number, out: Uint8Array): void {
    this.picture.composite(tile, out);
  }

  /** Colour of a texel in the whole build-up. */
  colorAt(texel: number): { r: number; g: number; b: number; a: number } {
    const out = new Uint8Array(TILE_BYTES);
    this.compositeTile(Math.floor(texel / TILE_TEXELS), out);
    const o = (texel % TILE_TEXELS) * 4;
    return { r: out[o]!, g: out[o + 1]!, b: out[o + 2]!, a: out[o + 3]! };
  }
}

/** A drag changes one thing: what it is done to belongs to its name. */
function kindName(command: { readonly do: string }): string {
  const target = ['layer', 'light', 'swatch', 'region', 'reference'].find((k) => k in command);
  return target ? `${command.do} ${String((command as Record<string, unknown>)[target])}` : command.do;
}
