import type { Vector3 } from 'three';
import type { SurfaceMap } from '../../../core/surface';
import type { StrokeBegin } from '../../../workers';
import { ownerOf, type Hit, type PanePoint, type StageView } from '../../viewport';

/** Rays cast for one pointer event at the most: a jump across the whole picture is drawn more coarsely. */
const MAX_STEPS = 48;

export interface StrokeSink {
  begin(stroke: StrokeBegin): void;
  extend(samples: Float64Array, lift: boolean): void;
  end(): void;
  cancel(): void;
}

/**
 * Turns a pointer's way over the picture into samples on the surface and hands them on once a frame. Between two events the
 * way is walked in small steps, each with a ray of its own, so that a quick stroke follows the form.
 */
export class BrushInput {
  private readonly view: StageView;
  private readonly sink: StrokeSink;
  private pane: PanePoint['pane'] = 'model';
  private diameter = 1;
  private surface: SurfaceMap | null = null;
  private last: { x: number; y: number; pressure: number } | null = null;
  private samples: number[] = [];
  private lift = true;
  private lastHit: { readonly seen: Vector3; readonly owner: Vector3 } | null = null;
  private frame = 0;

  constructor(view: StageView, sink: StrokeSink) {
    this.view = view;
    this.sink = sink;
  }

  begin(
    pane: PanePoint['pane'],
    at: { x: number; y: number; pressure: number },
    stroke: StrokeBegin,
    diameter: number,
    surface: SurfaceMap,
  ): void {
    this.pane = pane;
    this.diameter = diameter;
    this.surface = surface;
    this.lastHit = null;
    this.sink.begin(stroke);
    this.lift = true;
    this.last = at;
    this.sample(at.x, at.y, at.pressure);
    this.flush();
  }

  move(at: { x: number; y: number; pressure: number }): void {
    const from = this.last;
    if (!from) return;
    const length = Math.hypot(at.x - from.x, at.y - from.y);
    if (length < 0.5) return;
    const step = Math.max(1.5, this.diameter * 0.08);
    const steps = Math.min(MAX_STEPS, Math.max(1, Math.ceil(length / step)));
    for (let i = 1; i <= steps; i++) {
      const t = i / steps;
      this.sample(
        from.x + (at.x - from.x) * t,
        from.y + (at.y - from.y) * t,
        from.pressure + (at.pressure - from.pressure) * t,
      );
    }
    this.last = at;
    this.frame ||= requestAnimationFrame(() => this.flush());
  }

  end(): void {
    if (!this.last) return;
    this.flush();
    this.last = null;
    this.sink.end();
  }

  cancel(): void {
    if (!this.last) return;
    cancelAnimationFrame(this.frame);
    this.frame = 0;
    this.samples = [];
    this.last = null;
    this.sink.cancel();
  }

  private sample(x: number, y: number, pressure: number): void {
    const hit = this.view.pick({ pane: this.pane, x, y });
    if (!hit) {
      // Off the model: what follows begins a new run.
      this.flush();
      this.lift = true;
      return;
    }
    this.push(hit, pressure);
  }

  private push(hit: Hit, pressure: number): void {
    const surface = this.surface!;
    const { texelLength } = surface.sheets[hit.sheet]!;
    const { point, normal } = ownerOf(surface, hit);
    // Where texels are shared, neighbours on the screen may have owners far apart: no stroke runs between those.
    if (this.lastHit) {
      const onScreen = this.lastHit.seen.distanceTo(hit.point);
      if (this.lastHit.owner.distanceTo(point) > onScreen * 3 + texelLength * 4) {
        this.flush();
        this.lift = true;
      }
    }
    this.lastHit = { seen: hit.point, owner: point };
    const radius = (this.diameter / 2) * this.view.unitsPerPixel(this.pane, hit.point, texelLength);
    this.samples.push(point.x, point.y, point.z, normal.x, normal.y, normal.z, radius, pressure);
  }

  private flush(): void {
    cancelAnimationFrame(this.frame);
    this.frame = 0;
    if (this.samples.length === 0) return;
    this.sink.extend(Float64Array.from(this.samples), this.lift);
    this.samples = [];
    this.lift = false;
  }
}
