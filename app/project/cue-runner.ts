import { cueKey, cueKind, type CueSpec } from '../../core/cues';
import { CoreError, sentenceOf } from '../../core/errors';
import { sizesKey, type SurfaceMap } from '../../core/surface';
import { castCue, cueMapKey } from '../../workers';
import { CUE_WORDS } from '../shared/cue-words';
import { notify } from '../shared/notify';
import { jobPool } from '../shared/platform';
import { useProject } from './project-store';
import { withTask } from '../shared/tasks';

interface Target {
  /** Takes a cue's final values. */
  cue(spec: CueSpec, values: Uint16Array): Promise<unknown>;
  /** Takes some tiles of a cue that is still being measured. */
  cueTiles(data: { spec: CueSpec; tiles: readonly number[]; values: Uint16Array }): Promise<unknown>;
}

interface Model {
  readonly hash: string;
  readonly surface: SurfaceMap;
}

/** Measures the cues that the build-up asks for, one job a cue. All of it ends with the session's signal. */
export class CueRunner {
  private readonly target: Target;
  private readonly ended: AbortSignal;
  private readonly running = new Map<string, AbortController>();
  private model: Model | null = null;
  private wanted = new Set<string>();

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
  want(missing: readonly CueSpec[], used: ReadonlySet<string>): void {
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
      void this.measure(this.model, spec, key);
    }
  }

  private async measure(model: Model, spec: CueSpec, key: string): Promise<void> {
    const controller = new AbortController();
    this.running.set(key, controller);
    try {
      const mapKey = cueMapKey(model.hash, model.surface.sheets, spec);
      const known = await jobPool.run('loadMap', { key: mapKey }, { signal: controller.signal });
      const isKnown = known instanceof Uint16Array && known.length === model.surface.codes.length;
      const values = isKnown ? known : await this.measureAnew(model, spec, controller);
      if (this.running.get(key) !== controller || this.ended.aborted) return;
      await this.target.cue(spec, values);
      if (!isKnown) await jobPool.run('keepMap', { key: mapKey, data: values, bytes: values.byteLength });
    } catch (error) {
      if (this.ended.aborted || this.running.get(key) !== controller) return;
      useProject.setState(({ stoppedCues }) => ({ stoppedCues: new Set([...stoppedCues, key]) }));
      if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
    } finally {
      if (this.running.get(key) === controller) this.running.delete(key);
    }
  }

  private measureAnew(
    { hash, surface }: Model,
    spec: CueSpec,
    controller: AbortController,
  ): Promise<Uint16Array> {
    const job = { surface, spec, dense: null };
    const isCast = cueKind(spec).form === 'rays';
    const label = `${isCast ? 'Casting rays for' : 'Measuring'} ${CUE_WORDS[spec.cue][1]}`;
    return withTask(label, async (signal, progress) => {
      signal.addEventListener('abort', () => controller.abort());
      if (!isCast) return jobPool.run('placedCue', job, { signal: controller.signal });
      const scene = `${hash} ${sizesKey(surface.sheets)} ${cueKey(spec)}`;
      return castCue(jobPool, { ...job, scene }, controller.signal, progress, ({ tiles, values }) => {
        if (!controller.signal.aborted)
          void this.target.cueTiles({ spec, tiles, values }).catch(() => undefined);
      });
    });
  }
}
