import type { Vector3 } from 'three';
import type { SurfaceMap } from '../../../core/surface';
import type { StrokeBegin } from '../../../workers';
import { subjectDiagonal } from '../../../core/mesh';
import type { Brush } from '../../shared/brush';
import { type Hit, type PanePoint, type PointerAt, type StageView } from '../../viewport';

/** Rays cast for one pointer event at the most: a jump across the whole picture is drawn more coarsely. */
const MAX_STEPS = 48;

/** The pen on a pane. */
export type PenAt = Pick<PointerAt, 'x' | 'y' | 'pressure' | 'tilt' | 'azimuth' | 'time'>;

/** A straight line is laid in pieces of so many pixels, each followed over the form. */
const LINE_STEP = 60;

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
  private brush: Pick<Brush, 'size' | 'unit'> = { size: 1, unit: 'pixels' };
  private surface: SurfaceMap | null = null;
  private last: PenAt | null = null;
  private began = 0;
  /** The place under the brush, on the model at rest. */
  get under(): Vector3 | null {
    return this.lastRest;
  }

  /** Where on the model the last stroke ended. */
  endedAt: Vector3 | null = null;
  private samples: number[] = [];
  private lift = true;
  private lastPoint: Vector3 | null = null;
  private lastRest: Vector3 | null = null;
  private frame = 0;

  constructor(view: StageView, sink: StrokeSink) {
    this.view = view;
    this.sink = sink;
  }

  begin(
    pane: PanePoint['pane'],
    at: PenAt,
    stroke: StrokeBegin,
    brush: Pick<Brush, 'size' | 'unit'>,
    surface: SurfaceMap,
  ): void {
    this.pane = pane;
    this.brush = brush;
    this.surface = surface;
    this.lastPoint = null;
    this.sink.begin(stroke);
    this.lift = true;
    this.last = at;
    this.began = at.time;
    this.sample(at);
    this.flush();
  }

  move(at: PenAt): void {
    const from = this.last;
    if (!from) return;
    const length = Math.hypot(at.x - from.x, at.y - from.y);
    if (length < 0.5) return;
    const step = this.brush.unit === 'pixels' ? Math.max(1.5, this.brush.size * 0.08) : 3;
    const steps = Math.min(MAX_STEPS, Math.max(1, Math.ceil(length / step)));
    for (let i = 1; i <= steps; i++) {
      const t = i / steps;
      this.sample(between(from, at, t));
    }
    this.last = at;
    this.frame ||= requestAnimationFrame(() => this.flush());
  }

  /** Straight on to a place. */
  line(to: PenAt): void {
    const from = this.last;
    if (!from) return;
    const pieces = Math.ceil(Math.hypot(to.x - from.x, to.y - from.y) / LINE_STEP);
    for (let i = 1; i <= pieces; i++) this.move(between(from, to, i / pieces));
  }

  end(): void {
    if (!this.last) return;
    this.flush();
    this.last = null;
    if (this.pane === 'model') this.endedAt = this.lastPoint;
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

  private sample(at: PenAt): void {
    const hit = this.view.pick({ pane: this.pane, x: at.x, y: at.y });
    if (!hit) {
      // Off the model: what follows begins a new run.
      this.flush();
      this.lift = true;
      return;
    }
    this.push(hit, at);
  }

  private push(hit: Hit, { pressure, tilt, azimuth, time }: PenAt): void {
    const surface = this.surface!;
    const { texelLength } = surface.sheets[hit.sheet]!;
    const { point, normal } = hit;
    this.lastPoint = point;
    this.lastRest = hit.rest.point;
    const radius =
      this.brush.unit === 'pixels'
        ? (this.brush.size / 2) * this.view.unitsPerPixel(this.pane, hit.point, texelLength)
        : brushRadius(this.brush, surface, texelLength);
    this.samples.push(point.x, point.y, point.z, normal.x, normal.y, normal.z, radius, pressure);
    this.samples.push(tilt, azimuth, Math.round(time - this.began));
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

const diagonals = new WeakMap<SurfaceMap, number>();

/** Half the size of a brush that isn't told in pixels, model units. */
export function brushRadius(
  { size, unit }: Pick<Brush, 'size' | 'unit'>,
  surface: SurfaceMap,
  texelLength: number,
): number {
  if (unit === 'texels') return (size / 2) * texelLength;
  let diagonal = diagonals.get(surface);
  if (diagonal === undefined) {
    diagonal = subjectDiagonal(surface.mesh);
    diagonals.set(surface, diagonal);
  }
  return ((size / 2) * diagonal) / 1000;
}

/** Where the pen was a part of the way from one place to the next. */
function between(a: PenAt, b: PenAt, t: number): PenAt {
  const mix = (x: number, y: number): number => x + (y - x) * t;
  const turn = b.azimuth - a.azimuth;
  return {
    x: mix(a.x, b.x),
    y: mix(a.y, b.y),
    pressure: mix(a.pressure, b.pressure),
    tilt: mix(a.tilt, b.tilt),
    azimuth: a.azimuth + (turn - 2 * Math.PI * Math.round(turn / (2 * Math.PI))) * t,
    time: mix(a.time, b.time),
  };
}
