import { blend, type BlendMode } from './blend-modes';

/**
 * Lays straight-alpha RGBA8 texels onto an accumulator (W3C Compositing and Blending Level 1, section 5.9, source-over).
 * With `resolveTile` the plain twin of the kernel `compositeTile`.
 *
 * @param acc planar and premultiplied, 0..1: n red, n green, n blue, n alpha
 * @param src n texels, RGBA
 * @param opacity 0..1
 */
export function layOnto(acc: Float32Array, src: Uint8Array, mode: BlendMode, opacity: number): void {
  const n = acc.length / 4;
  for (let i = 0; i < n; i++) {
    const o = i * 4;
    const sa = (src[o + 3]! / 255) * opacity;
    if (sa === 0) continue;
    const ba = acc[3 * n + i]!;
    const cs: [number, number, number] = [src[o]! / 255, src[o + 1]! / 255, src[o + 2]! / 255];
    const cb: [number, number, number] =
      ba > 0 ? [acc[i]! / ba, acc[n + i]! / ba, acc[2 * n + i]! / ba] : [0, 0, 0];
    const b = blend(mode, cb, cs);
    for (let k = 0; k < 3; k++) {
      const mixed = (1 - ba) * cs[k]! + ba * b[k]!;
      acc[k * n + i] = sa * mixed + (1 - sa) * acc[k * n + i]!;
    }
    acc[3 * n + i] = sa + ba * (1 - sa);
  }
}

/** From the accumulator to straight-alpha RGBA8. */
export function resolveTile(acc: Float32Array, out: Uint8Array): void {
  const n = acc.length / 4;
  for (let i = 0; i < n; i++) {
    const a = acc[3 * n + i]!;
    for (let k = 0; k < 3; k++) {
      out[i * 4 + k] = a > 0 ? Math.floor(Math.min(255, (acc[k * n + i]! / a) * 255) + 0.5) : 0;
    }
    out[i * 4 + 3] = Math.floor(a * 255 + 0.5);
  }
}
