// Twin: core/composite/composite.ts. Formulas: W3C Compositing and Blending Level 1.
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
function clip3(c: v128, l: v128, low: v128, high: v128): v128 {
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
        v128.store(p + plane * R, mixed(sr, clip3(cr, l, low, high), ar, sa, ba));
        v128.store(p + plane * G, mixed(sg, clip3(cg, l, low, high), ag, sa, ba));
        v128.store(p + plane * B, mixed(sb, clip3(cb, l, low, high), ab, sa, ba));
      }
    }
    v128.store(p + plane * 3, f32x4.add(sa, f32x4.mul(ba, rest)));
  }
}

/** RGBA8 straight onto the accumulator, without mask or clip: the usual case in one pass. */
export function lay8(acc: usize, src: usize, n: i32, mode: i32, opacity: f32): void {
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
export function resolve(acc: usize, out: usize, n: i32): void {
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


// What a layer has on a sub-tile is first brought into planes of straight colour and alpha (f32, 0..1) at `planes`, then laid on
// the accumulator. mask: u16 a texel, 0 for none.

// @ts-ignore: decorator
@inline
function masked(alpha: v128, mask: usize, i: i32): v128 {
  if (mask == 0) return alpha;
  const m = f32x4.convert_i32x4_s(v128.load16x4_u(mask + (<usize>i << 1)));
  return f32x4.mul(alpha, f32x4.mul(m, splat(f32(1.0 / 65535.0))));
}

export function read8(src: usize, planes: usize, n: i32, opacity: f32, mask: usize): void {
  const plane: usize = <usize>n << 2, k = splat(f32(1.0 / 255.0)), ka = splat(opacity * f32(1.0 / 255.0)), byte = i32x4.splat(255);
  for (let i = 0; i < n; i += 4) {
    const o = <usize>i << 2, p = planes + o, px = v128.load(src + o);
    v128.store(p, f32x4.mul(f32x4.convert_i32x4_s(v128.and(px, byte)), k));
    v128.store(p + plane, f32x4.mul(f32x4.convert_i32x4_s(v128.and(i32x4.shr_u(px, 8), byte)), k));
    v128.store(p + plane * 2, f32x4.mul(f32x4.convert_i32x4_s(v128.and(i32x4.shr_u(px, 16), byte)), k));
    v128.store(p + plane * 3, masked(f32x4.mul(f32x4.convert_i32x4_s(i32x4.shr_u(px, 24)), ka), mask, i));
  }
}

/** Four u16 a texel. */
export function read16(src: usize, planes: usize, n: i32, opacity: f32, mask: usize): void {
  const plane: usize = <usize>n << 2, k = splat(f32(1.0 / 65535.0)), ka = splat(opacity * f32(1.0 / 65535.0)), word = i32x4.splat(0xffff);
  for (let i = 0; i < n; i += 4) {
    const o = <usize>i << 2, p = planes + o, q = src + (<usize>i << 3);
    // Two texels a load: red | green << 16, blue | alpha << 16.
    const first = v128.load(q), second = v128.load(q, 16);
    const rg = v128.shuffle<i32>(first, second, 0, 2, 4, 6), ba = v128.shuffle<i32>(first, second, 1, 3, 5, 7);
    v128.store(p, f32x4.mul(f32x4.convert_i32x4_s(v128.and(rg, word)), k));
    v128.store(p + plane, f32x4.mul(f32x4.convert_i32x4_s(i32x4.shr_u(rg, 16)), k));
    v128.store(p + plane * 2, f32x4.mul(f32x4.convert_i32x4_s(v128.and(ba, word)), k));
    v128.store(p + plane * 3, masked(f32x4.mul(f32x4.convert_i32x4_s(i32x4.shr_u(ba, 16)), ka), mask, i));
  }
}

export function readColor(r: f32, g: f32, b: f32, planes: usize, n: i32, opacity: f32, mask: usize): void {
  const plane: usize = <usize>n << 2, vr = splat(r), vg = splat(g), vb = splat(b), va = splat(opacity);
  for (let i = 0; i < n; i += 4) {
    const p = planes + (<usize>i << 2);
    v128.store(p, vr);
    v128.store(p + plane, vg);
    v128.store(p + plane * 2, vb);
    v128.store(p + plane * 3, masked(va, mask, i));
  }
}

/** An accumulator's own colours. */
export function readStraight(acc: usize, planes: usize, n: i32, opacity: f32, mask: usize): void {
  const plane: usize = <usize>n << 2, one = splat(1), va = splat(opacity);
  for (let i = 0; i < n; i += 4) {
    const o = <usize>i << 2, q = acc + o, p = planes + o, a = v128.load(q + plane * 3);
    const inv = f32x4.div(one, f32x4.pmax(a, splat(1e-9)));
    v128.store(p, f32x4.pmin(f32x4.mul(v128.load(q), inv), one));
    v128.store(p + plane, f32x4.pmin(f32x4.mul(v128.load(q + plane), inv), one));
    v128.store(p + plane * 2, f32x4.pmin(f32x4.mul(v128.load(q + plane * 2), inv), one));
    v128.store(p + plane * 3, masked(f32x4.mul(a, va), mask, i));
  }
}

/** Goes over from an accumulator to what has come of it, as far as opacity and mask say. */
export function mix(acc: usize, top: usize, n: i32, opacity: f32, mask: usize): void {
  const plane: usize = <usize>n << 2, all = splat(opacity);
  for (let i = 0; i < n; i += 4) {
    const o = <usize>i << 2, w = masked(all, mask, i);
    for (let k: usize = 0; k < 4; k++) {
      const p = acc + o + plane * k, old = v128.load(p);
      v128.store(p, f32x4.add(old, f32x4.mul(f32x4.sub(v128.load(top + o + plane * k), old), w)));
    }
  }
}

/** Sets the planes' alpha to opacity and mask alone. */
export function fade(planes: usize, n: i32, opacity: f32, mask: usize): void {
  const alphas = planes + (<usize>n << 2) * 3, va = splat(opacity);
  for (let i = 0; i < n; i += 4) v128.store(alphas + (<usize>i << 2), masked(va, mask, i));
}

// @ts-ignore: decorator
@inline
function onto(cs: v128, blended: v128, acc: v128, sa: v128, ba: v128, free: v128): v128 {
  const c = f32x4.add(f32x4.mul(free, cs), f32x4.mul(ba, blended));
  return f32x4.add(f32x4.mul(sa, c), f32x4.mul(f32x4.sub(splat(1), sa), acc));
}

// @ts-ignore: decorator
@inline
function layPlanes(mode: i32, acc: usize, planes: usize, n: i32, clip: i32): void {
  const plane: usize = <usize>n << 2, one = splat(1), share = splat(clip ? f32(0) : f32(1));
  for (let i = 0; i < n; i += 4) {
    const o = <usize>i << 2, q = planes + o, p = acc + o;
    const sa = v128.load(q + plane * 3);
    if (!v128.any_true(f32x4.gt(sa, splat(0)))) continue;
    const sr = v128.load(q), sg = v128.load(q + plane), sb = v128.load(q + plane * 2);
    const ar = v128.load(p), ag = v128.load(p + plane), ab = v128.load(p + plane * 2), ba = v128.load(p + plane * 3);
    // Over an opaque ground nothing has to be divided, and alpha stays; a clip makes no difference there.
    if (mode < 12 && !v128.any_true(f32x4.lt(ba, one))) {
      const cr = mode == 0 ? sr : separable(mode, ar, sr), cg = mode == 0 ? sg : separable(mode, ag, sg), cb = mode == 0 ? sb : separable(mode, ab, sb);
      v128.store(p, f32x4.add(ar, f32x4.mul(sa, f32x4.sub(cr, ar))));
      v128.store(p + plane, f32x4.add(ag, f32x4.mul(sa, f32x4.sub(cg, ag))));
      v128.store(p + plane * 2, f32x4.add(ab, f32x4.mul(sa, f32x4.sub(cb, ab))));
      continue;
    }
    const free = f32x4.mul(share, f32x4.sub(one, ba));
    const inv = f32x4.div(one, f32x4.pmax(ba, splat(1e-9)));
    const br = f32x4.mul(ar, inv), bg = f32x4.mul(ag, inv), bb = f32x4.mul(ab, inv);
    let cr = sr, cg = sg, cb = sb;
    if (mode > 0 && mode < 12) {
      cr = separable(mode, br, sr); cg = separable(mode, bg, sg); cb = separable(mode, bb, sb);
    } else if (mode >= 12) {
      const fromSource = mode == 12 || mode == 14;
      const restretch = mode == 12 || mode == 13;
      cr = fromSource ? sr : br; cg = fromSource ? sg : bg; cb = fromSource ? sb : bb;
      const low0 = min3(cr, cg, cb);
      const wanted = mode == 12 ? f32x4.sub(max3(br, bg, bb), min3(br, bg, bb)) : f32x4.sub(max3(sr, sg, sb), min3(sr, sg, sb));
      const stretch = f32x4.div(wanted, f32x4.pmax(f32x4.sub(max3(cr, cg, cb), low0), splat(1e-9)));
      cr = channelOf(cr, low0, stretch, restretch); cg = channelOf(cg, low0, stretch, restretch); cb = channelOf(cb, low0, stretch, restretch);
      const l = mode == 15 ? lum(sr, sg, sb) : lum(br, bg, bb);
      const shift = f32x4.sub(l, lum(cr, cg, cb));
      cr = f32x4.add(cr, shift); cg = f32x4.add(cg, shift); cb = f32x4.add(cb, shift);
      const low = min3(cr, cg, cb), high = max3(cr, cg, cb);
      cr = clip3(cr, l, low, high); cg = clip3(cg, l, low, high); cb = clip3(cb, l, low, high);
    }
    v128.store(p, onto(sr, cr, ar, sa, ba, free));
    v128.store(p + plane, onto(sg, cg, ag, sa, ba, free));
    v128.store(p + plane * 2, onto(sb, cb, ab, sa, ba, free));
    v128.store(p + plane * 3, f32x4.add(f32x4.mul(sa, free), ba));
  }
}

/** Lays planes of straight colour on an accumulator. clip 1: what lies below is seen as opaque, and keeps its alpha. */
export function layOnto(acc: usize, planes: usize, n: i32, mode: i32, clip: i32): void {
  switch (mode) {
    case 0: layPlanes(0, acc, planes, n, clip); break;
    case 1: layPlanes(1, acc, planes, n, clip); break;
    case 2: layPlanes(2, acc, planes, n, clip); break;
    case 3: layPlanes(3, acc, planes, n, clip); break;
    case 4: layPlanes(4, acc, planes, n, clip); break;
    case 5: layPlanes(5, acc, planes, n, clip); break;
    case 6: layPlanes(6, acc, planes, n, clip); break;
    case 7: layPlanes(7, acc, planes, n, clip); break;
    case 8: layPlanes(8, acc, planes, n, clip); break;
    case 9: layPlanes(9, acc, planes, n, clip); break;
    case 10: layPlanes(10, acc, planes, n, clip); break;
    case 11: layPlanes(11, acc, planes, n, clip); break;
    case 12: layPlanes(12, acc, planes, n, clip); break;
    case 13: layPlanes(13, acc, planes, n, clip); break;
    case 14: layPlanes(14, acc, planes, n, clip); break;
    default: layPlanes(15, acc, planes, n, clip);
  }
}
