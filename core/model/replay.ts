import type { FaceRuns } from '../mesh';
import { LiveStroke, StrokeDesks, type PoseContext, type Stroke, type StrokeKernels } from '../paint';
import { IDENTITY, type Placing } from '../math';
import { PatternPictures } from '../pattern';
import { isEmptyTile } from '../pixels';
import { regionShape, type Cut, type RegionShape } from '../region';
import type { SurfaceMap } from '../surface';

/** What strokes refer to by id. */
export interface StrokeContext extends PoseContext {
  readonly guards: readonly {
    readonly id: number;
    readonly faces: FaceRuns;
    readonly cuts: readonly Cut[];
  }[];
  readonly frames: readonly { readonly id: number; readonly placing: Placing }[];
  /** Pictures of the project that strokes are painted through, as files. */
  readonly files?: ReadonlyMap<number, Uint8Array>;
}

/** Makes strokes again on a surface whose triangles are those that they were made on. */
export class StrokeReplayer {
  private readonly surface: SurfaceMap;
  private readonly desks: StrokeDesks;
  private readonly kernels: StrokeKernels;
  private readonly context: StrokeContext;
  private readonly guards = new Map<number, RegionShape>();
  private readonly pictures: PatternPictures;

  constructor(surface: SurfaceMap, kernels: StrokeKernels, context: StrokeContext) {
    this.surface = surface;
    this.desks = new StrokeDesks(surface, kernels, () => context);
    this.kernels = kernels;
    this.context = context;
    this.pictures = new PatternPictures(context.files ?? new Map());
  }

  /** Whether strokes can be made: what they were made in is known. */
  knows(strokes: readonly Stroke[]): boolean {
    return strokes.every(({ pose }) => this.desks.knows(pose));
  }

  /** @param tiles of the plane; changed: touched tiles are replaced, emptied ones go */
  replay(strokes: readonly Stroke[], tiles: Map<number, Uint8Array>): void {
    for (const stroke of strokes) {
      const { runs, within, frame, keepAlpha, ...style } = stroke;
      const live = new LiveStroke({
        style,
        placing: this.context.frames.find((f) => f.id === frame)?.placing ?? IDENTITY,
        keepAlpha,
        guard: within === null ? null : this.guardOf(within),
        rasterizer: this.desks.of(style.pose),
        kernels: this.kernels,
        plane: tiles,
        picture: (id) => this.pictures.get(id),
      });
      const touched = new Set([...live.replay(runs)].map((sub) => sub >> 2));
      for (const tile of touched) {
        const painted = live.paint(tile, tiles.get(tile));
        if (isEmptyTile(painted)) tiles.delete(tile);
        else tiles.set(tile, painted);
      }
      live.end();
    }
  }

  /** A guard that isn't known lets nothing through. */
  private guardOf(id: number): RegionShape {
    let shape = this.guards.get(id);
    if (!shape) {
      const known = this.context.guards.find((g) => g.id === id);
      shape = regionShape(this.surface, {
        faces: { runs: known?.faces ?? [] },
        cuts: known?.cuts ?? [],
      });
      this.guards.set(id, shape);
    }
    return shape;
  }
}
