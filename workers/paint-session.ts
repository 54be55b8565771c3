import { cueKey, type CueSpec } from '../core/cues';
import {
  Engine,
  groundName,
  modelKey,
  writeProjectFile,
  type AttachCommand,
  type BuildUpView,
  type Command,
  type CommandResult,
  type Deed,
  type Commit,
  type ModelChange,
  type ModelChanged,
  type Needed,
  type NodePatch,
} from '../core/engine';
import { CoreError } from '../core/errors';
import { createWasmKernels } from '../core/kernels';
import { checkMesh, requireUvs, type UvMesh } from '../core/mesh';
import { measureSurface, TILE_BYTES, TILE_TEXELS, tileToRows, type SurfaceMap } from '../core/surface';
import { Follower, Leader } from './following';
import {
  PersistenceQueue,
  loadProject,
  type LoadedProject,
  ProjectStore,
  loadHistory,
  loadPage,
} from '../storage';
import type { PaintEvents, PaintMethods } from './paint-protocol';
import type { Emit } from './rpc';
import { shareSurface } from './share-surface';

/** How long the picture is worked on before messages are looked at again. */
const SLICE_MS = 7;

/**
 * Pixels are held unpacked for so many layers that cover everything, and never more than that. Unpacking a tile takes as long as
 * compositing it through eight layers.
 */
const RAW_LAYERS = 6;
const MOST_RAW_BYTES = 1e9;

/** While a control is dragged, so many tiles or more are shown coarsely at first. */
const MANY_TILES = 64;

/** A control has come to rest when it has changed nothing for so long; only then the full picture is worked on. */
const REST_MS = 120;

/** What the first stroke needs is got ready when the picture has had so long to come, ms. */
const READY_MS = 1500;

/** All four sub-tiles of a tile. */
const ALL_SUBS = 15;

/** How often it is told how much is still to be composited. */
const TELL_MS = 200;

/** Tiles that are sent together at the most. */
const TILES_A_MESSAGE = 64;

/** Owns one project's document and pixels: applies commands, composites what became dirty, writes what was finished. */
export class PaintSession {
  private readonly emit: Emit<PaintEvents>;
  private store = new ProjectStore();
  private project = '';
  private engine_: Engine | null = null;
  private keeper: PersistenceQueue | null = null;
  private prepared: { readonly project: string; readonly loaded: Promise<LoadedProject> } | null = null;
  private timer: ReturnType<typeof setTimeout> | null = null;
  /** When that timer is to fire. */
  private dueAt = 0;
  /** The coarse picture is shown until the full one is done. */
  private isCoarse = false;
  /** When a dragged control will have come to rest. */
  private restsAt = 0;
  /** When it was told last how much is still to be composited; null if all is. */
  private pendingTold: number | null = null;
  private toldMissing = '';
  private toldModel = '';
  /** Another tab paints on the project. */
  private follows = false;
  /** Tiles that turned out not to be readable, not told yet. */
  private damaged = 0;

  constructor(emit: Emit<PaintEvents>) {
    this.emit = emit;
  }

  get engine(): Engine {
    if (!this.engine_) throw new CoreError('bad-argument', 'No project is open in the paint worker.');
    return this.engine_;
  }

  /** Begins to read a project. */
  prepare(project: string): void {
    const loaded = loadProject(this.store, project);
    // What went wrong is told when it is opened.
    loaded.catch(() => undefined);
    this.prepared = { project, loaded };
  }

  async open({ project, session, model, follows }: PaintMethods['open']['params']): Promise<number> {
    const follower = follows
      ? new Follower(
          project,
          (commit) => this.follow(commit),
          () => this.emit('outdated', null),
        )
      : null;
    if (follower) {
      await follower.asks();
      this.prepare(project);
    }
    if (this.prepared?.project !== project) this.prepare(project);
    const loaded = await this.prepared!.loaded;
    this.prepared = null;
    const { row, document, mesh, pixels, strokes, files } = loaded;
    const counts = new Map([...strokes].map(([plane, list]) => [plane, list.length]));
    const options = { model: document.model, strokes: counts };
    const history = follows
      ? { steps: [], first: 0, done: 0 }
      : await loadHistory(this.store, project, row.historyDone, options);
    this.project = project;
    this.follows = follows;
    const keeper = follows
      ? null
      : new PersistenceQueue({
          open: () => (this.store = new ProjectStore()),
          project,
          session,
          tell: (state) => this.emit('keep', state),
          whole: () => {
            const { engine } = this;
            if (engine.strokeInHand) return null;
            const { document, mesh, historyData } = engine;
            return { document, mesh, history: historyData, ...engine.everything() };
          },
        });
    this.keeper = keeper;
    const leader = keeper && new Leader(project, () => keeper.settled());
    const sizes = document.sheets.map((s) => s.size);
    const atHand = modelKey(model.hash, model.surface.sheets) === modelKey(row.modelHash, document.sheets);
    const surface = atHand ? model.surface : measured(mesh, sizes);
    this.engine_ = new Engine({
      surface,
      pixelBudget: Math.min(MOST_RAW_BYTES, RAW_LAYERS * surface.codes.length * 4),
      kernels: createWasmKernels(),
      document,
      pixels,
      strokes,
      files,
      history,
      onCommit: (commit: Commit) => {
        keeper?.keep(commit);
        leader?.did(commit);
      },
      onDamaged: () => this.damaged++,
    });
    const known = row.journal?.session === session ? row.journal.call : 0;
    this.emit('keep', { kept: true, at: row.updatedAt, call: known });
    this.toldModel = modelKey(model.hash, model.surface.sheets);
    this.changed();
    const { engine } = this;
    setTimeout(() => this.engine_ === engine && engine.readyToPaint(), READY_MS);
    follower?.begin();
    if (loaded.lostStrokes) this.emit('lost', { strokes: loaded.lostStrokes, tiles: 0 });
    return known;
  }

  /** What another tab did. */
  private follow(commit: Commit): void {
    const { engine } = this;
    const { document } = engine;
    const isSame =
      modelKey(commit.document.model, commit.document.sheets) === modelKey(document.model, document.sheets);
    if (!isSame) {
      this.emit('outdated', null);
      return;
    }
    engine.follow(commit);
    this.emit('keep', { kept: true, at: Date.now(), call: 0 });
    this.changed();
  }

  /** A call begins that may change the project. @throws CoreError `read-only` if another tab paints on it */
  begin(call: number): void {
    this.requireOwn();
    this.keeper?.begin(call);
  }

  /** @throws CoreError `read-only` if another tab paints on the project */
  requireOwn(): void {
    if (!this.follows) return;
    throw new CoreError(
      'read-only',
      'Another tab paints on this project; here it is only looked at. Close it there to paint here.',
    );
  }

  /** It is finished. */
  done(): void {
    this.keeper?.done();
    const { keeper } = this;
    if (keeper) this.engine_?.releaseSteps((step) => keeper.isKept(step));
  }

  command(command: Command, gesture: string | null, deed: Deed | null): CommandResult {
    const result = this.engine.apply(command, gesture, deed);
    this.dragged(gesture !== null, drawsLines(command));
    this.changed();
    return result;
  }

  preview(layer: number, patch: NodePatch | null): void {
    this.engine.preview(layer, patch);
    this.dragged(true);
    // What is tried may be made from what isn't measured yet.
    this.changed();
  }

  /**
   * Something was changed that may be changed again at once, and is to be seen at once.
   *
   * @param isSlow its picture takes long: a first look with few texels comes before it
   */
  private dragged(isDrag: boolean, isSlow = false): void {
    this.restsAt = isDrag ? performance.now() + REST_MS : 0;
    if ((isDrag || isSlow) && this.engine.dirty().length >= MANY_TILES && this.engine.coarse)
      this.isCoarse = true;
  }

  attach(command: AttachCommand, files: readonly Uint8Array[], deed: Deed | null = null): CommandResult {
    const result = this.engine.attach(command, files, deed);
    this.changed();
    return result;
  }

  /** Undoes or redoes; what the step needs and isn't in memory is fetched first. */
  async step(direction: 'undo' | 'redo', step: number | null = null): Promise<boolean> {
    const { engine } = this;
    while (!engine.strokeInHand) {
      const needed = engine.needed(direction);
      if (needed.model) await this.fetchModel(needed.model);
      if (needed.step !== null) {
        const page = await loadPage(this.store, this.project, needed.step).catch(() => null);
        if (page) engine.provideStep(needed.step, page);
      }
      const still = engine.needed(direction);
      // All is there, or what is missing can't be had: taking the step tells so.
      if ((!still.model && still.step === null) || isSame(needed, still)) break;
    }
    const did = direction === 'undo' ? engine.undo(step) : engine.redo();
    this.changed();
    return did;
  }

  async goTo(done: number): Promise<void> {
    const wanted = (): number => done - this.engine.history.first - this.engine.history.done;
    for (let way = Math.sign(wanted()); way !== 0 && Math.sign(wanted()) === way;) {
      if (!(await this.step(way > 0 ? 'redo' : 'undo'))) return;
    }
  }

  private async fetchModel({ hash, sizes }: { hash: string; sizes: readonly number[] }): Promise<void> {
    const stored = await this.store.models.get(hash).catch(() => undefined);
    if (!stored) return;
    this.engine.provideModel({ hash, surface: measured(requireUvs(checkMesh(stored.mesh)), sizes) });
  }

  changeModel(change: ModelChange): ModelChanged {
    const changed = this.engine.changeModel(change);
    this.changed();
    return changed;
  }

  /** Begins or ends to tell the detail sheet's tiles. */
  lookAtDetail(isLookedAt: boolean): void {
    this.engine.lookAtDetail(isLookedAt);
    this.schedule();
  }

  setView(view: BuildUpView): void {
    this.engine.setView(view);
    this.schedule();
  }

  /** Tells the state and sees to the picture. */
  changed(): void {
    const { engine } = this;
    const name = modelKey(engine.document.model, engine.document.sheets);
    if (name !== this.toldModel) {
      this.toldModel = name;
      this.emit('model', { hash: engine.document.model, surface: engine.surface });
    }
    const missingCues = engine.missingCues();
    this.toldMissing = missingCues.map(cueKey).join();
    const { document, history } = engine;
    const usedCues = engine.wantedCues().map(cueKey);
    this.emit('state', { document, history, strokes: engine.strokeCount(), missingCues, usedCues });
    this.schedule();
  }

  /** Composites in slices, so that a newer command is never kept waiting. */
  schedule(wait = 0): void {
    const left = this.engine.dirty().length;
    // Told before the work begins: a first coarse look can take longer than an answer.
    if (left > 0 && this.pendingTold === null) this.tellPending(left);
    // One that comes no later stays: were it put off by every message, a quick hand would never be answered.
    const due = performance.now() + wait;
    if (this.timer !== null && this.dueAt <= due) return;
    if (this.timer !== null) clearTimeout(this.timer);
    this.dueAt = due;
    this.timer = setTimeout(() => {
      this.timer = null;
      this.compositeSlice();
    }, wait);
  }

  private compositeSlice(): void {
    const { engine } = this;
    const dirty = engine.dirty();
    if (dirty.length === 0) return this.compositeDetail();
    if (this.isCoarse) {
      this.sendCoarse();
      const wait = this.restsAt - performance.now();
      if (wait > 0) {
        return this.schedule(wait);
      }
    }
    const end = performance.now() + SLICE_MS;
    const tiles: number[] = [];
    const subs: number[] = [];
    const tile = new Uint8Array(TILE_BYTES);
    const pixels = new Uint8Array(Math.min(dirty.length, TILES_A_MESSAGE) * TILE_BYTES);
    for (const t of dirty) {
      if (tiles.length === TILES_A_MESSAGE || (tiles.length > 0 && performance.now() > end)) break;
      subs.push(engine.renderTile(t, tile));
      tileToRows(tile, pixels.subarray(tiles.length * TILE_BYTES, (tiles.length + 1) * TILE_BYTES));
      tiles.push(t);
    }
    const sent = pixels.slice(0, tiles.length * TILE_BYTES);
    const left = dirty.length - tiles.length;
    this.emit('tiles', { tiles, subs, pixels: sent, left }, [sent.buffer]);
    if (left === 0 || end > (this.pendingTold ?? 0) + TELL_MS) this.tellPending(left);
    if (left) return this.schedule();
    this.isCoarse = false;
    if (engine.detail?.dirty().length) this.schedule();
    if (this.damaged) {
      this.emit('lost', { strokes: 0, tiles: this.damaged });
      this.damaged = 0;
    }
  }

  /** A slice of the detail sheet, when the albedo is done. */
  private compositeDetail(): void {
    const { detail } = this.engine;
    const dirty = detail?.dirty() ?? [];
    if (!detail || dirty.length === 0) return;
    const end = performance.now() + SLICE_MS;
    const tiles: number[] = [];
    const tile = new Uint8Array(TILE_BYTES);
    const pixels = new Uint8Array(Math.min(dirty.length, TILES_A_MESSAGE) * TILE_BYTES);
    for (const t of dirty) {
      if (tiles.length === TILES_A_MESSAGE || (tiles.length > 0 && performance.now() > end)) break;
      detail.render(t, tile);
      tileToRows(tile, pixels.subarray(tiles.length * TILE_BYTES, (tiles.length + 1) * TILE_BYTES));
      tiles.push(t);
    }
    const sent = pixels.slice(0, tiles.length * TILE_BYTES);
    const left = dirty.length - tiles.length;
    this.emit('detail', { tiles, subs: tiles.map(() => ALL_SUBS), pixels: sent, left }, [sent.buffer]);
    if (left) this.schedule();
  }

  private tellPending(left: number): void {
    this.pendingTold = left === 0 ? null : performance.now();
    this.emit('pending', left);
  }

  /** What of the coarse picture is out of date. */
  private sendCoarse(): void {
    const { coarse } = this.engine;
    const tiles = coarse?.dirty() ?? [];
    if (!coarse || tiles.length === 0) return;
    const numbers = [...tiles];
    const tile = new Uint8Array(TILE_BYTES);
    const pixels = new Uint8Array(numbers.length * TILE_BYTES);
    numbers.forEach((t, i) => {
      coarse.render(t, tile);
      tileToRows(tile, pixels.subarray(i * TILE_BYTES, (i + 1) * TILE_BYTES));
    });
    this.emit('coarse', { stride: coarse.stride, tiles: numbers, pixels }, [pixels.buffer]);
  }

  /** A measured cue; one that was measured on something else than what counts now comes too late. */
  cue(spec: CueSpec, on: string, values: Uint16Array): void {
    if (on !== groundName(this.engine.document)) return;
    this.engine.setCue(spec, values);
    this.cueArrived();
  }

  cueTiles({ spec, on, tiles, values }: PaintMethods['cueTiles']['params']): void {
    if (on !== groundName(this.engine.document)) return;
    this.engine.refineCue(
      spec,
      tiles.map((tile, i) => ({ tile, values: values.subarray(i * TILE_TEXELS, (i + 1) * TILE_TEXELS) })),
    );
    this.schedule();
  }

  /** The state is only told anew when a cue that was missing has come. */
  private cueArrived(): void {
    if (this.engine.missingCues().map(cueKey).join() === this.toldMissing) this.schedule();
    else this.changed();
  }

  /** From memory: it must work when storage doesn't. */
  projectFile(): Uint8Array {
    const { document, mesh } = this.engine;
    return writeProjectFile({ document, mesh, ...this.engine.everything() });
  }

  async settle(): Promise<void> {
    await this.keeper?.settled();
  }

  /** Composites no more: what is left of the picture isn't looked at. */
  rest(): void {
    if (this.timer !== null) clearTimeout(this.timer);
    this.timer = null;
    this.engine_ = null;
  }
}

function measured(mesh: UvMesh, sizes: readonly number[]): SurfaceMap {
  const surface = measureSurface(mesh, sizes);
  return typeof SharedArrayBuffer === 'undefined' ? surface : shareSurface(surface);
}

/** Lines that the form draws by itself are many. */
/** Whether the same is missing. */
const isSame = (a: Needed, b: Needed): boolean => a.model?.hash === b.model?.hash && a.step === b.step;

const drawsLines = (command: Command): boolean =>
  command.do === 'patch-layer' && 'own' in command.patch && command.patch.own !== null;
