import { cueKey, type CueSpec, type Met, type PoseMap } from '../../core/cues';
import { type BuildUpView, WHOLE_BUILD_UP } from '../../core/compositor';
import { changeModel, type MakeModel, type ModelState } from '../../core/engine';
import type { Carried } from '../../core/model';
import { cuesOfMask, type MaskStep } from '../../core/layers';
import type { NodePatch } from '../../core/commands';
import { nodesOf, type ProjectDocument } from '../../core/document';
import type { Pose } from '../../core/motion';
import { CoreError, sentenceOf } from '../../core/errors';
import { type StrokeBegin } from '../../workers';
import { loadHead } from '../../storage';
import { modelHost } from './change-model';
import { Asked } from './busy';
import { CueRunner } from './cue-runner';
import { takeLock, waitUntilFree } from './lock';
import { measureModel } from './measure-model';
import { askToKeepStorage } from './keep-storage';
import { FolderCopy } from './folder-copy';
import { Matcher } from './matcher';
import { reviewLoss } from '../shared/loss-review';
import { keepEqual } from '../shared/keep-equal';
import { notify } from '../shared/notify';
import { PaintCalls } from './paint-calls';
import { PaintLink } from './paint-link';
import { jobPool, makePaintWorker, store } from '../shared/platform';
import { CLOSED, useProject, type ProjectView } from './project-store';
import { SheetCopy } from './sheet-copy';
import { tellLost } from './tell-lost';
import { withTask } from '../shared/tasks';

/** One open project: brings storage, measuring jobs and the paint worker together. */
export class Session extends PaintCalls {
  readonly project: string;
  sheet: SheetCopy | null = null;
  /** The picture of the detail sheet, as long as it is looked at. */
  detail: SheetCopy | null = null;
  private readonly ended = new AbortController();
  protected readonly link: PaintLink;
  private readonly cues: CueRunner;
  private readonly asked = new Asked();
  /** Compares the paint with the chosen reference. */
  readonly matcher: Matcher;
  private release: () => void = () => undefined;
  /** The copy in a folder; null until the project is open, and where another tab paints on it. */
  folderCopy: FolderCopy | null = null;
  /** Another tab paints on it. */
  private follows = false;
  private model: ModelState | null = null;
  private view: BuildUpView = WHOLE_BUILD_UP;
  /** Keys of the cues that the build-up is made from. */
  private used: ReadonlySet<string> = new Set();
  private readonly onSheet = new Set<(sheet: SheetCopy) => void>();
  private readonly onDetail = new Set<(detail: SheetCopy | null) => void>();

  constructor(project: string) {
    super();
    this.project = project;
    this.matcher = new Matcher(this);
    this.link = new PaintLink({
      makeWorker: makePaintWorker,
      open: () => ({ project, model: this.model!, follows: this.follows }),
      onEvent: {
        state: ({ usedCues, ...state }) => {
          // What hasn't changed stays the same object: who shows it isn't drawn anew.
          const { document, history, missingCues } = useProject.getState();
          this.tell({ ...keepEqual({ document, history, missingCues }, state), isPainting: false });
          this.used = new Set(usedCues);
          this.cues.want(state.missingCues, this.used, state.document);
        },
        model: (model) => this.takeModel(model),
        tiles: (fresh) => this.sheet?.take(fresh),
        detail: (fresh) => this.detail?.take(fresh),
        coarse: (fresh) => this.sheet?.takeCoarse(fresh),
        pending: (pending) => this.tell({ pending }),
        lost: tellLost,
        outdated: () => this.reopen(),
        keep: (keep) => this.tell({ keep }),
      },
      onRestart: () => this.restarted(),
      onGiveUp: (error) => this.tell({ status: 'failed', problem: sentenceOf(error), rescue: true }),
    });
    this.cues = new CueRunner(
      {
        cue: (data) => this.link.ask('cue', data),
        cueTiles: (data) => this.link.ask('cueTiles', data),
        file: (id) => this.link.ask('file', { id }),
        project,
      },
      this.ended.signal,
    );
  }

  private get closed(): boolean {
    return this.ended.signal.aborted;
  }

  /** Nothing of a closed session writes to the open one's state. */
  private tell(patch: Partial<ProjectView>): void {
    if (!this.closed) useProject.setState(patch);
  }

  async open(): Promise<void> {
    this.tell({ ...CLOSED, status: 'opening', id: this.project });
    jobPool.warmUp();
    try {
      const release = await takeLock(this.project);
      if (this.closed) return release?.();
      if (release) {
        this.release = release;
        this.link.prepare(this.project);
      } else this.follow();
      const { document, mesh, row } = await loadHead(store, this.project);
      this.tell({ document, mesh });
      const { signal } = this.ended;
      const measured = await withTask('Measuring the surface', (stop, onProgress) =>
        measureModel(
          { mesh, hash: row.modelHash, sheets: document.sheets },
          { signal: AbortSignal.any([stop, signal]), onProgress },
        ),
      );
      if (this.closed) return;
      // The same mesh object as the picture has been built of.
      const surface = { ...measured, mesh };
      this.useModel({ hash: row.modelHash, surface });
      // The first rays are cast while the paint worker fetches the project.
      const first = missingAtFirst(document);
      this.cues.want(first, new Set(first.map(cueKey)), document);
      await this.link.open();
      if (this.closed) return;
      if (this.view !== WHOLE_BUILD_UP) await this.link.ask('view', this.view);
      this.tell({ status: 'ready', surface });
      for (const listener of this.onSheet) listener(this.sheet!);
      if (!this.follows) this.folderCopy = new FolderCopy(this);
    } catch (error) {
      this.tell({ status: 'failed', problem: sentenceOf(error), rescue: false });
      this.release();
    }
  }

  close(): void {
    if (this.closed) return;
    this.ended.abort();
    this.asked.end();
    this.folderCopy?.close();
    this.matcher.dispose();
    // What is in line for the disk is let through before the worker ends.
    void this.link.close().finally(() => this.release());
    useProject.setState(CLOSED);
  }

  /** Another tab paints on the project: it is looked at until that one is closed. */
  private follow(): void {
    this.follows = true;
    this.tell({ follows: true });
    void waitUntilFree(this.project, this.ended.signal).then((isFree) => {
      if (isFree) this.reopen();
    });
  }

  private reopen(): void {
    this.tell({ reopens: useProject.getState().reopens + 1 });
  }

  private useModel(model: ModelState): void {
    this.model = model;
    this.sheet = new SheetCopy(model.surface.sheets);
    if (this.detail) this.useDetail(new SheetCopy(model.surface.sheets));
    this.cues.useModel(model);
  }

  /** Another model is in hand: what was measured of the old one no longer holds. */
  private takeModel(model: ModelState): void {
    if (this.closed) return;
    this.useModel(model);
    this.tell({ mesh: model.surface.mesh, surface: model.surface });
    for (const listener of this.onSheet) listener(this.sheet!);
  }

  /** Another paint worker is at work; it has no cues yet. */
  private restarted(): void {
    if (this.closed) return;
    notify('The painting worker stopped and was started again. Every finished stroke is still there.');
    this.cues.stopAll();
    this.tell({ stoppedCues: new Set() });
    const { document, missingCues } = useProject.getState();
    if (document) this.cues.want(missingCues, this.used, document);
    if (this.view !== WHOLE_BUILD_UP) void this.link.ask('view', this.view).catch(() => undefined);
    if (this.detail) this.askForDetail(true);
  }

  private useDetail(detail: SheetCopy | null): void {
    this.detail = detail;
    for (const listener of this.onDetail) listener(detail);
  }

  private askForDetail(isLookedAt: boolean): void {
    void this.asked.during(this.link.ask('lookAtDetail', { isLookedAt })).catch(() => undefined);
  }

  // ---- what the interface asks for -----------------------------------------------------------------------------------

  /** A refusal is told, and null is given. */
  protected async told<T>(work: Promise<T>): Promise<T | null> {
    try {
      return await this.asked.during(work);
    } catch (error) {
      const quiet = this.closed || (error instanceof CoreError && error.code === 'cancelled');
      if (!quiet) notify(sentenceOf(error));
      return null;
    }
  }

  /** Counts something that will end in a command as under way. */
  during<T>(work: Promise<T>): Promise<T> {
    return this.asked.during(work);
  }

  strokeBegin(stroke: StrokeBegin): void {
    if (!this.follows) this.tell({ isPainting: true });
    void this.told(this.link.change('strokeBegin', stroke));
  }
  strokeExtend(samples: Float64Array, lift: boolean): void {
    if (this.follows) return;
    void this.told(this.link.change('strokeExtend', { samples, lift }));
  }
  strokeEnd(): void {
    if (this.follows) return;
    askToKeepStorage();
    void this.told(this.link.change('strokeEnd', {}));
  }
  strokeCancel(): void {
    this.tell({ isPainting: false });
    void this.told(this.link.change('strokeCancel', {}));
  }
  setView(view: BuildUpView): void {
    this.view = view;
    void this.asked.during(this.link.ask('view', view)).catch(() => undefined);
  }
  /** Shows a layer with other settings for a while. @param patch null: as it is */
  preview(layer: number, patch: NodePatch | null): void {
    void this.asked.during(this.link.ask('preview', { layer, patch })).catch(() => undefined);
  }
  /** Shows one step alone as a layer's mask, until `endTrial`. */
  tryMask(layer: number, step: MaskStep): void {
    this.preview(layer, { mask: [step] });
    void this.asked
      .during(this.link.ask('view', { ...WHOLE_BUILD_UP, maskOf: layer }))
      .catch(() => undefined);
  }
  /** Shows again what is shown otherwise. */
  endTrial(): void {
    this.setView(this.view);
  }
  /** Begins or ends to keep a picture of the detail sheet. */
  lookAtDetail(isLookedAt: boolean): void {
    if (isLookedAt === (this.detail !== null) || !this.sheet) return;
    this.useDetail(isLookedAt ? new SheetCopy(this.sheet.sheets) : null);
    this.askForDetail(isLookedAt);
  }
  /** The project as a file though no paint worker can be had: what is stored, and what was asked for since. */
  async rescueFile(): Promise<Uint8Array | null> {
    const { rescue } = await import('./rescue');
    return this.told(rescue(this.project, this.model!, this.link.session, this.link.unwritten()));
  }

  /**
   * Changes the model, its layout or its sheets; paint is carried over and all of it is one step that can be undone. Painting goes on
   * meanwhile, and what is painted is carried too.
   *
   * @param make what comes instead of the present mesh
   * @returns what became of the paint; null if it was stopped, or failed, which is told
   */
  async changeModel(label: string, make: MakeModel<AbortSignal>): Promise<Carried | null> {
    return this.told(
      withTask(label, (stop, progress) => {
        const signal = AbortSignal.any([stop, this.ended.signal]);
        const accept = ({ loss }: Carried): Promise<void> => reviewLoss(label, loss, signal);
        return changeModel(
          modelHost(this.link, () => this.model!),
          { label, make, signal, progress, accept },
        );
      }),
    );
  }

  /** Calls back with the sheet's picture, now or as soon as it is there, and when another takes its place. @returns stops it */
  whenSheet(listener: (sheet: SheetCopy) => void): () => void {
    if (this.sheet && useProject.getState().status === 'ready') listener(this.sheet);
    this.onSheet.add(listener);
    return () => this.onSheet.delete(listener);
  }

  /** Calls back with the detail sheet's picture, now and whenever it is begun or ended. @returns stops it */
  whenDetail(listener: (detail: SheetCopy | null) => void): () => void {
    listener(this.detail);
    this.onDetail.add(listener);
    return () => this.onDetail.delete(listener);
  }

  /** How much of the model meets nothing of the denser one. @throws CoreError `bad-argument`, `cancelled` */
  meetDense(signal: AbortSignal): Promise<Met> {
    const { document } = useProject.getState();
    return this.cues.meetDense(document!, signal);
  }

  /** How a pose lies to what was painted; see `CueRunner.poseMap`. */
  poseMap(map: PoseMap, pose: Pose, signal: AbortSignal): Promise<Uint8Array> {
    return this.cues.poseMap(map, pose, useProject.getState().document!, signal);
  }

  /** Begins cues again that were stopped. */
  resumeCues(): void {
    this.tell({ stoppedCues: new Set() });
    const { document, missingCues } = useProject.getState();
    if (document) this.cues.want(missingCues, this.used, document);
  }
}

function missingAtFirst(document: ProjectDocument): CueSpec[] {
  const specs = [...nodesOf(document.layers)].flatMap(({ node }) => cuesOfMask(node.mask));
  return [...new Map(specs.map((spec) => [cueKey(spec), spec])).values()];
}
