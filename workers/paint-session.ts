import { cueKey, type CueSpec } from '../core/cues';
import {
  Engine,
  modelKey,
  type AttachCommand,
  type CommandResult,
  type Deed,
  type Commit,
  type ModelChange,
  type ModelChanged,
  type Needed,
  readMotion,
} from '../core/engine';
import { groundName } from '../core/document';
import { writeProjectFile } from '../core/project-file';
import type { BuildUpView } from '../core/compositor';
import type { Command, NodePatch } from '../core/commands';
import { CoreError } from '../core/errors';
import { createWasmKernels } from '../core/kernels';
import { checkMesh, requireUvs, type UvMesh } from '../core/mesh';
import type { Motion } from '../core/motion';
import { measureSurface, TILE_TEXELS, type SurfaceMap } from '../core/surface';
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
import { PictureSender } from './picture-sender';
import type { Emit } from './rpc';
import { shareSurface } from './share-surface';

/**
 * Pixels are held unpacked for so many layers that cover everything, and never more than that. Unpacking a tile takes as long as
 * compositing it through eight layers.
 */
const RAW_LAYERS = 6;
const MOST_RAW_BYTES = 1e9;

/** What the first stroke needs is got ready when the picture has had so long to come, ms. */
const READY_MS = 1500;

/** Owns one project's document and pixels: applies commands, composites what became dirty, writes what was finished. */
export class PaintSession {
  private readonly emit: Emit<PaintEvents>;
  private store = new ProjectStore();
  private project = '';
  private engine_: Engine | null = null;
  private keeper: PersistenceQueue | null = null;
  private prepared: { readonly project: string; readonly loaded: Promise<LoadedProject> } | null = null;
  private sender: PictureSender | null = null;
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
    await this.readMotion();
    const known = row.journal?.session === session ? row.journal.call : 0;
    this.sender = new PictureSender(this.emit, this.engine_, () => this.tellDamaged());
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
    this.sender?.dragged(gesture !== null, drawsLines(command));
    this.changed();
    return result;
  }

  preview(layer: number, patch: NodePatch | null): void {
    this.engine.preview(layer, patch);
    this.sender?.dragged(true);
    // What is tried may be made from what isn't measured yet.
    this.changed();
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
    await this.readMotion();
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

  /** How the model's file moves; read once. One that can't be read poses nothing. */
  readMotion(): Promise<Motion | null> {
    return readMotion(this.engine);
  }

  async changeModel(change: ModelChange): Promise<ModelChanged> {
    const changed = this.engine.changeModel(change);
    await this.readMotion();
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

  schedule(): void {
    this.sender?.schedule();
  }

  private tellDamaged(): void {
    if (this.damaged) this.emit('lost', { strokes: 0, tiles: this.damaged });
    this.damaged = 0;
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
    this.sender?.stop();
    this.sender = null;
    this.engine_ = null;
  }
}

function measured(mesh: UvMesh, sizes: readonly number[]): SurfaceMap {
  const surface = measureSurface(mesh, sizes);
  return typeof SharedArrayBuffer === 'undefined' ? surface : shareSurface(surface);
}

/** Whether the same is missing. */
const isSame = (a: Needed, b: Needed): boolean => a.model?.hash === b.model?.hash && a.step === b.step;

/** Lines that the form draws by itself are many. */
const drawsLines = (command: Command): boolean =>
  command.do === 'patch-layer' && 'own' in command.patch && command.patch.own !== null;
