// Twin: core/cues/any-hit.ts. Node and triangle layouts are drawn in core/cues/ray-scene.ts.
const STACK: usize = memory.data(2048);

// @ts-ignore: decorator
@inline
function safe(x: f32): f32 {
  return abs(x) < 1e-12 ? f32(1e-12) : x;
}

/** 1 if any triangle lies between 0 and tmax along the ray. */
export function anyHit(
  nodes: usize, tris: usize,
  ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, tmax: f32,
): i32 {
  dx = safe(dx); dy = safe(dy); dz = safe(dz);
  const vox = f32x4.splat(ox), voy = f32x4.splat(oy), voz = f32x4.splat(oz);
  const vdx = f32x4.splat(dx), vdy = f32x4.splat(dy), vdz = f32x4.splat(dz);
  const ix = f32x4.splat(1 / dx), iy = f32x4.splat(1 / dy), iz = f32x4.splat(1 / dz);
  const vt = f32x4.splat(tmax), zero = f32x4.splat(0), one = f32x4.splat(1);
  // The near plane of each slab is known from the direction's sign.
  const nearX: usize = dx >= 0 ? 0 : 48, farX: usize = 48 - nearX;
  const nearY: usize = dy >= 0 ? 16 : 64, farY: usize = 80 - nearY;
  const nearZ: usize = dz >= 0 ? 32 : 80, farZ: usize = 112 - nearZ;
  let sp = STACK;
  store<i32>(sp, 0); sp += 4;
  while (sp > STACK) {
    sp -= 4;
    const c = load<i32>(sp);
    if (c >= 0) {
      const n = nodes + <usize>c * 112;
      const tn = f32x4.pmax(
        f32x4.pmax(f32x4.mul(f32x4.sub(v128.load(n + nearX), vox), ix), f32x4.mul(f32x4.sub(v128.load(n + nearY), voy), iy)),
        f32x4.pmax(f32x4.mul(f32x4.sub(v128.load(n + nearZ), voz), iz), zero));
      const tf = f32x4.pmin(
        f32x4.pmin(f32x4.mul(f32x4.sub(v128.load(n + farX), vox), ix), f32x4.mul(f32x4.sub(v128.load(n + farY), voy), iy)),
        f32x4.pmin(f32x4.mul(f32x4.sub(v128.load(n + farZ), voz), iz), vt));
      const m = i32x4.bitmask(f32x4.le(tn, tf));
      if (m & 1) { store<i32>(sp, load<i32>(n, 96)); sp += 4; }
      if (m & 2) { store<i32>(sp, load<i32>(n, 100)); sp += 4; }
      if (m & 4) { store<i32>(sp, load<i32>(n, 104)); sp += 4; }
      if (m & 8) { store<i32>(sp, load<i32>(n, 108)); sp += 4; }
    } else {
      // Four triangles at once (Möller and Trumbore, "Fast, Minimum Storage Ray/Triangle Intersection", 1997).
      const t = tris + <usize>(~c) * 144;
      const ax = v128.load(t, 48), ay = v128.load(t, 64), az = v128.load(t, 80);
      const bx = v128.load(t, 96), by = v128.load(t, 112), bz = v128.load(t, 128);
      const px = f32x4.sub(f32x4.mul(vdy, bz), f32x4.mul(vdz, by));
      const py = f32x4.sub(f32x4.mul(vdz, bx), f32x4.mul(vdx, bz));
      const pz = f32x4.sub(f32x4.mul(vdx, by), f32x4.mul(vdy, bx));
      const inv = f32x4.div(one, f32x4.add(f32x4.add(f32x4.mul(ax, px), f32x4.mul(ay, py)), f32x4.mul(az, pz)));
      const sx = f32x4.sub(vox, v128.load(t)), sy = f32x4.sub(voy, v128.load(t, 16)), sz = f32x4.sub(voz, v128.load(t, 32));
      const u = f32x4.mul(f32x4.add(f32x4.add(f32x4.mul(sx, px), f32x4.mul(sy, py)), f32x4.mul(sz, pz)), inv);
      const qx = f32x4.sub(f32x4.mul(sy, az), f32x4.mul(sz, ay));
      const qy = f32x4.sub(f32x4.mul(sz, ax), f32x4.mul(sx, az));
      const qz = f32x4.sub(f32x4.mul(sx, ay), f32x4.mul(sy, ax));
      const v = f32x4.mul(f32x4.add(f32x4.add(f32x4.mul(vdx, qx), f32x4.mul(vdy, qy)), f32x4.mul(vdz, qz)), inv);
      const d = f32x4.mul(f32x4.add(f32x4.add(f32x4.mul(bx, qx), f32x4.mul(by, qy)), f32x4.mul(bz, qz)), inv);
      const ok = v128.and(
        v128.and(f32x4.ge(u, zero), f32x4.ge(v, zero)),
        v128.and(f32x4.le(f32x4.add(u, v), one), v128.and(f32x4.gt(d, zero), f32x4.lt(d, vt))));
      if (v128.any_true(ok)) return 1;
    }
  }
  return 0;
}

/** Where a child's box is entered, while the four are put in order. */
const NEAR: usize = memory.data(16);

let lastHit: i32 = -1;

/** What `firstHit` met last: packet * 4 + lane, -1 if nothing. */
export function hitId(): i32 {
  return lastHit;
}

/**
 * Distance to the nearest triangle between 0 and tmax along the ray; tmax if there is none.
 * exits: 1 counts only triangles that are met from behind, where a ray leaves a solid.
 */
export function firstHit(
  nodes: usize, tris: usize,
  ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, tmax: f32, exits: i32,
): f32 {
  dx = safe(dx); dy = safe(dy); dz = safe(dz);
  const vox = f32x4.splat(ox), voy = f32x4.splat(oy), voz = f32x4.splat(oz);
  const vdx = f32x4.splat(dx), vdy = f32x4.splat(dy), vdz = f32x4.splat(dz);
  const ix = f32x4.splat(1 / dx), iy = f32x4.splat(1 / dy), iz = f32x4.splat(1 / dz);
  const zero = f32x4.splat(0), one = f32x4.splat(1);
  const nearX: usize = dx >= 0 ? 0 : 48, farX: usize = 48 - nearX;
  const nearY: usize = dy >= 0 ? 16 : 64, farY: usize = 80 - nearY;
  const nearZ: usize = dz >= 0 ? 32 : 80, farZ: usize = 112 - nearZ;
  let best = tmax;
  lastHit = -1;
  // The stack holds child numbers with the distance at which their boxes are entered, the nearest on top.
  let sp = STACK;
  store<i32>(sp, 0); store<f32>(sp, 0, 4); sp += 8;
  while (sp > STACK) {
    sp -= 8;
    if (load<f32>(sp, 4) >= best) continue;
    const c = load<i32>(sp);
    const vt = f32x4.splat(best);
    if (c >= 0) {
      const n = nodes + <usize>c * 112;
      const tn = f32x4.pmax(
        f32x4.pmax(f32x4.mul(f32x4.sub(v128.load(n + nearX), vox), ix), f32x4.mul(f32x4.sub(v128.load(n + nearY), voy), iy)),
        f32x4.pmax(f32x4.mul(f32x4.sub(v128.load(n + nearZ), voz), iz), zero));
      const tf = f32x4.pmin(
        f32x4.pmin(f32x4.mul(f32x4.sub(v128.load(n + farX), vox), ix), f32x4.mul(f32x4.sub(v128.load(n + farY), voy), iy)),
        f32x4.pmin(f32x4.mul(f32x4.sub(v128.load(n + farZ), voz), iz), vt));
      const m = i32x4.bitmask(f32x4.le(tn, tf));
      if (m == 0) continue;
      v128.store(NEAR, tn);
      const base = sp;
      for (let k = 0; k < 4; k++) {
        if (!(m & (1 << k))) continue;
        const t = load<f32>(NEAR + (<usize>k << 2));
        let at = sp;
        while (at > base && load<f32>(at - 8, 4) < t) {
          store<i64>(at, load<i64>(at - 8));
          at -= 8;
        }
        store<i32>(at, load<i32>(n + (<usize>k << 2), 96));
        store<f32>(at, t, 4);
        sp += 8;
      }
      continue;
    }
    const t = tris + <usize>(~c) * 144;
    const ax = v128.load(t, 48), ay = v128.load(t, 64), az = v128.load(t, 80);
    const bx = v128.load(t, 96), by = v128.load(t, 112), bz = v128.load(t, 128);
    const px = f32x4.sub(f32x4.mul(vdy, bz), f32x4.mul(vdz, by));
    const py = f32x4.sub(f32x4.mul(vdz, bx), f32x4.mul(vdx, bz));
    const pz = f32x4.sub(f32x4.mul(vdx, by), f32x4.mul(vdy, bx));
    const det = f32x4.add(f32x4.add(f32x4.mul(ax, px), f32x4.mul(ay, py)), f32x4.mul(az, pz));
    const inv = f32x4.div(one, det);
    const sx = f32x4.sub(vox, v128.load(t)), sy = f32x4.sub(voy, v128.load(t, 16)), sz = f32x4.sub(voz, v128.load(t, 32));
    const u = f32x4.mul(f32x4.add(f32x4.add(f32x4.mul(sx, px), f32x4.mul(sy, py)), f32x4.mul(sz, pz)), inv);
    const qx = f32x4.sub(f32x4.mul(sy, az), f32x4.mul(sz, ay));
    const qy = f32x4.sub(f32x4.mul(sz, ax), f32x4.mul(sx, az));
    const qz = f32x4.sub(f32x4.mul(sx, ay), f32x4.mul(sy, ax));
    const v = f32x4.mul(f32x4.add(f32x4.add(f32x4.mul(vdx, qx), f32x4.mul(vdy, qy)), f32x4.mul(vdz, qz)), inv);
    const d = f32x4.mul(f32x4.add(f32x4.add(f32x4.mul(bx, qx), f32x4.mul(by, qy)), f32x4.mul(bz, qz)), inv);
    let ok = v128.and(
      v128.and(f32x4.ge(u, zero), f32x4.ge(v, zero)),
      v128.and(f32x4.le(f32x4.add(u, v), one), v128.and(f32x4.gt(d, zero), f32x4.lt(d, vt))));
    if (exits) ok = v128.and(ok, f32x4.lt(det, zero));
    const hits = i32x4.bitmask(ok);
    if (hits == 0) continue;
    v128.store(NEAR, d);
    for (let k = 0; k < 4; k++) {
      if (!(hits & (1 << k))) continue;
      const at = load<f32>(NEAR + (<usize>k << 2));
      if (at < best) { best = at; lastHit = (~c << 2) + k; }
    }
  }
  return best;
}

/**
 * For each point the mean over its rays of, times 65535:
 *   what = 0: 1 where a ray reaches tmax unhindered; rays under the face are mirrored out of it
 *   what = 1: the same, but rays under the face meet it at once
 *   what = 2: the way to where a ray leaves the solid, tmax at most, in parts of tmax; rays under the face are mirrored
 * points: origin xyz, axis xyz, face normal xyz (f32); turns: u8 a point, an index into the 256 (cos, sin) pairs of `circle`;
 * dirs: xyz a ray around +z, which is turned to the point's axis.
 */
export function castPoints(
  nodes: usize, tris: usize, points: usize, turns: usize, count: i32,
  dirs: usize, rays: i32, step: i32, circle: usize, tmax: f32, what: i32, values: usize, miss: f32, out: usize,
): void {
  for (let i = 0; i < count; i++) {
    const p = points + <usize>i * 36;
    const ox = load<f32>(p), oy = load<f32>(p, 4), oz = load<f32>(p, 8);
    const nx = load<f32>(p, 12), ny = load<f32>(p, 16), nz = load<f32>(p, 20);
    const fx = load<f32>(p, 24), fy = load<f32>(p, 28), fz = load<f32>(p, 32);
    // An orthonormal basis without a branch (Duff et al., "Building an Orthonormal Basis, Revisited", 2017).
    const s: f32 = nz >= 0 ? 1 : -1, a: f32 = -1 / (s + nz), b = nx * ny * a;
    const tx: f32 = f32(1) + s * nx * nx * a, ty: f32 = s * b, tz: f32 = -s * nx;
    const bx: f32 = b, by: f32 = s + ny * ny * a, bz: f32 = -ny;
    const turn = circle + (<usize>load<u8>(turns + <usize>i) << 3);
    const ca = load<f32>(turn), sa = load<f32>(turn, 4);
    let sum: f32 = 0;
    // With a step, points of other turns take other directions, so that together they take all.
    const phase = step == 1 ? 0 : <i32>(load<u8>(turns + <usize>i) >> 4) % step;
    let count: i32 = 0;
    for (let k = phase; k < rays; k += step) {
      count++;
      const d = dirs + <usize>k * 12;
      const lx = load<f32>(d), ly = load<f32>(d, 4), lz = load<f32>(d, 8);
      const rx = lx * ca - ly * sa, ry = lx * sa + ly * ca;
      let x = rx * tx + ry * bx + lz * nx, y = rx * ty + ry * by + lz * ny, z = rx * tz + ry * bz + lz * nz;
      // A smooth normal leans over its flat triangle: what would go into the triangle is mirrored out of it.
      const under = x * fx + y * fy + z * fz;
      if (under < 0) {
        if (what == 1) continue;
        x -= 2 * under * fx; y -= 2 * under * fy; z -= 2 * under * fz;
      }
      if (what == 3) {
        firstHit(nodes, tris, ox, oy, oz, x, y, z, tmax, 0);
        sum += lastHit < 0 ? miss : load<f32>(values + (<usize>lastHit << 2));
        continue;
      }
      sum += what == 2
        ? firstHit(nodes, tris, ox, oy, oz, x, y, z, tmax, 1) / tmax
        : f32(1) - <f32>anyHit(nodes, tris, ox, oy, oz, x, y, z, tmax);
    }
    store<u16>(out + (<usize>i << 1), u16(sum * 65535 / f32(count) + f32(0.5)));
  }
}
