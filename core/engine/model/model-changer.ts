import type { ProjectDocument } from '../../document';
import type { TileState } from '../../pixels';
import { planModelChange, type ModelChange, type ModelChanged } from './model-change';
import type { ProjectState } from '../project-state';

/** Changes of the model that can be under way at once. */
const MOST_BEGUN = 8;

/** Changes of the model: each is long work, done elsewhere, and names the revision that it began from. */
export class ModelChanger {
  private readonly state: ProjectState;
  /** Documents from which changes have begun, by revision. */
  private readonly begun = new Map<number, ProjectDocument>();

  constructor(state: ProjectState) {
    this.state = state;
  }

  /** A change begins: it is to name this revision. */
  begin(): { readonly from: number; readonly document: ProjectDocument } {
    const { revision, document } = this.state;
    this.begun.set(revision, document);
    const [oldest] = this.begun.keys();
    if (this.begun.size > MOST_BEGUN && oldest !== undefined) this.begun.delete(oldest);
    return { from: revision, document };
  }

  /** @throws CoreError `bad-argument`, `document-invalid`; nothing is changed then */
  change(change: ModelChange): ModelChanged {
    const { document, surface, planes, models, kernels } = this.state;
    const planned = planModelChange(change, {
      begun: this.begun.get(change.from),
      document,
      surface,
      changedAt: (plane) => this.state.changedAt(plane),
      paintOf: (plane) => planes.paintOf(document, plane),
      planes: this.state.paintedChannels(),
      kernels,
      files: this.state.files,
      motions: this.state.motions,
    });
    if (!planned) return { done: false, again: 'model' };
    const { hash } = change.model;
    models.provide(change.model);
    const { modelFile } = planned.document;
    const step = this.state.record({
      label: change.label,
      kind: 'change-model',
      after: planned.document,
      tiles: this.withEmptied(planned.pixels),
      models: [document.model, hash],
      model: { hash, mesh: change.model.surface.mesh },
      ...(change.file && modelFile && { files: new Map([[modelFile.id, change.file.bytes]]) }),
    });
    return { done: true, step };
  }

  /** Both sides of a step name the same tiles, so that taking it either way empties what the other side had. */
  private withEmptied(next: readonly TileState[]): TileState[] {
    const { pixels } = this.state;
    const named = new Set(next.map((t) => `${t.plane} ${t.tile}`));
    const gone = pixels
      .planeNumbers()
      .flatMap((plane) => pixels.tiles(plane).map((tile): TileState => ({ plane, tile, bytes: null })))
      .filter(({ plane, tile }) => !named.has(`${plane} ${tile}`));
    return [...next, ...gone];
  }
}
