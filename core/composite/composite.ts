import { blend, type BlendMode } from './blend-modes';
import {
  ALL_SUBS,
  openGroups,
  type CompositeOptions,
  type CompositeStep,
  type Snapshot,
  type TileSource,
} from './operations';

/** Texels of a sub-tile; an accumulator of one is four planes of so many numbers: red, green, blue, alpha. */
const SUB_TEXELS = 1024;
const SUB_FLOATS = SUB_TEXELS * 4;
const SUBS = 4;

/**
 * Composites one tile as its steps say. The plain twin of the kernels' composite.
 *
 * @param out straight-alpha RGBA of the tile, in tile order: of 8 bit, or of 16 bit
 * @returns what `options.keepAfter` asked for
 */
export function compositePlain(
  steps: readonly CompositeStep[],
  out: Uint8Array | Uint16Array,
  options: CompositeOptions = {},
): Snapshot | null {
  const { subs = ALL_SUBS, from = null, keepAfter } = options;
  const kept: Float32Array[] =
    keepAfter === undefined
      ? []
      : Array.from({ length: openGroups(steps, keepAfter) + 1 }, () => new Float32Array(SUB_FLOATS * SUBS));
  for (let sub = 0; sub < SUBS; sub++) {
    if (!(subs & (1 << sub))) continue;
    const part = (a: Float32Array): Float32Array => a.subarray(sub * SUB_FLOATS, (sub + 1) * SUB_FLOATS);
    const stack = from ? from.accumulators.map((a) => part(a).slice()) : [new Float32Array(SUB_FLOATS)];
    const keep = (done: number): void => {
      if (done === keepAfter) stack.forEach((acc, level) => part(kept[level]!).set(acc));
    };
    keep(from?.steps ?? 0);
    for (let i = from?.steps ?? 0; i < steps.length; i++) {
      runStep(steps[i]!, stack, sub);
      keep(i + 1);
    }
    resolve(stack[0]!, out.subarray(sub * SUB_FLOATS, (sub + 1) * SUB_FLOATS));
  }
  return keepAfter === undefined ? null : { steps: keepAfter, subs, accumulators: kept };
}

function runStep(step: CompositeStep, stack: Float32Array[], sub: number): void {
  if (step.do === 'push') {
    stack.push(step.through ? stack.at(-1)!.slice() : new Float32Array(SUB_FLOATS));
    return;
  }
  if (step.do === 'pop' && step.through) {
    const top = stack.pop()!;
    mixInto(stack.at(-1)!, top, step.opacity, step.mask?.subarray(sub * SUB_TEXELS, (sub + 1) * SUB_TEXELS));
    return;
  }
  const top = step.do === 'pop' ? stack.pop()! : stack.at(-1)!;
  const below = stack.at(-1)!;
  const colors = new Float32Array(SUB_FLOATS);
  if (step.do === 'lay') readSource(step.source, sub, colors);
  else readStraight(top, colors);
  if (step.do === 'adjust') {
    const plane = (k: number): Float32Array => colors.subarray(k * SUB_TEXELS, (k + 1) * SUB_TEXELS);
    step.adjust({ r: plane(0), g: plane(1), b: plane(2) });
    plane(3).fill(1);
  }
  const { mask, opacity } = step;
  for (let i = 0; i < SUB_TEXELS; i++) {
    colors[3 * SUB_TEXELS + i]! *= opacity * (mask ? mask[sub * SUB_TEXELS + i]! / 65535 : 1);
  }
  layOnto(below, colors, step.mode, step.clip || step.do === 'adjust');
}

/** A source's sub-tile as planes of straight colour and alpha, 0..1. */
function readSource(source: TileSource, sub: number, out: Float32Array): void {
  for (let i = 0; i < SUB_TEXELS; i++) {
    for (let k = 0; k < 4; k++) {
      const o = (sub * SUB_TEXELS + i) * 4 + k;
      out[k * SUB_TEXELS + i] =
        source.form === 'rgba8'
          ? source.bytes[o]! / 255
          : source.form === 'rgba16'
            ? source.words[o]! / 65535
            : k === 3
              ? 1
              : source.color[k]!;
    }
  }
}

/** An accumulator's colours, no longer multiplied by alpha. */
function readStraight(acc: Float32Array, out: Float32Array): void {
  for (let i = 0; i < SUB_TEXELS; i++) {
    const a = acc[3 * SUB_TEXELS + i]!;
    for (let k = 0; k < 3; k++) {
      out[k * SUB_TEXELS + i] = a > 0 ? Math.min(1, acc[k * SUB_TEXELS + i]! / a) : 0;
    }
    out[3 * SUB_TEXELS + i] = a;
  }
}

/**
 * Lays planes of straight colour onto an accumulator: W3C Compositing and Blending Level 1, section 5.9 (source-over) with the
 * mixing of section 10. What is clipped sees what lies below as if it were opaque, and leaves its alpha.
 */
function layOnto(acc: Float32Array, source: Float32Array, mode: BlendMode, clip: boolean): void {
  const n = SUB_TEXELS;
  for (let i = 0; i < n; i++) {
    const sa = source[3 * n + i]!;
    if (sa === 0) continue;
    const ba = acc[3 * n + i]!;
    const cs: [number, number, number] = [source[i]!, source[n + i]!, source[2 * n + i]!];
    const cb: [number, number, number] =
      ba > 0 ? [acc[i]! / ba, acc[n + i]! / ba, acc[2 * n + i]! / ba] : [0, 0, 0];
    const b = blend(mode, cb, cs);
    const free = clip ? 0 : 1 - ba;
    for (let k = 0; k < 3; k++) {
      acc[k * n + i] = sa * (free * cs[k]! + ba * b[k]!) + (1 - sa) * acc[k * n + i]!;
    }
    acc[3 * n + i] = sa * free + ba;
  }
}

/** Goes over from an accumulator to what has come of it, as far as opacity and mask say. */
function mixInto(acc: Float32Array, top: Float32Array, opacity: number, mask: Uint16Array | undefined): void {
  for (let i = 0; i < acc.length; i++) {
    const w = opacity * (mask ? mask[i % SUB_TEXELS]! / 65535 : 1);
    acc[i]! += (top[i]! - acc[i]!) * w;
  }
}

/** From an accumulator to straight-alpha RGBA, 8 or 16 bit as `out` holds. */
export function resolve(acc: Float32Array, out: Uint8Array | Uint16Array): void {
  const n = SUB_TEXELS;
  const full = 256 ** out.BYTES_PER_ELEMENT - 1;
  for (let i = 0; i < n; i++) {
    const a = acc[3 * n + i]!;
    for (let k = 0; k < 3; k++) {
      out[i * 4 + k] = a > 0 ? Math.floor(Math.min(full, (acc[k * n + i]! / a) * full) + 0.5) : 0;
    }
    out[i * 4 + 3] = Math.floor(Math.min(1, a) * full + 0.5);
  }
}
