import { applyToDocument, checkCommand, type Command, type NodePatch } from '../commands';
import type { CueSpec } from '../cues';
import { planesOf, requireNode, type Detail, type LayerNode, type ProjectDocument } from '../document';
import { CoreError } from '../errors';
import type { HistoryData, HistoryView } from '../history';
import type { InkLine } from '../ink';
import {
  planeOf,
  type Channel,
  type InkFigures,
  type InkLayer,
  type Layer,
  type LocalColors,
} from '../layers';
import type { MaskTile, CoarsePicture, DetailPicture, BuildUpView } from '../compositor';
import type { Vec3 } from '../math';
import type { UvMesh } from '../mesh';
import type { FilePose, Motion } from '../motion';
import type { ChannelPaint } from '../model';
import type { Stroke, StrokeStyle } from '../paint';
import type { PackedTiles, TileState } from '../pixels';
import { TILE_BYTES, TILE_TEXELS, type SurfaceMap } from '../surface';
import type { Commit, CommandResult, Deed } from './commit';
import { checkAttached, type AttachCommand } from './attach';
import { doCommand } from './do-command';
import { editStrokes, listStrokes, type StrokeSummary } from './strokes/film';
import { FilmPlayer } from './strokes/film-player';
import { ModelChanger } from './model/model-changer';
import type { ModelChange, ModelChanged } from './model/model-change';
import type { ModelState } from './model/models';
import { ProjectState, type EngineOptions } from './project-state';
import { reachMap, type ReachMap } from './strokes/reach-map';
import { neededFor, requireLastStep, takeDeed, type Needed } from './steps';
import { StrokeMaker, type StrokeHow } from './strokes/stroke-maker';

/**
 * Holds one project: document, pixels, history. Everything is done by commands; the picture is composited tile by tile on
 * request. No clock, no randomness: the same commands give the same texels.
 */
export class Engine {
  private readonly state: ProjectState;
  private readonly strokes: StrokeMaker;
  private readonly changer: ModelChanger;
  private readonly film: FilmPlayer;

  constructor(options: EngineOptions) {
    this.state = new ProjectState(options);
    this.strokes = new StrokeMaker(this.state);
    this.changer = new ModelChanger(this.state);
    this.film = new FilmPlayer(this.state);
  }

  get mesh(): UvMesh {
    return this.state.surface.mesh;
  }
  get surface(): SurfaceMap {
    return this.state.surface;
  }
  get document(): ProjectDocument {
    return this.state.document;
  }
  /** Grows by one with every change: long work names the one that it began from. */
  get revision(): number {
    return this.state.revision;
  }
  get history(): HistoryView {
    return this.state.history.view();
  }
  get historyData(): HistoryData {
    return this.state.history.data;
  }
  get strokeInHand(): boolean {
    return this.strokes.inHand;
  }

  /** Strokes of a layer, oldest first. */
  strokesOf(layer: number, channel: Channel = 'pixels'): readonly Stroke[] {
    return this.state.planes.strokesOf(planeOf(layer, channel));
  }

  /** Number of strokes on all layers and masks. */
  strokeCount(): number {
    const { planes, document } = this.state;
    return planesOf(document).reduce((n, plane) => n + planes.strokesOf(plane).length, 0);
  }

  /** Every filled tile of a layer. */
  tilesOf(layer: number, channel: Channel = 'pixels'): Iterable<TileState & { readonly bytes: Uint8Array }> {
    return this.state.pixels.states(planeOf(layer, channel));
  }

  /** All pixels and strokes, as they are kept. */
  everything(): {
    readonly pixels: TileState[];
    readonly strokes: ReadonlyMap<number, readonly Stroke[]>;
    readonly files: ReadonlyMap<number, Uint8Array>;
  } {
    this.film.end();
    const { pixels, planes, files } = this.state;
    return {
      pixels: pixels.planeNumbers().flatMap((plane) => [...pixels.states(plane)]),
      strokes: new Map(planes.numbers().map((plane) => [plane, planes.strokesOf(plane)])),
      files,
    };
  }

  /** What came as a file; null if there is none of that id. */
  file(id: number): Uint8Array | null {
    return this.state.files.get(id) ?? null;
  }

  /** @throws CoreError `layer-missing` */
  layer(id: number): LayerNode {
    return requireNode(this.document.layers, id);
  }

  // ---- commands and strokes ------------------------------------------------------------------------------------------

  /**
   * Does a command.
   *
   * @param gesture commands of one drag share a name and become one step
   * @param deed what of the user's it belongs to: steps of one deed are undone by one key
   * @throws CoreError `bad-argument`, `layer-missing` or `document-invalid`; nothing is changed then
   */
  apply(input: Command, gesture: string | null = null, deed: Deed | null = null): CommandResult {
    const command = checkCommand(input);
    this.letGo();
    if (command.do === 'edit-strokes') {
      return { ids: [], step: editStrokes(this.state, command, { gesture, deed }) };
    }
    if (command.do !== 'stroke') return doCommand(this.state, command, { gesture, deed });
    const { runs, ...style } = command.stroke;
    const { guard, channel, keepAlpha } = command;
    this.beginStroke(command.layer, style, { guard, channel, keepAlpha, deed });
    for (const run of runs) this.extendStroke(run, true);
    this.endStroke();
    return { ids: [], step: this.history.last ?? 0 };
  }

  /**
   * Does a command with the file that it is about, or several pictures as one step.
   *
   * @throws CoreError as `apply`, and `file-not-a-picture` if the file isn't what it should be
   */
  attach(
    input: AttachCommand,
    files: Uint8Array | readonly Uint8Array[],
    deed: Deed | null = null,
  ): CommandResult {
    const command = checkCommand(input);
    const all = files instanceof Uint8Array ? [files] : files;
    for (const bytes of all) checkAttached(command, bytes);
    this.letGo();
    return doCommand(this.state, command, { deed }, all);
  }

  /**
   * Begins a stroke on a paint layer or a painted mask.
   *
   * @throws CoreError `layer-missing`, `file-not-a-picture` for a tip that is none, or `bad-argument` if nothing can be painted there
   */
  beginStroke(layer: number, style: StrokeStyle, how: StrokeHow = {}): void {
    this.film.end();
    this.strokes.begin(layer, style, how);
  }

  /** A stroke in hand and a film that is shown give way. */
  private letGo(): void {
    this.film.end();
    this.cancelStroke();
  }

  /**
   * What a stroke that would begin on a surface facing so may change.
   *
   * @throws CoreError as `beginStroke`
   */
  reach(layer: number, style: StrokeStyle, how: StrokeHow, normal: Vec3): ReachMap {
    return reachMap(this.state.desks.of(style.pose).surface, this.strokes.holds(layer, style, how, normal));
  }

  /**
   * Shows a layer as it was after some of its strokes, until anything is done; nothing is changed by that.
   *
   * @param count of the strokes that can be changed; null: as it is
   * @throws CoreError as `beginStroke`
   */
  showFilm(layer: number, channel: Channel, count: number | null): void {
    this.cancelStroke();
    if (count === null) this.film.end();
    else this.film.show(layer, channel, count);
  }

  /** Hands over how a file moves that the model was read from, so that strokes can be made in poses of it; null: it doesn't. */
  provideMotion(file: number, motion: Motion | null): void {
    this.state.motions.set(file, motion);
  }

  /** How the model's file moves; null where it doesn't, or that wasn't handed over. */
  get motion(): Motion | null {
    const { modelFile } = this.document;
    return (modelFile && this.state.motions.get(modelFile.id)) ?? null;
  }

  /** The file of the model whose motion hasn't been handed over; null if there is none. */
  motionNeeded(): { readonly id: number; readonly bytes: Uint8Array } | null {
    const id = this.document.modelFile?.id;
    const bytes = id === undefined ? undefined : this.state.files.get(id);
    return id === undefined || !bytes || this.state.motions.has(id) ? null : { id, bytes };
  }

  /** Gets ready what the first stroke in a pose would wait for; null: at rest. @throws CoreError as `beginStroke` */
  readyToPaint(pose: FilePose | null = null): void {
    this.state.desks.of(pose ?? undefined).open();
  }

  /** Goes on with the stroke in hand. @param samples SAMPLE_STRIDE numbers each; @param lift begins a new run */
  extendStroke(samples: ArrayLike<number>, lift: boolean): void {
    this.strokes.extend(samples, lift);
  }

  /** Finishes the stroke in hand; one that touched nothing leaves no step. */
  endStroke(): void {
    this.strokes.end();
  }

  /** Takes the stroke in hand back as if it had not been begun. @returns whether there was one */
  cancelStroke(): boolean {
    return this.strokes.cancel();
  }

  /** The strokes of a layer or of its mask that can be changed, the oldest first. @throws CoreError as `beginStroke` */
  editableStrokes(layer: number, channel: Channel = 'pixels'): StrokeSummary[] {
    return listStrokes(this.state, layer, channel);
  }

  /** Lines that the form draws by itself for an ink layer. @throws CoreError `layer-missing`, or `bad-argument` if it is none */
  ownLines(layer: number): readonly InkLine[] {
    return this.state.tiles.ownLines(this.inkLayer(layer));
  }

  /** What is told of an ink layer. @throws as `ownLines` */
  inkFigures(layer: number): InkFigures {
    return this.state.tiles.inkFigures(this.inkLayer(layer));
  }

  private inkLayer(layer: number): InkLayer {
    const node = requireNode(this.document.layers, layer);
    if (node.kind !== 'ink') throw new CoreError('bad-argument', `“${node.name}” is not an ink layer.`);
    return node;
  }

  // ---- model ---------------------------------------------------------------------------------------------------------

  /** Long work on the model begins: `changeModel` is to name the revision that it began from. */
  beginChange(): { readonly from: number; readonly document: ProjectDocument } {
    return this.changer.begin();
  }

  /** Every painted plane with all that carrying it to another model needs, as it is now. */
  paintPlanes(): { readonly paintedAt: number; readonly planes: ChannelPaint[] } {
    this.film.end();
    const { planes, document, revision } = this.state;
    return {
      paintedAt: revision,
      planes: this.state.paintedChannels().map((plane) => planes.paintOf(document, plane)),
    };
  }

  /** Hands over a model that a step of the history needs. */
  provideModel(model: ModelState): void {
    this.state.models.provide(model);
  }

  /**
   * Changes the model and all paint as one step. What was painted since the change was begun is carried along.
   *
   * @returns `again` if the model, its seams or its sheets have changed since, or while a stroke is being made: nothing is done then
   * @throws CoreError `bad-argument` if the sheets that were measured aren't those of the document, `document-invalid`
   */
  changeModel(change: ModelChange): ModelChanged {
    this.film.end();
    return this.strokeInHand ? { done: false, again: 'stroke' } : this.changer.change(change);
  }

  /** Takes over what another engine did to the same project. Its steps can't be undone here. */
  follow({ document, tiles, strokes, files, history }: Commit): void {
    this.letGo();
    const steps = history;
    this.state.become({ document, tiles, strokes, files, model: null, history: () => steps });
  }

  // ---- history -------------------------------------------------------------------------------------------------------

  /** What has to be handed over before the next undo or redo can be taken. */
  needed(direction: 'undo' | 'redo'): Needed {
    return neededFor(this.state, direction);
  }

  /** Hands over a step's pixels that were away. */
  provideStep(number: number, tiles: PackedTiles): void {
    this.state.history.provide(number, tiles);
  }

  /** Lets go of what the history holds in memory though it is on disk as well. */
  releaseSteps(isKept: (number: number) => boolean): void {
    this.state.history.release(isKept);
  }

  /**
   * Takes back the last step with all of its deed, or the stroke in hand.
   *
   * @param step only if it is this one
   * @returns false if there is nothing to undo
   * @throws CoreError `bad-argument` if other steps have come after `step`
   */
  undo(step: number | null = null): boolean {
    if (step !== null) requireLastStep(this.state, step);
    this.film.end();
    return this.cancelStroke() || takeDeed(this.state, 'undo');
  }

  /** Does again what was undone last. @returns false if there is nothing */
  redo(): boolean {
    this.film.end();
    return !this.cancelStroke() && takeDeed(this.state, 'redo');
  }

  // ---- cues and picture ----------------------------------------------------------------------------------------------

  /** The cues that the build-up uses and that haven't been handed over yet. */
  missingCues(): CueSpec[] {
    return this.state.tiles.wantedCues().filter((spec) => !this.state.tiles.hasCue(spec));
  }

  /** The local colours on the model, which bounced light is measured with. */
  localColors(): LocalColors | null {
    return this.state.tiles.localColors();
  }

  /** The cues that the build-up uses. */
  wantedCues(): CueSpec[] {
    return this.state.tiles.wantedCues();
  }

  /**
   * Takes a cue as it was measured; again when it has become finer.
   *
   * @param values 0..65535 a texel in the order of the surface's codes
   * @throws CoreError `bad-argument` if it was measured on another surface
   */
  setCue(spec: CueSpec, values: Uint16Array): void {
    this.state.setCue(spec, values);
  }

  /** Takes finer values of a cue for some tiles, 4096 each. */
  refineCue(spec: CueSpec, tiles: readonly { tile: number; values: Uint16Array }[]): void {
    this.state.refineCue(spec, tiles);
  }

  /** What of the build-up is shown. */
  setView(view: BuildUpView): void {
    this.state.setView(view);
  }

  /**
   * Shows a node as it would look with other settings, until the next change or until it is taken back.
   *
   * @param patch null: as it is
   */
  preview(layer: number, patch: NodePatch | null): void {
    this.state.show(patch && applyToDocument(this.document, { do: 'patch-layer', layer, patch }).document);
  }

  /** The picture with few texels, for while a control is dragged; null where the sheets are too small for one. */
  get coarse(): CoarsePicture | null {
    return this.state.coarse;
  }

  /** Tiles whose picture is out of date, in the order in which they became so. */
  dirty(): readonly number[] {
    return this.state.picture.dirty();
  }

  /** See `Picture.render`. */
  renderTile(tile: number, out: Uint8Array): number {
    return this.state.picture.render(tile, out);
  }

  /** The detail sheet's picture; null unless it is looked at. */
  get detail(): DetailPicture | null {
    return this.state.detail;
  }

  /** Begins or ends to keep the detail sheet's picture up to date. */
  lookAtDetail(isLookedAt: boolean): void {
    this.state.lookAtDetail(isLookedAt);
  }

  /** Composites one tile of all of the albedo, or of a mask of the detail sheet, whatever is shown: what is delivered. @param out of 8 bit, or of 16 bit */
  compositeTile(tile: number, out: Uint8Array | Uint16Array, detail: Detail | null = null): void {
    this.state.picture.composite(tile, out, detail);
  }

  /** One tile of some nodes as if nothing else was there. */
  compositeNodes(nodes: readonly LayerNode[], tile: number, out: Uint8Array): void {
    this.state.picture.compositeNodes(nodes, tile, out);
  }

  /** See `Picture.sourceTile`. */
  sourceTile(layer: Layer, tile: number, out: Uint8Array): void {
    this.state.picture.sourceTile(layer, tile, out);
  }

  /** See `Picture.maskTile`. */
  maskTile(node: LayerNode, tile: number): MaskTile {
    return this.state.picture.maskTile(node, tile);
  }

  /** Colour of a texel in the whole build-up. */
  colorAt(texel: number): { r: number; g: number; b: number; a: number } {
    const out = new Uint8Array(TILE_BYTES);
    this.compositeTile(Math.floor(texel / TILE_TEXELS), out);
    const o = (texel % TILE_TEXELS) * 4;
    return { r: out[o]!, g: out[o + 1]!, b: out[o + 2]!, a: out[o + 3]! };
  }
}
