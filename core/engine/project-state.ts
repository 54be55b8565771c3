import type { CueSpec } from '../cues';
import { diffDocuments, DOCUMENT_VERSION, planesOf, type ProjectDocument } from '../document';
import { CoreError } from '../errors';
import { History, type HistoryChange, type HistoryData, type HistoryStep, type StrokeEdit } from '../history';
import type { Kernels } from '../kernels';
import type { Motion } from '../motion';
import { StrokeDesks, type PoseContext, type Stroke } from '../paint';
import { packTiles, PixelStore, type PackedTile, type TileState } from '../pixels';
import { coarseSurface, type SurfaceMap } from '../surface';
import { CoarsePicture, LayerTiles, DetailPicture, Picture, type BuildUpView } from '../compositor';
import type { Change, Commit, StrokeChanges } from './commit';
import { modelKey, Models, type ModelState } from './model/models';
import { Channels } from './planes';

/** What an engine opens a project with. */
export interface EngineOptions {
  readonly surface: SurfaceMap;
  readonly kernels: Kernels;
  readonly document: ProjectDocument;
  readonly pixels?: Iterable<TileState | PackedTile>;
  readonly strokes?: ReadonlyMap<number, readonly Stroke[]>;
  /** What came as files, by id. */
  readonly files?: ReadonlyMap<number, Uint8Array>;
  readonly history?: HistoryData;
  readonly onCommit?: (commit: Commit) => void;
  /** Bytes that unpacked pixels may take. */
  readonly pixelBudget?: number;
  /** Told of a tile that turns out not to be readable; it counts as empty. */
  readonly onDamaged?: (plane: number, tile: number) => void;
}

/**
 * All that an open project consists of, and the one way in which it changes: as a step, which is told to whoever keeps the project.
 */
export class ProjectState {
  readonly kernels: Kernels;
  readonly pixels: PixelStore;
  readonly planes: Channels;
  readonly models = new Models();
  readonly history: History;
  readonly tiles: LayerTiles;
  readonly picture: Picture;
  /** Also those of what was removed, since it may come back. */
  readonly files: Map<number, Uint8Array>;
  private readonly onCommit: (commit: Commit) => void;
  /** Made when it is asked for first; null where it can't be had. */
  private coarse_: CoarsePicture | null | undefined;
  /** The revision at which each plane last changed. */
  private readonly changedAt_ = new Map<number, number>();
  /** As long as somebody looks at it. */
  private detail_: DetailPicture | null = null;
  private model_: ModelState;
  private desks_: StrokeDesks;
  /** How the files move that the model was read from, by their ids, those that have been read. */
  readonly motions = new Map<number, Motion | null>();
  private document_: ProjectDocument;
  private revision_ = 0;
  /** The document that is shown: the project's own, or one that is tried. */
  private shown: ProjectDocument;

  constructor({ surface, kernels, document, ...options }: EngineOptions) {
    this.kernels = kernels;
    this.onCommit = options.onCommit ?? (() => undefined);
    this.document_ = this.shown = document;
    this.model_ = { hash: document.model, surface };
    this.models.provide(this.model_);
    this.desks_ = this.desksOn(surface);
    this.pixels = new PixelStore(options.pixelBudget, options.onDamaged);
    for (const state of options.pixels ?? []) {
      if ('packed' in state) this.pixels.putPacked(state);
      else this.pixels.put(state);
    }
    this.planes = new Channels(this.pixels, options.strokes ?? new Map());
    this.history = new History(options.history);
    this.files = new Map(options.files);
    this.tiles = new LayerTiles(surface, document, this.pixels, this.files);
    this.picture = new Picture(kernels, this.tiles, this.pixels, surface, document);
  }

  get surface(): SurfaceMap {
    return this.model_.surface;
  }
  get document(): ProjectDocument {
    return this.document_;
  }
  get revision(): number {
    return this.revision_;
  }
  /** The picture with few texels, for while a control is dragged; null where the sheets are too small for one. */
  get coarse(): CoarsePicture | null {
    if (this.coarse_ === undefined) {
      const surface = coarseSurface(this.surface);
      const { kernels, pixels, tiles, files, shown: document } = this;
      const { view } = this.picture;
      this.coarse_ = surface && new CoarsePicture({ kernels, surface, document, pixels, files, tiles, view });
    }
    return this.coarse_;
  }
  /** The detail sheet's picture; null unless it is looked at. */
  get detail(): DetailPicture | null {
    return this.detail_;
  }

  /** Begins or ends to keep the detail sheet's picture up to date. */
  lookAtDetail(isLookedAt: boolean): void {
    if (!isLookedAt) this.detail_ = null;
    else if (!this.detail_) {
      const { kernels, tiles, pixels, surface, shown } = this;
      this.detail_ = new DetailPicture(kernels, tiles, pixels, surface, shown);
    }
  }

  /** Every picture of the full surface. */
  private get pictures(): readonly Picture[] {
    return [this.picture, ...(this.detail_?.pictures ?? [])];
  }

  /** Where strokes on the model in hand are made. */
  get desks(): StrokeDesks {
    return this.desks_;
  }

  private desksOn(surface: SurfaceMap): StrokeDesks {
    return new StrokeDesks(surface, this.kernels, () => this.poses);
  }

  /** What poses are told by. */
  get poses(): PoseContext {
    return { modelFile: this.document_.modelFile, motions: this.motions };
  }

  /** Planes of the document that have pixels or strokes; what was removed keeps its strokes for undo, but isn't carried anywhere. */
  paintedChannels(): number[] {
    const painted = new Set(this.planes.numbers());
    return planesOf(this.document_).filter((plane) => painted.has(plane));
  }

  /** The revision at which a plane last changed; 0 if it hasn’t since the project was opened. */
  changedAt(plane: number): number {
    return this.changedAt_.get(plane) ?? 0;
  }

  /** Tiles named by `states`, as they are now. */
  present(states: readonly TileState[]): TileState[] {
    return states.map(({ plane, tile }) => ({ plane, tile, bytes: this.pixels.get(plane, tile) ?? null }));
  }

  /** Whether a document’s model, at its sheet sizes, is the one in hand. */
  isModelInHand({ model, sheets }: Pick<ProjectDocument, 'model' | 'sheets'>): boolean {
    return modelKey(model, sheets) === modelKey(this.model_.hash, this.surface.sheets);
  }

  /** Shows another document until `show(null)` or the next change; the project's own stays as it is. */
  show(document: ProjectDocument | null): void {
    this.shown = document ?? this.document_;
    this.tiles.useDocument(this.shown);
    for (const picture of this.pictures) picture.useDocument(this.shown);
    this.coarse_?.useDocument(this.shown);
  }

  /** Takes a cue as it was measured. */
  setCue(spec: CueSpec, values: Uint16Array): void {
    this.tiles.setCue(spec, values);
    for (const picture of this.pictures) picture.refresh();
  }

  /** What of the build-up is shown. */
  setView(view: BuildUpView): void {
    this.picture.setView(view);
    this.coarse_?.setView(view);
  }

  /** Puts other pixels into a tile. @param subs which sub-tiles differ, bit k for sub-tile k */
  put(state: TileState, subs?: number): void {
    this.pixels.put(state);
    for (const picture of this.pictures) picture.touch(state.plane, state.tile, subs);
    this.coarse_?.touch(state.plane, state.tile);
  }

  /** Takes finer values of a cue for some tiles, 4096 each. */
  refineCue(spec: CueSpec, tiles: readonly { tile: number; values: Uint16Array }[]): void {
    const { changed, isNew } = this.tiles.refineCue(spec, tiles);
    for (const picture of this.pictures) {
      changed.forEach((tile) => picture.mark(tile));
      if (isNew) picture.refresh();
    }
    this.coarse_?.forgetCue(spec);
  }

  /**
   * Makes a change and records it as a step.
   *
   * @returns the step's number
   * @throws CoreError `storage-damaged` if it needs a model that isn't at hand; nothing is changed then
   */
  record(change: Change): number {
    const {
      label,
      kind,
      after,
      tiles,
      baseTiles = [],
      stroke = null,
      edit = null,
      models = [],
      files = new Map(),
      deed = null,
    } = change;
    const before = this.document_;
    const previous = this.present(tiles);
    const step: HistoryStep = {
      label: deed?.label ?? label,
      ...(deed && { deed: deed.id }),
      kind,
      patch: diffDocuments(before, after),
      stroke,
      ...(edit && { edit }),
      models,
      form: DOCUMENT_VERSION,
      tiles: previous.length ? packTiles(previous) : null,
    };
    const add = (): HistoryChange => this.history.add(step, before, after, change.gesture ?? null);
    return this.become({
      document: after,
      tiles: [...tiles, ...baseTiles],
      model: change.model ?? null,
      files,
      strokes: stroke
        ? this.strokeAdded(stroke.plane, stroke.stroke)
        : edit
          ? this.strokesEdited(edit, 'redo')
          : new Map(),
      history: add,
    });
  }

  /** Takes the state of a step's other side. @returns the step's number */
  become(next: {
    readonly document: ProjectDocument;
    readonly tiles: readonly TileState[];
    readonly strokes: StrokeChanges;
    readonly model: Commit['model'];
    readonly files?: Commit['files'];
    readonly history: () => HistoryChange;
  }): number {
    const { document, tiles, model } = next;
    this.useModel(document);
    for (const [plane, { count, added }] of next.strokes) {
      const kept = this.planes.strokesOf(plane).slice(0, count - added.length);
      this.planes.setStrokes(plane, [...kept, ...added]);
    }
    this.revision_++;
    const files = next.files ?? new Map<number, Uint8Array>();
    for (const [id, bytes] of files) this.files.set(id, bytes);
    for (const state of tiles) {
      this.put(state);
      this.changedAt_.set(state.plane, this.revision_);
    }
    for (const plane of next.strokes.keys()) this.changedAt_.set(plane, this.revision_);
    if (document !== this.document_ || this.shown !== this.document_) {
      this.document_ = document;
      this.show(null);
    }
    const history = next.history();
    const { revision, strokes } = { revision: this.revision_, strokes: next.strokes };
    this.onCommit({ revision, document, tiles, history, strokes, files, model });
    return history.number;
  }

  /** The change that a further stroke on a plane is. */
  strokeAdded(plane: number, stroke: Stroke): StrokeChanges {
    return new Map([[plane, { count: this.planes.strokesOf(plane).length + 1, added: [stroke] }]]);
  }

  /** The change that an edit of strokes is, either way. */
  strokesEdited({ plane, at, before, after }: StrokeEdit, direction: 'undo' | 'redo'): StrokeChanges {
    const [from, to] = direction === 'redo' ? [before, after] : [after, before];
    const all = this.planes.strokesOf(plane);
    const added = [...to, ...all.slice(at + from.length)];
    return new Map([[plane, { count: at + added.length, added }]]);
  }

  /** Takes the document's model in hand, if it is another one. @throws CoreError `storage-damaged` if it isn't there */
  private useModel(document: ProjectDocument): void {
    if (this.isModelInHand(document)) return;
    const known = this.models.get(document.model, document.sheets);
    if (!known) {
      throw new CoreError(
        'storage-damaged',
        'The model of that step is missing from storage, so the step can’t be taken. Nothing was changed.',
      );
    }
    this.model_ = known;
    this.desks_ = this.desksOn(known.surface);
    this.tiles.useSurface(known.surface);
    for (const picture of this.pictures) picture.useSurface(known.surface);
    this.coarse_ = undefined;
  }
}
