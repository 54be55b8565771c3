// Twin: core/paint/dab.ts.
// @ts-ignore: decorator
@inline
function smooth(t: v128): v128 {
  const zero = f32x4.splat(0), one = f32x4.splat(1);
  t = f32x4.pmin(f32x4.pmax(t, zero), one);
  return f32x4.mul(f32x4.mul(t, t), f32x4.sub(f32x4.splat(3), f32x4.add(t, t)));
}

// @ts-ignore: decorator
@inline
function axis16(p: usize): v128 {
  return f32x4.mul(f32x4.convert_i32x4_s(v128.load16x4_s(p)), f32x4.splat(1.0 / 32767.0));
}

/**
 * Lays one dab into the stroke's coverage (f32 a texel, the larger value stays). Returns how many sub-tiles changed; their
 * numbers stand in `dirty`.
 * part < 0: any part. facing 0: any direction. inner, fade: coverage falls from 1 at inner by `fade` (1 / width) outward.
 */
export function dab(
  bounds: usize, subs: i32, px: usize, py: usize, pz: usize, nx: usize, ny: usize, nz: usize, parts: usize, mask: usize,
  dirty: usize, hx: f32, hy: f32, hz: f32, radius: f32, inner: f32, fade: f32, strength: f32,
  dx: f32, dy: f32, dz: f32, facing: i32, part: i32,
): i32 {
  const r2 = radius * radius;
  const vx = f32x4.splat(hx), vy = f32x4.splat(hy), vz = f32x4.splat(hz), vr2 = f32x4.splat(r2);
  const one = f32x4.splat(1), vInner = f32x4.splat(inner), vFade = f32x4.splat(fade), vStrength = f32x4.splat(strength);
  const wx = f32x4.splat(dx), wy = f32x4.splat(dy), wz = f32x4.splat(dz), vPart = i32x4.splat(part);
  const faceLow = f32x4.splat(-0.1), faceScale = f32x4.splat(1.0 / 0.35);
  let found = 0;
  for (let s = 0; s < subs; s++) {
    const b = bounds + <usize>s * 24;
    const ex = max(max(load<f32>(b) - hx, hx - load<f32>(b, 12)), 0);
    const ey = max(max(load<f32>(b, 4) - hy, hy - load<f32>(b, 16)), 0);
    const ez = max(max(load<f32>(b, 8) - hz, hz - load<f32>(b, 20)), 0);
    if (ex * ex + ey * ey + ez * ez > r2) continue;
    let changed: v128 = i32x4.splat(0);
    for (let i = s << 10, e = (s + 1) << 10; i < e; i += 4) {
      const o4 = <usize>i << 2, o2 = <usize>i << 1;
      const x = f32x4.sub(v128.load(px + o4), vx), y = f32x4.sub(v128.load(py + o4), vy), z = f32x4.sub(v128.load(pz + o4), vz);
      const d2 = f32x4.add(f32x4.add(f32x4.mul(x, x), f32x4.mul(y, y)), f32x4.mul(z, z));
      let inside = f32x4.lt(d2, vr2);
      if (!v128.any_true(inside)) continue;
      if (part >= 0) {
        inside = v128.and(inside, i32x4.eq(v128.load16x4_u(parts + o2), vPart));
        if (!v128.any_true(inside)) continue;
      }
      let w = f32x4.mul(smooth(f32x4.sub(one, f32x4.mul(f32x4.sub(f32x4.sqrt(d2), vInner), vFade))), vStrength);
      if (facing) {
        const n = f32x4.add(f32x4.add(f32x4.mul(axis16(nx + o2), wx), f32x4.mul(axis16(ny + o2), wy)), f32x4.mul(axis16(nz + o2), wz));
        w = f32x4.mul(w, smooth(f32x4.mul(f32x4.sub(n, faceLow), faceScale)));
      }
      w = v128.and(w, inside);
      const old = v128.load(mask + o4);
      const more = f32x4.gt(w, old);
      if (!v128.any_true(more)) continue;
      changed = v128.or(changed, more);
      v128.store(mask + o4, f32x4.pmax(old, w));
    }
    if (v128.any_true(changed)) { store<i32>(dirty + (<usize>found << 2), s); found++; }
  }
  return found;
}
