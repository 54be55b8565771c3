import { contentHash } from '../../core/math';
import {
  CUE_KINDS,
  cueKey,
  cueKind,
  isOnOwnModel,
  posesOf,
  type CueSpec,
  type Met,
  type PoseMap,
} from '../../core/cues';
import { CoreError, sentenceOf } from '../../core/errors';
import { sizesKey, type SurfaceMap } from '../../core/surface';
import {
  groundName,
  localColorsIn,
  motionName,
  paintedOcclusion,
  type ProjectDocument,
} from '../../core/document';
import { subjectDiagonal, type UvMesh } from '../../core/mesh';
import { onePose, type Pose } from '../../core/motion';
import { castCue, type CueJob } from '../../workers';
import { cueMapKey, fromKept, keptCuesOf } from '../../storage';
import { CUE_WORDS } from '../shared/cue-words';
import { notify } from '../shared/notify';
import { jobPool } from '../shared/platform';
import { useProject } from './project-store';
import { withTask } from '../shared/tasks';

interface Target {
  /** Takes a cue's final values. @param on names what it was measured on */
  cue(data: { spec: CueSpec; on: string; values: Uint16Array }): Promise<unknown>;
  /** Takes some tiles of a cue that is still being measured. */
  cueTiles(data: {
    spec: CueSpec;
    on: string;
    tiles: readonly number[];
    values: Uint16Array;
  }): Promise<unknown>;
  /** A file that the project holds. */
  file(id: number): Promise<Uint8Array | null>;
  /** Names the project. */
  readonly project: string;
}

interface Model {
  readonly hash: string;
  readonly surface: SurfaceMap;
}

/** A file of the project, and the hash of what is in it. */
interface HeldFile {
  readonly file: Uint8Array;
  readonly hash: string;
}

/** Measures the cues that the build-up asks for, one job a cue. All of it ends with the session's signal. */
export class CueRunner {
  private readonly target: Target;
  private readonly ended: AbortSignal;
  private readonly running = new Map<string, AbortController>();
  private model: Model | null = null;
  private wanted = new Set<string>();
  /** Names what cues are measured on; empty: the model itself. */
  private on = '';
  private kept: { readonly of: Model; readonly as: ReturnType<typeof keptCuesOf> } | null = null;
  private readonly files = new Map<number, Promise<HeldFile | null>>();

  constructor(target: Target, ended: AbortSignal) {
    this.target = target;
    this.ended = ended;
    ended.addEventListener('abort', () => this.stopAll());
  }

  /** Another model is in hand: what was being measured of the old one is of no use. */
  useModel(model: Model): void {
    this.stopAll();
    this.model = model;
    if (!this.ended.aborted) useProject.setState({ stoppedCues: new Set() });
  }

  stopAll(): void {
    for (const controller of this.running.values()) controller.abort();
    this.running.clear();
  }

  /**
   * @param missing cues that the build-up has no values of
   * @param used keys of all cues that it is made from: one that nothing wants any more is given up
   */
  want(missing: readonly CueSpec[], used: ReadonlySet<string>, document: ProjectDocument): void {
    const on = groundName(document);
    if (on !== this.on) {
      // What is being measured on something else is of no use any more.
      this.stopAll();
      this.on = on;
      useProject.setState({ stoppedCues: new Set() });
    }
    this.wanted = new Set(missing.map(cueKey));
    for (const [key, controller] of this.running) {
      if (!this.wanted.has(key) && !used.has(key)) controller.abort();
    }
    if (!this.model || this.ended.aborted) return;
    // Rays take longest, so their first look is begun first.
    const isCast = (spec: CueSpec): number => Number(cueKind(spec).form === 'rays');
    const ordered = missing.toSorted((a, b) => isCast(b) - isCast(a));
    for (const spec of ordered) {
      const key = cueKey(spec);
      if (this.running.has(key) || useProject.getState().stoppedCues.has(key)) continue;
      void this.measure(this.model, spec, key, document);
    }
  }

  private async measure(model: Model, spec: CueSpec, key: string, document: ProjectDocument): Promise<void> {
    const controller = new AbortController();
    this.running.set(key, controller);
    const { on } = this;
    try {
      const measuredOn = posesOf(spec)
        ? ((await this.movesOf(document))?.name ?? '')
        : on && !isOnOwnModel(spec)
          ? (await this.denseOf(document)).name
          : '';
      const kept = await this.keptAs(model);
      const mapKey = cueMapKey(kept.model, kept.sheets, spec, measuredOn);
      const known = await jobPool.run('loadMap', { key: mapKey }, { signal: controller.signal });
      const there = fromKept(known, kept, model.surface);
      const values = there ?? (await this.measureAnew(model, spec, document, controller));
      if (this.running.get(key) !== controller || this.ended.aborted) return;
      await this.target.cue({ spec, on, values });
      const data = values.slice(0, kept.length);
      if (!there) await jobPool.run('keepMap', { key: mapKey, data, bytes: data.byteLength });
    } catch (error) {
      if (this.ended.aborted || this.running.get(key) !== controller) return;
      useProject.setState(({ stoppedCues }) => ({ stoppedCues: new Set([...stoppedCues, key]) }));
      if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
    } finally {
      if (this.running.get(key) === controller) this.running.delete(key);
    }
  }

  /** Under what name the cues of a model are kept, told once a model. */
  private keptAs(model: Model): ReturnType<typeof keptCuesOf> {
    if (this.kept?.of !== model) {
      const hashOf = (mesh: UvMesh): Promise<string> => jobPool.run('meshHash', { mesh });
      this.kept = { of: model, as: keptCuesOf(model.hash, model.surface, hashOf) };
    }
    return this.kept.as;
  }

  private async measureAnew(
    model: Model,
    spec: CueSpec,
    document: ProjectDocument,
    controller: AbortController,
  ): Promise<Uint16Array> {
    const isCast = cueKind(spec).form === 'rays';
    const label = `${isCast ? 'Casting rays for' : 'Measuring'} ${CUE_WORDS[spec.cue][1]}`;
    const job = { spec, ...(await this.measuredOn(model, spec, document)) };
    const { on } = this;
    return withTask(label, async (signal, progress) => {
      signal.addEventListener('abort', () => controller.abort());
      if (!isCast) return jobPool.run('placedCue', job, { signal: controller.signal });
      return castCue(jobPool, job, controller.signal, progress, ({ tiles, values }) => {
        if (!controller.signal.aborted)
          void this.target.cueTiles({ spec, on, tiles, values }).catch(() => undefined);
      });
    });
  }

  /** How the denser model is met. @throws CoreError `bad-argument` if it isn't, `cancelled` */
  async meetDense(document: ProjectDocument, signal: AbortSignal): Promise<Met> {
    const on = await this.measuredOn(this.model!, CUE_KINDS.height.usual, document);
    return jobPool.run('meetDense', on, { signal });
  }

  /** How a pose lies to what was painted; a byte a texel in the order of the surface's codes. @throws CoreError `cancelled` */
  async poseMap(
    map: PoseMap,
    pose: Pose,
    document: ProjectDocument,
    signal: AbortSignal,
  ): Promise<Uint8Array> {
    const painted = paintedOcclusion(document) ?? CUE_KINDS.occlusion.usual;
    const on = await this.measuredOn(this.model!, { ...painted, poses: onePose(pose) }, document);
    return jobPool.run('poseMap', { ...on, map, pose, painted }, { signal });
  }

  /** On what a cue is measured. @throws CoreError `storage-damaged` if the denser model is missing */
  private async measuredOn(
    { hash, surface }: Model,
    spec: CueSpec,
    document: ProjectDocument,
  ): Promise<Omit<CueJob, 'spec'>> {
    const name = `${hash} ${sizesKey(surface.sheets)}`;
    const own = { ground: name, surface, dense: null, colors: null, moves: null };
    if (spec.cue === 'bounce') {
      const colors = localColorsIn(document, surface.mesh);
      return { ...own, ground: `${name} in ${colors?.name ?? ''}`, colors };
    }
    if (posesOf(spec)) {
      const moves = await this.movesOf(document);
      return moves ? { ...own, ground: `${name} ${moves.name}`, moves } : own;
    }
    const { dense } = document;
    if (!dense || isOnOwnModel(spec)) return own;
    const denser = await this.denseOf(document);
    const distance = dense.distance * subjectDiagonal(surface.mesh);
    return {
      ...own,
      ground: `${name} on ${denser.name}`,
      dense: { file: denser.file, distance, placing: dense.placing },
    };
  }

  /** The file by which the model is posed, and what names it for all projects; null: there is none. */
  private async movesOf(
    document: ProjectDocument,
  ): Promise<(NonNullable<CueJob['moves']> & { readonly name: string }) | null> {
    const { modelFile } = document;
    const known = modelFile && (await this.held(modelFile.id));
    if (!known) return null;
    return { file: known.file, placing: modelFile.placing, name: motionName(document, known.hash) };
  }

  /** The denser model, and what names it for all projects. @throws CoreError `storage-damaged` if it is missing */
  private async denseOf(
    document: ProjectDocument,
  ): Promise<{ readonly file: Uint8Array; readonly name: string }> {
    const { dense } = document;
    const known = dense && (await this.held(dense.id));
    if (!known) {
      throw new CoreError(
        'storage-damaged',
        `The denser model “${dense?.name ?? ''}” is missing. Remove it, or add it again.`,
      );
    }
    return { file: known.file, name: groundName(document, known.hash) };
  }

  /** Held in shared memory where there is any, so that handing it to workers costs nothing. */
  private held(id: number): Promise<HeldFile | null> {
    const known = this.files.get(id);
    if (known) return known;
    const held = this.target.file(id).then((bytes) => {
      if (!bytes) return null;
      const hash = contentHash(bytes);
      if (typeof SharedArrayBuffer === 'undefined') return { file: bytes, hash };
      const shared = new Uint8Array(new SharedArrayBuffer(bytes.length));
      shared.set(bytes);
      return { file: shared, hash };
    });
    this.files.set(id, held);
    const forget = (): unknown => this.files.delete(id);
    held.then((file) => file ?? forget(), forget);
    return held;
  }
}
