import { cross, dot, length, normalize, scale, seededRandom, sub, type Vec3 } from '../math';
import { DRIVEN, hasShades, type BrushShape, type Drives } from './brush';
import { curveTable, readCurve, type CurveTable } from './curve-table';
import type { Dab } from './dab';
import { SAMPLE_STRIDE } from './sample';
import { SHADES } from './shades';
import type { BrushedStyle } from './stroke';

/** A dab is never smaller than this many texels, so that the thinnest brush still leaves a mark. */
const MIN_RADIUS_TEXELS = 0.8;

/** Diameters a second that count as fast. */
const FAST = 25;

/** How much of the speed a sample brings in at once; the rest is what it was before: pens tell their places unevenly. */
const SPEED_SHARE = 0.35;

/** What may drive something, in the order in which it is worked out. */
const DRIVERS = ['pressure', 'tilt', 'speed'] as const satisfies readonly (keyof BrushShape)[];

type Tables = { readonly [D in keyof Drives]: CurveTable | null };

/** A sample, or a place between two. */
interface Place {
  readonly at: Vec3;
  readonly normal: Vec3;
  readonly radius: number;
  readonly pressure: number;
  readonly tilt: number;
  readonly azimuth: number;
  readonly speed: number;
}

/**
 * Walks along a run of samples and sets dabs at even distance. The dabs depend on the samples only, not on how they were
 * handed over.
 */
export class DabWalker {
  private readonly style: BrushedStyle;
  private readonly texel: number;
  private readonly tables: readonly Tables[];
  private readonly isLeast: boolean;
  private readonly flipped: boolean;
  private last: Place | null = null;
  private lastTime = 0;
  /** The way of the stroke is needed for its first dab, which waits for it. */
  private waiting: Place | null = null;
  private untilNext = 0;
  private dabs = 0;
  /** Where the last dab of the run was set. */
  private lastDab: Vec3 | null = null;

  /**
   * @param texel length of a texel's side on the sheet that the dabs are for, model units
   * @param flipped the samples are those of a stroke that is seen in a mirror
   */
  constructor(style: BrushedStyle, texel: number, flipped = false) {
    this.style = style;
    this.flipped = flipped;
    this.texel = texel;
    this.tables = DRIVERS.map((driver) => tablesOf(style.brush[driver]));
    this.isLeast = style.brush.tip === 'round';
  }

  /** Ends a run: the next sample isn't joined to the last one. @returns the dab of a run that went nowhere, if it waited for its way */
  lift(): Dab[] {
    const out: Dab[] = [];
    if (this.waiting) this.put(this.waiting, null, out);
    this.waiting = this.last = this.lastDab = null;
    return out;
  }

  /** @param samples numbers, SAMPLE_STRIDE a sample @returns the dabs they call for, in order */
  walk(samples: ArrayLike<number>): Dab[] {
    const out: Dab[] = [];
    for (let o = 0; o + SAMPLE_STRIDE <= samples.length; o += SAMPLE_STRIDE) {
      const next = this.placeOf(samples, o);
      if (!this.last) {
        if (this.style.brush.follows === 'stroke') this.waiting = next;
        else this.put(next, null, out);
        this.untilNext = this.stepAt(this.radiusAt(next));
      } else {
        this.between(this.last, next, out);
      }
      this.last = next;
    }
    return out;
  }

  private placeOf(s: ArrayLike<number>, o: number): Place {
    const at: Vec3 = [s[o]!, s[o + 1]!, s[o + 2]!];
    const radius = s[o + 6]!;
    const time = s[o + 10]!;
    let speed = this.last?.speed ?? 0;
    const took = time - this.lastTime;
    if (this.last && took > 0 && radius > 0) {
      const now = (length(sub(at, this.last.at)) / (2 * radius) / took) * (1000 / FAST);
      speed += (Math.min(1, now) - speed) * SPEED_SHARE;
    }
    this.lastTime = time;
    return {
      at,
      normal: [s[o + 3]!, s[o + 4]!, s[o + 5]!],
      radius,
      pressure: s[o + 7]!,
      tilt: s[o + 8]!,
      azimuth: s[o + 9]!,
      speed,
    };
  }

  private between(a: Place, b: Place, out: Dab[]): void {
    const whole = length(sub(b.at, a.at));
    if (this.waiting && whole > 0) {
      this.put(this.waiting, sub(b.at, a.at), out);
      this.waiting = null;
    }
    let at = 0;
    while (whole - at >= this.untilNext) {
      at += this.untilNext;
      const place = mixed(a, b, whole > 0 ? at / whole : 1);
      this.untilNext = this.stepAt(this.put(place, sub(b.at, a.at), out));
    }
    this.untilNext -= whole - at;
  }

  private driven(of: keyof Drives, { pressure, tilt, speed }: Place): number {
    let product = 1;
    [pressure, tilt, speed].forEach((value, i) => {
      const table = this.tables[i]![of];
      if (table) product *= readCurve(table, value);
    });
    return product;
  }

  private turned({ pressure, tilt, speed }: Place): number {
    let sum = 0;
    [pressure, tilt, speed].forEach((value, i) => {
      const table = this.tables[i]!.angle;
      if (table) sum += readCurve(table, value) * 2 * Math.PI;
    });
    return sum;
  }

  private radiusAt(place: Place): number {
    const radius = place.radius * this.driven('size', place);
    return this.isLeast ? Math.max(radius, this.texel * MIN_RADIUS_TEXELS) : Math.max(radius, this.texel);
  }

  private stepAt(radius: number): number {
    return Math.max(radius * 2 * this.style.brush.spacing, this.texel * 0.25);
  }

  /** Sets the dabs of one place. @param way along which the stroke goes @returns their radius before chance */
  private put(place: Place, way: Vec3 | null, out: Dab[]): number {
    const { brush, seed, eye, opacity } = this.style;
    const radius = this.radiusAt(place);
    const facing = this.style.nearSide && brush.lies !== 'sheet' ? normalize(place.normal) : null;
    const normal = brush.lies === 'eye' ? normalize(eye) : normalize(place.normal);
    const { flipped } = this;
    const move = this.lastDab && sub(place.at, this.lastDab);
    this.lastDab = place.at;
    for (let n = 0; n < brush.count; n++) {
      const chance = seededRandom((seed + this.dabs * 0x9e3779b1) >>> 0);
      this.dabs++;
      const [size, strong, turn, side, ahead] = [chance(), chance(), chance(), chance(), chance()];
      const shade = hasShades(brush) ? Math.floor(chance() * SHADES) : 0;
      const along = this.along(place, normal, way, (turn - 0.5) * 2 * Math.PI * brush.jitter.turn);
      const own = Math.max(radius * (1 - brush.jitter.size * size), this.texel * 0.5);
      const edge = brush.edge * this.driven('edge', place);
      const inner = Math.max(0, Math.min(own * (1 - edge), own - this.texel));
      let [x, y, z] = place.at;
      if (brush.scatter > 0) {
        const over = this.cross(normal, along);
        const [s, t] = [
          (side - 0.5) * 4 * radius * brush.scatter,
          (ahead - 0.5) * 4 * radius * brush.scatter,
        ];
        x += over[0] * s + along[0] * t;
        y += over[1] * s + along[1] * t;
        z += over[2] * s + along[2] * t;
      }
      const strength =
        this.driven('opacity', place) * (1 - brush.jitter.opacity * strong) * (brush.builds ? opacity : 1);
      out.push({ x, y, z, radius: own, inner, strength, normal, along, facing, flipped, shade, move });
    }
    return radius;
  }

  /** What turns to the left turns to the right in a mirror. */
  private cross(a: Vec3, b: Vec3): Vec3 {
    const product = cross(a, b);
    return this.flipped ? scale(product, -1) : product;
  }

  /** Along the tip's long side: unit, at a right angle to the normal. */
  private along(place: Place, normal: Vec3, way: Vec3 | null, chance: number): Vec3 {
    const { brush, up } = this.style;
    const upward = flat(up, normal) ?? flat([0, 1, 0], normal) ?? flat([1, 0, 0], normal)!;
    let angle = brush.turn + this.turned(place) + chance;
    let from = this.cross(upward, normal);
    if (brush.follows === 'stroke') from = (way && flat(way, normal)) ?? from;
    else if (brush.follows === 'tilt') {
      from = upward;
      angle += place.azimuth;
    }
    if (angle === 0) return from;
    const side = this.cross(normal, from);
    const [c, s] = [Math.cos(angle), Math.sin(angle)];
    return [from[0] * c + side[0] * s, from[1] * c + side[1] * s, from[2] * c + side[2] * s];
  }
}

function tablesOf(drives: Drives): Tables {
  const entries = DRIVEN.map((of) => [of, drives[of] && curveTable(drives[of])] as const);
  return Object.fromEntries(entries) as Tables;
}

/** What of a direction lies in the plane of a normal, unit; null if next to nothing does. */
function flat(v: Vec3, n: Vec3): Vec3 | null {
  const rest = sub(v, scale(n, dot(v, n)));
  return length(rest) > 1e-3 * (length(v) || 1) ? normalize(rest) : null;
}

function mixed(a: Place, b: Place, t: number): Place {
  const between = (x: number, y: number): number => x + (y - x) * t;
  const each = (v: Vec3, w: Vec3): Vec3 => [between(v[0], w[0]), between(v[1], w[1]), between(v[2], w[2])];
  return {
    at: each(a.at, b.at),
    normal: each(a.normal, b.normal),
    radius: between(a.radius, b.radius),
    pressure: between(a.pressure, b.pressure),
    tilt: between(a.tilt, b.tilt),
    azimuth: a.azimuth + wrapped(b.azimuth - a.azimuth) * t,
    speed: between(a.speed, b.speed),
  };
}

const wrapped = (angle: number): number => angle - 2 * Math.PI * Math.round(angle / (2 * Math.PI));
