import type { Dab } from './dab';
import { SAMPLE_STRIDE, type StrokeStyle } from './stroke';

/** A dab is never smaller than this many texels, so that the thinnest brush still leaves a mark. */
const MIN_RADIUS_TEXELS = 0.8;

/**
 * Walks along a run of samples and sets dabs at even distance. The dabs depend on the samples only, not on how they were
 * handed over.
 */
export class DabWalker {
  private readonly style: StrokeStyle;
  private readonly texel: number;
  private last: Float64Array | null = null;
  private untilNext = 0;

  /** @param texel length of a texel's side on the sheet that the dabs are for, model units */
  constructor(style: StrokeStyle, texel: number) {
    this.style = style;
    this.texel = texel;
  }

  /** Begins a new run: the next sample isn't joined to the last one. */
  lift(): void {
    this.last = null;
  }

  /** @param samples numbers, SAMPLE_STRIDE a sample @returns the dabs they call for, in order */
  walk(samples: ArrayLike<number>): Dab[] {
    const out: Dab[] = [];
    for (let o = 0; o + SAMPLE_STRIDE <= samples.length; o += SAMPLE_STRIDE) {
      const next = Float64Array.from({ length: SAMPLE_STRIDE }, (_, k) => samples[o + k]!);
      if (!this.last) {
        out.push(this.dabAt(next, next, 0));
        this.untilNext = this.stepAt(next);
      } else {
        this.between(this.last, next, out);
      }
      this.last = next;
    }
    return out;
  }

  private between(a: Float64Array, b: Float64Array, out: Dab[]): void {
    const length = Math.hypot(b[0]! - a[0]!, b[1]! - a[1]!, b[2]! - a[2]!);
    let at = 0;
    while (length - at >= this.untilNext) {
      at += this.untilNext;
      const t = length > 0 ? at / length : 1;
      const dab = this.dabAt(a, b, t);
      out.push(dab);
      this.untilNext = Math.max(dab.radius * 2 * this.style.spacing, this.texel * 0.25);
    }
    this.untilNext -= length - at;
  }

  private radiusAt(radius: number, pressure: number): number {
    const sized = this.style.pressureSize ? radius * pressure : radius;
    return Math.max(sized, this.texel * MIN_RADIUS_TEXELS);
  }

  private stepAt(s: Float64Array): number {
    return Math.max(this.radiusAt(s[6]!, s[7]!) * 2 * this.style.spacing, this.texel * 0.25);
  }

  private dabAt(a: Float64Array, b: Float64Array, t: number): Dab {
    const v = (k: number): number => a[k]! + (b[k]! - a[k]!) * t;
    const pressure = v(7);
    const radius = this.radiusAt(v(6), pressure);
    const inner = Math.max(0, Math.min(radius * (1 - this.style.edge), radius - this.texel));
    const nl = Math.hypot(v(3), v(4), v(5)) || 1;
    return {
      x: v(0),
      y: v(1),
      z: v(2),
      radius,
      inner,
      strength: this.style.pressureOpacity ? pressure : 1,
      facing: this.style.nearSide ? [v(3) / nl, v(4) / nl, v(5) / nl] : null,
    };
  }
}
