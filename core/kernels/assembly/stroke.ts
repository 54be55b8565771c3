// Twin: core/paint/stroke-tile.ts.
/**
 * Lays (or with erase takes away) a colour through coverage onto `n` texels of straight-alpha RGBA8.
 * rgb: 0xBBGGRR; opacity 0..1 times the coverage is the paint's alpha. keep: alpha stays as it was. round: f32 a texel, where colours
 * are rounded up in the soft part of the stroke.
 */
export function strokeTile(
  before: usize, mask: usize, out: usize, n: i32, rgb: u32, opacity: f32, erase: i32, keep: i32, round: usize,
): void {
  const r = f32(rgb & 255), g = f32((rgb >> 8) & 255), b = f32((rgb >> 16) & 255);
  for (let i = 0; i < n; i++) {
    const o = <usize>i << 2;
    const old = load<u32>(before + o);
    const cover = load<f32>(mask + o);
    const w = cover * opacity;
    if (w <= 0 || (keep && (erase || old >> 24 == 0))) { store<u32>(out + o, old); continue; }
    const a0 = f32(old >> 24) * f32(1.0 / 255.0);
    if (erase) {
      const a = u32(a0 * (f32(1) - w) * f32(255) + f32(0.5));
      store<u32>(out + o, a == 0 ? 0 : (old & 0xffffff) | (a << 24));
      continue;
    }
    const a = w + a0 * (f32(1) - w);
    const k = keep ? w : w / a;
    const alpha = keep ? old >> 24 : u32(a * f32(255) + f32(0.5));
    const h = cover < 1 ? load<f32>(round + o) : f32(0.5);
    const r0 = f32(old & 255), g0 = f32((old >> 8) & 255), b0 = f32((old >> 16) & 255);
    store<u32>(out + o,
      u32(r0 + (r - r0) * k + h) | (u32(g0 + (g - g0) * k + h) << 8) |
      (u32(b0 + (b - b0) * k + h) << 16) | (alpha << 24));
  }
}
