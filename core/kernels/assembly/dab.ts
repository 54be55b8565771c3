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
 * Lays one dab into a sub-tile's coverage (f32 a texel, the larger value stays). Returns 1 if anything changed.
 * facing 0: any direction. inner, fade: coverage falls from 1 at inner by `fade` (1 / width) outward.
 * reach: u8 a texel, 255 where the guard lets all through.
 */
export function dab(
  px: usize, py: usize, pz: usize, nx: usize, ny: usize, nz: usize, reach: usize, mask: usize, n: i32,
  hx: f32, hy: f32, hz: f32, radius: f32, inner: f32, fade: f32, strength: f32, dx: f32, dy: f32, dz: f32, facing: i32,
): i32 {
  const vr2 = f32x4.splat(radius * radius);
  const vx = f32x4.splat(hx), vy = f32x4.splat(hy), vz = f32x4.splat(hz);
  const one = f32x4.splat(1), vInner = f32x4.splat(inner), vFade = f32x4.splat(fade), vStrength = f32x4.splat(strength);
  const wx = f32x4.splat(dx), wy = f32x4.splat(dy), wz = f32x4.splat(dz);
  const faceLow = f32x4.splat(-0.1), faceScale = f32x4.splat(1.0 / 0.35), part = f32x4.splat(1.0 / 255.0);
  let changed: v128 = i32x4.splat(0);
  for (let i = 0; i < n; i += 4) {
    const o4 = <usize>i << 2, o2 = <usize>i << 1;
    const x = f32x4.sub(v128.load(px + o4), vx), y = f32x4.sub(v128.load(py + o4), vy), z = f32x4.sub(v128.load(pz + o4), vz);
    const d2 = f32x4.add(f32x4.add(f32x4.mul(x, x), f32x4.mul(y, y)), f32x4.mul(z, z));
    const inside = f32x4.lt(d2, vr2);
    if (!v128.any_true(inside)) continue;
    const open = load<u32>(reach + <usize>i);
    if (open == 0) continue;
    let w = f32x4.mul(smooth(f32x4.sub(one, f32x4.mul(f32x4.sub(f32x4.sqrt(d2), vInner), vFade))), vStrength);
    if (open != 0xffffffff) {
      const bytes = i16x8.extend_low_i8x16_u(i32x4.splat(open));
      w = f32x4.mul(w, f32x4.mul(f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(bytes)), part));
    }
    if (facing) {
      const k = f32x4.add(f32x4.add(f32x4.mul(axis16(nx + o2), wx), f32x4.mul(axis16(ny + o2), wy)), f32x4.mul(axis16(nz + o2), wz));
      w = f32x4.mul(w, smooth(f32x4.mul(f32x4.sub(k, faceLow), faceScale)));
    }
    w = v128.and(w, inside);
    const old = v128.load(mask + o4);
    const more = f32x4.gt(w, old);
    if (!v128.any_true(more)) continue;
    changed = v128.or(changed, more);
    v128.store(mask + o4, f32x4.pmax(old, w));
  }
  return v128.any_true(changed) ? 1 : 0;
}
