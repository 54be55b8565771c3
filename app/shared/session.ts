import { cueKey, type CueSpec } from '../../core/cues';
import {
  cuesOf,
  WHOLE_BUILD_UP,
  type BuildUpView,
  type Carried,
  type Command,
  type ModelChange,
  type ModelState,
} from '../../core/engine';
import { CoreError, sentenceOf } from '../../core/errors';
import { meshHash, type UvMesh } from '../../core/mesh';
import type { StrokeStyle } from '../../core/paint';
import { sizesKey, type SurfaceMap } from '../../core/surface';
import { castOcclusion, loadProject, WorkerClient, type PaintEvents, type PaintMethods } from '../../workers';
import { notify } from './notify';
import { jobPool, makePaintWorker, store } from './platform';
import { CLOSED, useProject } from './project-store';
import { SheetCopy } from './sheet-copy';
import { withTask } from './tasks';

/** How far the progress of a change of model is when the mesh has been made, and when it has been measured. */
const MADE = 0.6;
const MEASURED = 0.75;

/** A tab that is just being closed or reloaded lets its lock go within this time. */
const LOCK_WAIT_MS = 2500;

/** No two tabs may write one project. @returns how to let go, or null if another tab holds it */
async function takeLock(project: string): Promise<(() => void) | null> {
  if (!navigator.locks) return () => undefined;
  return new Promise((resolve) => {
    navigator.locks
      .request(`zanahoria ${project}`, { signal: AbortSignal.timeout(LOCK_WAIT_MS) }, () => {
        return new Promise<void>((release) => resolve(release));
      })
      .catch(() => resolve(null));
  });
}

/** One open project: brings storage, measuring jobs and the paint worker together. */
export class Session {
  readonly project: string;
  sheet: SheetCopy | null = null;
  private client: WorkerClient<PaintMethods, PaintEvents> | null = null;
  /** The first paint worker, loading while the surface is measured. */
  private spareWorker: Worker | null = null;
  private release: () => void = () => undefined;
  private closed = false;
  private mesh: UvMesh | null = null;
  private modelHash = '';
  private surface: SurfaceMap | null = null;
  /** Cues may be there before the paint worker is: they wait for it. */
  private opened: Promise<unknown> = Promise.resolve();
  private view: BuildUpView = WHOLE_BUILD_UP;
  private readonly running = new Map<string, AbortController>();
  private readonly onSheet = new Set<(sheet: SheetCopy) => void>();

  constructor(project: string) {
    this.project = project;
  }

  async open(): Promise<void> {
    useProject.setState({ ...CLOSED, status: 'opening', id: this.project });
    jobPool.warmUp();
    this.spareWorker = makePaintWorker();
    try {
      const release = await takeLock(this.project);
      if (!release) {
        throw new CoreError(
          'storage-refused',
          'This project is open in another tab. Close it there, then try again here; that way no stroke can be lost.',
        );
      }
      if (this.closed) return release();
      this.release = release;
      const { document, mesh, row } = await loadProject(store, this.project);
      this.mesh = mesh;
      this.modelHash = row.modelHash;
      useProject.setState({ document, mesh });
      const surface = await withTask('Measuring the surface', (signal, onProgress) =>
        jobPool.run(
          'measure',
          {
            mesh,
            modelHash: row.modelHash,
            sizes: document.sheets.map((s) => s.size),
            shared: crossOriginIsolated,
          },
          { signal, onProgress },
        ),
      );
      this.surface = surface;
      this.sheet = new SheetCopy(surface.sheets);
      // The first rays are cast while the paint worker fetches the project.
      this.measureMissing(cuesOf(document));
      await this.startPainting();
      if (this.closed) return;
      useProject.setState({ status: 'ready', surface });
      for (const listener of this.onSheet) listener(this.sheet);
    } catch (error) {
      if (!this.closed) useProject.setState({ status: 'failed', problem: sentenceOf(error) });
      this.release();
    }
  }

  close(): void {
    this.closed = true;
    this.spareWorker?.terminate();
    for (const controller of this.running.values()) controller.abort();
    const { client } = this;
    this.client = null;
    // What is in line for the disk is let through before the worker ends.
    void client
      ?.call('settle', null)
      .catch(() => undefined)
      .finally(() => {
        client.close();
        this.release();
      });
    if (!client) this.release();
    useProject.setState(CLOSED);
  }

  private async startPainting(): Promise<void> {
    const client = new WorkerClient<PaintMethods, PaintEvents>(
      this.spareWorker ?? makePaintWorker(),
      {
        state: (state) => {
          useProject.setState(state);
          this.measureMissing(state.missingCues);
        },
        model: (model) => this.takeModel(model),
        tiles: (fresh) => this.sheet?.take(fresh),
        pending: (pending) => useProject.setState({ pending }),
        keep: (keep) => useProject.setState({ keep }),
      },
      () => this.restart(),
    );
    this.spareWorker = null;
    this.client = client;
    this.opened = client.call('open', { project: this.project, mesh: this.mesh!, surface: this.surface! });
    await this.opened;
    if (this.view !== WHOLE_BUILD_UP) await client.call('view', this.view);
  }

  /** Another model is in hand: what was measured of the old one no longer holds. */
  private takeModel({ hash, mesh, surface }: ModelState): void {
    for (const controller of this.running.values()) controller.abort();
    this.running.clear();
    this.mesh = mesh;
    this.surface = surface;
    this.modelHash = hash;
    this.sheet = new SheetCopy(surface.sheets);
    useProject.setState({ mesh, surface, stoppedCues: new Set() });
  }

  /** The paint worker died: all that was finished is on disk, so another one goes on from there. */
  private restart(): void {
    if (this.closed) return;
    notify('The painting worker stopped and was started again. Every finished stroke is still there.');
    for (const controller of this.running.values()) controller.abort();
    this.running.clear();
    useProject.setState({ stoppedCues: new Set() });
    this.startPainting().catch((error: unknown) =>
      useProject.setState({ status: 'failed', problem: sentenceOf(error) }),
    );
  }

  // ---- what the interface asks for -----------------------------------------------------------------------------------

  private ask<K extends keyof PaintMethods & string>(
    method: K,
    params: PaintMethods[K]['params'],
  ): Promise<PaintMethods[K]['result'] | null> {
    if (!this.client) return Promise.resolve(null);
    return this.client.call(method, params).catch((error: unknown) => {
      if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
      return null;
    });
  }

  command(command: Command, gesture: string | null = null): void {
    void this.ask('command', { command, gesture });
  }
  undo(): void {
    void this.ask('undo', null);
  }
  redo(): void {
    void this.ask('redo', null);
  }
  strokeBegin(layer: number, style: StrokeStyle): void {
    void this.ask('strokeBegin', { layer, style });
  }
  strokeExtend(samples: Float64Array, lift: boolean): void {
    void this.ask('strokeExtend', { samples, lift });
  }
  strokeEnd(): void {
    void this.ask('strokeEnd', null);
  }
  strokeCancel(): void {
    void this.ask('strokeCancel', null);
  }
  setView(view: BuildUpView): void {
    this.view = view;
    void this.ask('view', view);
  }
  sheetRows(sheet: number): Promise<Uint8Array | null> {
    return this.ask('sheet', { sheet });
  }
  projectFile(): Promise<Uint8Array | null> {
    return this.ask('projectFile', null);
  }

  /**
   * Changes the model, its layout or its sheets; paint is carried over and all of it is one step that can be undone.
   *
   * @param make what comes instead of the present mesh
   * @returns what became of the paint; null if it was stopped, or failed, which is told
   */
  async changeModel(
    label: string,
    make: (
      mesh: UvMesh,
      signal: AbortSignal,
      progress: (done: number) => void,
    ) => Promise<{ mesh: UvMesh; patch?: ModelChange['patch']; byTriangle?: boolean }>,
  ): Promise<Carried | null> {
    const { mesh: from, surface } = this;
    const { document } = useProject.getState();
    if (!from || !surface || !document) return null;
    try {
      return await withTask(label, async (signal, progress) => {
        const made = await make(from, signal, (done) => progress(done * MADE));
        const sheets = made.patch?.sheets ?? document.sheets;
        const hash = meshHash(made.mesh);
        if (hash === this.modelHash && sizesKey(sheets) === sizesKey(surface.sheets)) return null;
        const measured = await jobPool.run(
          'measure',
          {
            mesh: made.mesh,
            modelHash: hash,
            sizes: sheets.map((s) => s.size),
            shared: crossOriginIsolated,
          },
          { signal },
        );
        progress(MEASURED);
        const layers = await this.ask('paintLayers', null);
        if (!layers) return null;
        const to = { mesh: made.mesh, surface: measured };
        const carried = await jobPool.run(
          'carryPaint',
          {
            from: { mesh: from, surface },
            to,
            layers,
            byTriangle: made.byTriangle ?? true,
            renamed: { ...document.renamed, ...made.patch?.renamed },
            regions: document.regions,
          },
          { signal, onProgress: (done) => progress(MEASURED + (1 - MEASURED) * done) },
        );
        await store.models.put({ hash, mesh: made.mesh });
        await this.ask('changeModel', {
          label,
          model: { hash, ...to },
          patch: { ...made.patch, ...(document.regions.length ? { regions: [...carried.regions] } : {}) },
          pixels: carried.pixels,
        });
        return carried;
      });
    } catch (error) {
      if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
      return null;
    }
  }

  /** Calls back with the sheet's picture, now or as soon as it is there. @returns stops it */
  whenSheet(listener: (sheet: SheetCopy) => void): () => void {
    if (this.sheet && useProject.getState().status === 'ready') listener(this.sheet);
    this.onSheet.add(listener);
    return () => this.onSheet.delete(listener);
  }

  // ---- cues ----------------------------------------------------------------------------------------------------------

  /** Begins a cue again that was stopped. */
  resumeCues(): void {
    useProject.setState({ stoppedCues: new Set() });
    this.measureMissing(useProject.getState().missingCues);
  }

  private measureMissing(missing: readonly CueSpec[]): void {
    const wanted = new Set(missing.map(cueKey));
    for (const [key, controller] of this.running) {
      // A cue counts as there once its first values are; it is only stopped if no layer wants it any more.
      if (!wanted.has(key) && !this.isUsed(key)) controller.abort();
    }
    // Occlusion takes longest, so its first look is begun first.
    const ordered = missing.toSorted((a, b) => Number(b.cue === 'occlusion') - Number(a.cue === 'occlusion'));
    for (const spec of ordered) {
      const key = cueKey(spec);
      if (this.running.has(key) || useProject.getState().stoppedCues.has(key)) continue;
      void this.measure(spec, key);
    }
  }

  private isUsed(key: string): boolean {
    const layers = useProject.getState().document?.layers ?? [];
    return layers.some((l) => l.kind === 'wash' && cueKey(l.source) === key);
  }

  private async measure(spec: CueSpec, key: string): Promise<void> {
    const controller = new AbortController();
    this.running.set(key, controller);
    try {
      const mapKey = `cue ${this.modelHash} ${sizesKey(this.surface!.sheets)} ${key}`;
      const known = await jobPool.run('loadMap', { key: mapKey }, { signal: controller.signal });
      const values = known instanceof Uint16Array ? known : await this.measureAnew(spec, controller);
      if (this.running.get(key) !== controller) return;
      await this.opened;
      await this.ask('cue', { spec, values });
      if (values !== known) {
        await jobPool.run('keepMap', { key: mapKey, data: values, bytes: values.byteLength });
      }
    } catch (error) {
      const { stoppedCues } = useProject.getState();
      useProject.setState({ stoppedCues: new Set([...stoppedCues, key]) });
      if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
    } finally {
      if (this.running.get(key) === controller) this.running.delete(key);
    }
  }

  private measureAnew(spec: CueSpec, controller: AbortController): Promise<Uint16Array> {
    const job = { mesh: this.mesh!, surface: this.surface!, spec };
    const label = {
      occlusion: 'Casting rays for occlusion',
      height: 'Measuring height',
      facing: 'Measuring facing',
    }[spec.cue];
    return withTask(label, async (signal, progress) => {
      signal.addEventListener('abort', () => controller.abort());
      if (spec.cue !== 'occlusion') return jobPool.run('simpleCue', job, { signal: controller.signal });
      const scene = `${this.modelHash} ${sizesKey(job.surface.sheets)} ${cueKey(spec)}`;
      return castOcclusion(jobPool, { ...job, scene }, controller.signal, progress, ({ tiles, values }) => {
        void this.opened.then(
          () => this.ask('cueTiles', { spec, tiles, values }),
          () => undefined,
        );
      });
    });
  }
}
