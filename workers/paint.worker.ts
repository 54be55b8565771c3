import { cueKey } from '../core/cues';
import {
  compositeSheet,
  Engine,
  viewHistory,
  writeProjectFile,
  type CarryLayer,
  type Commit,
} from '../core/engine';
import { CoreError } from '../core/errors';
import { createWasmKernels } from '../core/kernels';
import { requireUvs } from '../core/mesh';
import { measureSurface, sizesKey, TILE_BYTES, TILE_TEXELS, tileToRows } from '../core/surface';
import { Keeper, loadHistory } from './keeper';
import {
  cueParams,
  strokeBeginParams,
  strokeExtendParams,
  viewParams,
  type PaintEvents,
  type PaintMethods,
} from './paint-protocol';
import { loadProject } from './projects';
import { serve, Transferred, type Emit, type Handlers } from './rpc';
import { shareSurface } from './share-surface';
import { ProjectStore } from './store';

/** How long the picture is worked on before messages are looked at again. */
const SLICE_MS = 7;

/** Owns one project's document and pixels: applies commands, composites what became dirty, writes what was finished. */
class Desk {
  private readonly emit: Emit<PaintEvents>;
  private readonly store = new ProjectStore();
  private project = '';
  private engine_: Engine | null = null;
  private keeper: Keeper | null = null;
  private scheduled = false;
  private toldMissing = '';
  private toldModel = '';

  constructor(emit: Emit<PaintEvents>) {
    this.emit = emit;
  }

  get engine(): Engine {
    if (!this.engine_) throw new CoreError('bad-argument', 'No project is open in the paint worker.');
    return this.engine_;
  }

  async open({ project, mesh, surface }: PaintMethods['open']['params']): Promise<void> {
    const data = await loadProject(this.store, project);
    const history = await loadHistory(this.store, project, data.row.historyDone, data.document.model);
    this.project = project;
    const counts = new Map([...data.strokes].map(([layer, list]) => [layer, list.length]));
    const keeper = new Keeper(this.store, project, counts, (state) => this.emit('keep', state));
    this.keeper = keeper;
    this.engine_ = new Engine({
      mesh,
      surface,
      kernels: createWasmKernels(),
      document: data.document,
      pixels: data.pixels,
      strokes: data.strokes,
      history,
      onCommit: (commit: Commit) => keeper.keep(commit),
    });
    this.emit('keep', { kept: true, at: data.row.updatedAt });
    this.toldModel = modelName(this.engine);
    this.changed();
  }

  /** Undoes or redoes; the model that the step leads to is fetched and measured first, if it is another one. */
  async step(direction: 'undo' | 'redo'): Promise<boolean> {
    const needed = this.engine.modelNeeded(direction);
    if (needed) {
      const { hash, sizes } = needed;
      const stored = await this.store.models.get(hash);
      if (stored) {
        const mesh = requireUvs(stored.mesh);
        const surface = measureSurface(mesh, sizes);
        const shared = typeof SharedArrayBuffer !== 'undefined';
        this.engine.provideModel({ hash, mesh, surface: shared ? shareSurface(surface) : surface });
      }
    }
    const did = direction === 'undo' ? this.engine.undo() : this.engine.redo();
    this.changed();
    return did;
  }

  paintLayers(): CarryLayer[] {
    const { engine } = this;
    return engine.document.layers
      .filter((l) => l.kind === 'paint')
      .map(({ id }) => ({
        id,
        tiles: new Map(
          [...engine.tilesOf(id)].flatMap(({ tile, bytes }) => (bytes ? [[tile, bytes] as const] : [])),
        ),
        strokes: engine.strokesOf(id),
      }));
  }

  /** Tells the state and sees to the picture. */
  changed(): void {
    const { engine } = this;
    const name = modelName(engine);
    if (name !== this.toldModel) {
      this.toldModel = name;
      this.emit('model', { hash: engine.document.model, mesh: engine.mesh, surface: engine.surface });
    }
    const missingCues = engine.missingCues();
    this.toldMissing = missingCues.map(cueKey).join();
    const history = viewHistory(engine.history);
    const strokes = engine.strokeCount();
    this.emit('state', { document: engine.document, history, strokes, missingCues });
    this.schedule();
  }

  /** Composites in slices, so that a newer command is never kept waiting. */
  schedule(): void {
    if (this.scheduled) return;
    this.scheduled = true;
    setTimeout(() => {
      this.scheduled = false;
      this.compositeSlice();
    });
  }

  compositeSlice(): void {
    const { engine } = this;
    const dirty = engine.dirty();
    if (dirty.length === 0) return;
    const end = performance.now() + SLICE_MS;
    const done: number[] = [];
    const tile = new Uint8Array(TILE_BYTES);
    const pixels = new Uint8Array(Math.min(dirty.length, 64) * TILE_BYTES);
    for (const t of dirty) {
      if (done.length === 64 || (done.length > 0 && performance.now() > end)) break;
      engine.renderTile(t, tile);
      tileToRows(tile, pixels.subarray(done.length * TILE_BYTES, (done.length + 1) * TILE_BYTES));
      done.push(t);
    }
    const sent = pixels.slice(0, done.length * TILE_BYTES);
    this.emit('tiles', { tiles: done, pixels: sent }, [sent.buffer]);
    const left = dirty.length - done.length;
    this.emit('pending', left);
    if (left) this.schedule();
  }

  cueTiles({ spec, tiles, values }: PaintMethods['cueTiles']['params']): void {
    this.engine.refineCue(
      spec,
      tiles.map((tile, i) => ({ tile, values: values.subarray(i * TILE_TEXELS, (i + 1) * TILE_TEXELS) })),
    );
    this.schedule();
  }

  /** The state is only told anew when a cue that was missing has come. */
  cueArrived(): void {
    if (this.engine.missingCues().map(cueKey).join() === this.toldMissing) this.schedule();
    else this.changed();
  }

  async projectFile(): Promise<Uint8Array> {
    const { engine } = this;
    const paint = engine.document.layers.filter((l) => l.kind === 'paint');
    const pictures = await this.store.pictures.where({ project: this.project }).toArray();
    return writeProjectFile({
      document: engine.document,
      mesh: engine.mesh,
      pixels: paint.flatMap((l) => [...engine.tilesOf(l.id)]),
      strokes: new Map(paint.map((l) => [l.id, engine.strokesOf(l.id)])),
      pictures: new Map(pictures.map((p) => [p.id, p.bytes])),
    });
  }

  async settle(): Promise<void> {
    await this.keeper?.settled();
  }
}

const modelName = ({ document }: Engine): string => `${document.model} ${sizesKey(document.sheets)}`;

function handlers(emit: Emit<PaintEvents>): Handlers<PaintMethods> {
  const desk = new Desk(emit);
  const done = null;
  return {
    open: async (params) => {
      await desk.open(params);
      return done;
    },
    command: ({ command, gesture }) => {
      desk.engine.apply(command, gesture);
      desk.changed();
      return done;
    },
    strokeBegin: (params) => {
      const { layer, style } = strokeBeginParams.parse(params);
      desk.engine.beginStroke(layer, style);
      return done;
    },
    strokeExtend: (params) => {
      const { samples, lift } = strokeExtendParams.parse(params);
      desk.engine.extendStroke(samples, lift);
      desk.schedule();
      return done;
    },
    strokeEnd: () => {
      desk.engine.endStroke();
      desk.changed();
      return done;
    },
    strokeCancel: () => {
      desk.engine.cancelStroke();
      desk.changed();
      return done;
    },
    undo: () => desk.step('undo'),
    redo: () => desk.step('redo'),
    paintLayers: () => desk.paintLayers(),
    changeModel: (change) => {
      desk.engine.changeModel(change);
      desk.changed();
      return done;
    },
    cueTiles: (params) => {
      desk.cueTiles(params);
      return done;
    },
    cue: (params) => {
      const { spec, values } = cueParams.parse(params);
      desk.engine.setCue(spec, values);
      desk.cueArrived();
      return done;
    },
    view: (params) => {
      desk.engine.setView(viewParams.parse(params));
      desk.schedule();
      return done;
    },
    sheet: ({ sheet }) => {
      if (!desk.engine.surface.sheets[sheet])
        throw new CoreError('bad-argument', 'That sheet is no longer there.');
      const rows = compositeSheet(desk.engine, sheet);
      return new Transferred(rows, [rows.buffer as ArrayBuffer]);
    },
    projectFile: async () => {
      const bytes = await desk.projectFile();
      return new Transferred(bytes, [bytes.buffer as ArrayBuffer]);
    },
    settle: async () => {
      await desk.settle();
      return done;
    },
  };
}

serve<PaintMethods, PaintEvents>(self, handlers, { inLine: true });
