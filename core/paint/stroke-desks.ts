import { CoreError } from '../errors';
import type { Placing } from '../math';
import { Poser, type FilePose, type Motion } from '../motion';
import { posedSurface, type SurfaceMap } from '../surface';
import type { StrokeKernels } from './stroke-kernels';
import { StrokeRasterizer } from './stroke-rasterizer';

/** What poses are told by. */
export interface PoseContext {
  /** The file that the model was read from, and what takes it to the model. */
  readonly modelFile?: { readonly id: number; readonly placing: Placing | null } | null;
  /** How files move, by their ids: those that have been read; null: it doesn't. */
  readonly motions?: ReadonlyMap<number, Motion | null>;
}

/** Poses that are held ready beside the model at rest. */
const KEPT = 3;

/** Where strokes are made on one surface: a rasterizer for each pose. */
export class StrokeDesks {
  readonly rest: StrokeRasterizer;
  private readonly kernels: StrokeKernels;
  private readonly context: () => PoseContext;
  private readonly posed = new Map<string, StrokeRasterizer>();
  private poser: { readonly of: Motion; readonly placing: Placing | null; readonly poser: Poser } | null =
    null;

  constructor(surface: SurfaceMap, kernels: StrokeKernels, context: () => PoseContext) {
    this.rest = new StrokeRasterizer(surface, kernels);
    this.kernels = kernels;
    this.context = context;
  }

  /** Whether strokes of a pose can be made here. */
  knows(pose: FilePose | undefined): boolean {
    if (!pose) return true;
    const { modelFile, motions } = this.context();
    return modelFile?.id === pose.file && !!motions?.get(pose.file) && !!this.rest.surface.mesh.origins;
  }

  /** @throws CoreError `bad-argument` if it isn't a pose of the model's file, or that hasn't been read */
  of(pose: FilePose | undefined): StrokeRasterizer {
    if (!pose) return this.rest;
    const poser = this.knows(pose) && this.poserNow();
    if (!poser) {
      throw new CoreError(
        'bad-argument',
        'The file that this pose is from isn’t the model’s any more, or can’t be read. Return to rest and paint there.',
      );
    }
    const name = JSON.stringify(pose);
    let made = this.posed.get(name);
    if (made) this.posed.delete(name);
    else {
      const { surface } = this.rest;
      const form = poser.pose(pose);
      const normals = form.turn(surface.mesh.normals);
      made = new StrokeRasterizer(
        posedSurface(surface, { positions: form.positions, normals }),
        this.kernels,
        this.rest,
      );
      const [oldest] = this.posed.keys();
      if (this.posed.size >= KEPT && oldest !== undefined) this.posed.delete(oldest);
    }
    this.posed.set(name, made);
    return made;
  }

  private poserNow(): Poser | null {
    const { modelFile, motions } = this.context();
    const motion = modelFile && motions?.get(modelFile.id);
    if (!motion) return null;
    const { placing } = modelFile;
    if (this.poser?.of !== motion || this.poser.placing !== placing) {
      this.posed.clear();
      const { mesh } = this.rest.surface;
      this.poser = { of: motion, placing, poser: new Poser(mesh, motion, placing) };
    }
    return this.poser.poser;
  }
}
