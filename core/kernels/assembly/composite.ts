// Twins: layOnto and resolveTile in core/stack/composite.ts. Formulas: W3C Compositing and Blending Level 1.
// The accumulator of a tile is planar and premultiplied: n red, n green, n blue, n alpha (f32, 0..1).
const R: usize = 0, G: usize = 1, B: usize = 2;

// @ts-ignore: decorator
@inline
function splat(x: f32): v128 { return f32x4.splat(x); }

// @ts-ignore: decorator
@inline
function clamp01(x: v128): v128 { return f32x4.pmin(f32x4.pmax(x, splat(0)), splat(1)); }

// @ts-ignore: decorator
@inline
function hardLight(cb: v128, cs: v128): v128 {
  const two = f32x4.add(cs, cs), t = f32x4.sub(two, splat(1));
  const screen = f32x4.sub(f32x4.add(cb, t), f32x4.mul(cb, t));
  return v128.bitselect(f32x4.mul(cb, two), screen, f32x4.le(cs, splat(0.5)));
}

// @ts-ignore: decorator
@inline
function softLight(cb: v128, cs: v128): v128 {
  const t = f32x4.sub(f32x4.add(cs, cs), splat(1));
  const low = f32x4.mul(cb, f32x4.sub(splat(1), cb));
  const poly = f32x4.mul(f32x4.add(f32x4.mul(f32x4.sub(f32x4.mul(splat(16), cb), splat(12)), cb), splat(4)), cb);
  const d = v128.bitselect(poly, f32x4.sqrt(cb), f32x4.le(cb, splat(0.25)));
  return f32x4.add(cb, f32x4.mul(t, v128.bitselect(low, f32x4.sub(d, cb), f32x4.le(cs, splat(0.5)))));
}

// A backdrop is premultiplied and divided again, so 0 and 1 are met within a few units in the last place of f32.
const NEAR: f32 = 1e-6;

// @ts-ignore: decorator
@inline
function colorDodge(cb: v128, cs: v128): v128 {
  const one = splat(1);
  let x = f32x4.pmin(one, f32x4.div(cb, f32x4.pmax(f32x4.sub(one, cs), splat(1e-9))));
  x = v128.bitselect(one, x, f32x4.ge(cs, one));
  return v128.bitselect(splat(0), x, f32x4.le(cb, splat(NEAR)));
}

// @ts-ignore: decorator
@inline
function colorBurn(cb: v128, cs: v128): v128 {
  const one = splat(1);
  let x = f32x4.sub(one, f32x4.pmin(one, f32x4.div(f32x4.sub(one, cb), f32x4.pmax(cs, splat(1e-9)))));
  x = v128.bitselect(splat(0), x, f32x4.le(cs, splat(0)));
  return v128.bitselect(one, x, f32x4.ge(cb, splat(1 - NEAR)));
}

// @ts-ignore: decorator
@inline
function separable(mode: i32, cb: v128, cs: v128): v128 {
  if (mode == 1) return f32x4.mul(cb, cs);
  if (mode == 2) return f32x4.sub(f32x4.add(cb, cs), f32x4.mul(cb, cs));
  if (mode == 3) return hardLight(cs, cb);
  if (mode == 4) return f32x4.pmin(cb, cs);
  if (mode == 5) return f32x4.pmax(cb, cs);
  if (mode == 6) return colorDodge(cb, cs);
  if (mode == 7) return colorBurn(cb, cs);
  if (mode == 8) return hardLight(cb, cs);
  if (mode == 9) return softLight(cb, cs);
  if (mode == 10) return f32x4.abs(f32x4.sub(cb, cs));
  return f32x4.sub(f32x4.add(cb, cs), f32x4.mul(splat(2), f32x4.mul(cb, cs)));
}

// @ts-ignore: decorator
@inline
function lum(r: v128, g: v128, b: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(r, splat(0.3)), f32x4.mul(g, splat(0.59))), f32x4.mul(b, splat(0.11)));
}

// @ts-ignore: decorator
@inline
function min3(r: v128, g: v128, b: v128): v128 { return f32x4.pmin(f32x4.pmin(r, g), b); }

// @ts-ignore: decorator
@inline
function max3(r: v128, g: v128, b: v128): v128 { return f32x4.pmax(f32x4.pmax(r, g), b); }

// The four non-separable modes take a hue-giving colour (cr, cg, cb), optionally restretched to a saturation, and a luminosity.
// @ts-ignore: decorator
@inline
function channelOf(c: v128, low: v128, stretch: v128, restretch: bool): v128 {
  return restretch ? f32x4.mul(f32x4.sub(c, low), stretch) : c;
}

// @ts-ignore: decorator
@inline
function clip(c: v128, l: v128, low: v128, high: v128): v128 {
  const one = splat(1), tiny = splat(1e-9);
  const up = f32x4.add(l, f32x4.div(f32x4.mul(f32x4.sub(c, l), l), f32x4.pmax(f32x4.sub(l, low), tiny)));
  c = v128.bitselect(up, c, f32x4.lt(low, splat(0)));
  const down = f32x4.add(l, f32x4.div(f32x4.mul(f32x4.sub(c, l), f32x4.sub(one, l)), f32x4.pmax(f32x4.sub(high, l), tiny)));
  return v128.bitselect(down, c, f32x4.gt(high, one));
}

// @ts-ignore: decorator
@inline
function mixed(cs: v128, blended: v128, acc: v128, sa: v128, ba: v128): v128 {
  const one = splat(1);
  const c = f32x4.add(f32x4.mul(f32x4.sub(one, ba), cs), f32x4.mul(ba, blended));
  return f32x4.add(f32x4.mul(sa, c), f32x4.mul(f32x4.sub(one, sa), acc));
}

// @ts-ignore: decorator
@inline
function lay(mode: i32, acc: usize, src: usize, n: i32, opacity: f32): void {
  const plane: usize = <usize>n << 2, k = splat(f32(1.0 / 255.0)), ka = splat(opacity * f32(1.0 / 255.0));
  const byte = i32x4.splat(255), one = splat(1);
  for (let i = 0; i < n; i += 4) {
    const o = <usize>i << 2;
    const px = v128.load(src + o);
    const ai = i32x4.shr_u(px, 24);
    if (!v128.any_true(ai)) continue;
    const p = acc + o;
    const sa = f32x4.mul(f32x4.convert_i32x4_s(ai), ka);
    const sr = f32x4.mul(f32x4.convert_i32x4_s(v128.and(px, byte)), k);
    const sg = f32x4.mul(f32x4.convert_i32x4_s(v128.and(i32x4.shr_u(px, 8), byte)), k);
    const sb = f32x4.mul(f32x4.convert_i32x4_s(v128.and(i32x4.shr_u(px, 16), byte)), k);
    const ar = v128.load(p + plane * R), ag = v128.load(p + plane * G), ab = v128.load(p + plane * B);
    const ba = v128.load(p + plane * 3);
    const rest = f32x4.sub(one, sa);
    // Over an opaque ground, the usual case, nothing has to be divided and alpha stays.
    const opaque = !v128.any_true(f32x4.lt(ba, one));
    if (mode < 12 && opaque) {
      const cr = mode == 0 ? sr : separable(mode, ar, sr), cg = mode == 0 ? sg : separable(mode, ag, sg), cb = mode == 0 ? sb : separable(mode, ab, sb);
      v128.store(p + plane * R, f32x4.add(ar, f32x4.mul(sa, f32x4.sub(cr, ar))));
      v128.store(p + plane * G, f32x4.add(ag, f32x4.mul(sa, f32x4.sub(cg, ag))));
      v128.store(p + plane * B, f32x4.add(ab, f32x4.mul(sa, f32x4.sub(cb, ab))));
      continue;
    }
    if (mode == 0) {
      v128.store(p + plane * R, f32x4.add(f32x4.mul(sr, sa), f32x4.mul(ar, rest)));
      v128.store(p + plane * G, f32x4.add(f32x4.mul(sg, sa), f32x4.mul(ag, rest)));
      v128.store(p + plane * B, f32x4.add(f32x4.mul(sb, sa), f32x4.mul(ab, rest)));
    } else {
      const inv = f32x4.div(one, f32x4.pmax(ba, splat(1e-9)));
      const br = f32x4.mul(ar, inv), bg = f32x4.mul(ag, inv), bb = f32x4.mul(ab, inv);
      if (mode < 12) {
        v128.store(p + plane * R, mixed(sr, separable(mode, br, sr), ar, sa, ba));
        v128.store(p + plane * G, mixed(sg, separable(mode, bg, sg), ag, sa, ba));
        v128.store(p + plane * B, mixed(sb, separable(mode, bb, sb), ab, sa, ba));
      } else {
        // 12 hue, 13 saturation, 14 color, 15 luminosity
        const fromSource = mode == 12 || mode == 14;
        const restretch = mode == 12 || mode == 13;
        let cr = fromSource ? sr : br, cg = fromSource ? sg : bg, cb = fromSource ? sb : bb;
        const low0 = min3(cr, cg, cb);
        const wanted = mode == 12 ? f32x4.sub(max3(br, bg, bb), min3(br, bg, bb)) : f32x4.sub(max3(sr, sg, sb), min3(sr, sg, sb));
        const stretch = f32x4.div(wanted, f32x4.pmax(f32x4.sub(max3(cr, cg, cb), low0), splat(1e-9)));
        cr = channelOf(cr, low0, stretch, restretch);
        cg = channelOf(cg, low0, stretch, restretch);
        cb = channelOf(cb, low0, stretch, restretch);
        const l = mode == 15 ? lum(sr, sg, sb) : lum(br, bg, bb);
        const shift = f32x4.sub(l, lum(cr, cg, cb));
        cr = f32x4.add(cr, shift); cg = f32x4.add(cg, shift); cb = f32x4.add(cb, shift);
        const low = min3(cr, cg, cb), high = max3(cr, cg, cb);
        v128.store(p + plane * R, mixed(sr, clip(cr, l, low, high), ar, sa, ba));
        v128.store(p + plane * G, mixed(sg, clip(cg, l, low, high), ag, sa, ba));
        v128.store(p + plane * B, mixed(sb, clip(cb, l, low, high), ab, sa, ba));
      }
    }
    v128.store(p + plane * 3, f32x4.add(sa, f32x4.mul(ba, rest)));
  }
}

function layOn(acc: usize, src: usize, n: i32, mode: i32, opacity: f32): void {
  switch (mode) {
    case 0: lay(0, acc, src, n, opacity); break;
    case 1: lay(1, acc, src, n, opacity); break;
    case 2: lay(2, acc, src, n, opacity); break;
    case 3: lay(3, acc, src, n, opacity); break;
    case 4: lay(4, acc, src, n, opacity); break;
    case 5: lay(5, acc, src, n, opacity); break;
    case 6: lay(6, acc, src, n, opacity); break;
    case 7: lay(7, acc, src, n, opacity); break;
    case 8: lay(8, acc, src, n, opacity); break;
    case 9: lay(9, acc, src, n, opacity); break;
    case 10: lay(10, acc, src, n, opacity); break;
    case 11: lay(11, acc, src, n, opacity); break;
    case 12: lay(12, acc, src, n, opacity); break;
    case 13: lay(13, acc, src, n, opacity); break;
    case 14: lay(14, acc, src, n, opacity); break;
    default: lay(15, acc, src, n, opacity);
  }
}

/** From the accumulator to straight-alpha RGBA8. */
function resolve(acc: usize, out: usize, n: i32): void {
  const plane: usize = <usize>n << 2, k = splat(255), half = splat(0.5);
  for (let i = 0; i < n; i += 4) {
    const o = <usize>i << 2, p = acc + o;
    const a = v128.load(p + plane * 3);
    const inv = f32x4.div(k, f32x4.pmax(a, splat(1e-9)));
    const r = i32x4.trunc_sat_f32x4_s(f32x4.add(f32x4.pmin(f32x4.mul(v128.load(p), inv), k), half));
    const g = i32x4.trunc_sat_f32x4_s(f32x4.add(f32x4.pmin(f32x4.mul(v128.load(p + plane), inv), k), half));
    const b = i32x4.trunc_sat_f32x4_s(f32x4.add(f32x4.pmin(f32x4.mul(v128.load(p + plane * 2), inv), k), half));
    const ai = i32x4.trunc_sat_f32x4_s(f32x4.add(f32x4.mul(clamp01(a), k), half));
    v128.store(out + o, v128.or(v128.or(r, i32x4.shl(g, 8)), v128.or(i32x4.shl(b, 16), i32x4.shl(ai, 24))));
  }
}

/**
 * Composites `layers` tiles of straight-alpha RGBA8, bottom first, that lie one after the other at `src` (stride bytes each).
 * modes: i32 a layer, index into BLEND_MODES; opacities: f32 a layer. It goes through the tile in runs of `run` texels, a
 * multiple of 4, so that the accumulator (16 bytes a texel of a run) stays in the fastest cache.
 */
export function compositeTile(
  acc: usize, src: usize, stride: usize, layers: i32, modes: usize, opacities: usize, n: i32, run: i32, out: usize,
): void {
  for (let start = 0; start < n; start += run) {
    const o: usize = <usize>start << 2;
    memory.fill(acc, 0, <usize>run << 4);
    for (let k = 0; k < layers; k++) {
      const k4 = <usize>k << 2;
      layOn(acc, src + stride * <usize>k + o, run, load<i32>(modes + k4), load<f32>(opacities + k4));
    }
    resolve(acc, out + o, run);
  }
}
