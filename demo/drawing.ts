import { hexToRgb, oklabToLinearSrgb, linearToSrgb, rgbToOklab, type Oklab } from '../core/color';
import type { Picture } from '../core/formats';
import { cross, dot, mix, normalize, smoothstep, sub, type Vec3 } from '../core/math';
import type { UvMesh } from '../core/mesh';

/** A pinhole camera; the picture's centre looks at `target`. */
export interface Camera {
  readonly position: Vec3;
  readonly target: Vec3;
  /** Vertical angle of view, degrees. */
  readonly fov: number;
}

/** How a part is drawn: a tone ramp from shadow over local colour to light. */
export interface Tones {
  readonly shadow: string;
  readonly local: string;
  readonly light: string;
}

export interface Figure {
  readonly mesh: UvMesh;
  readonly offset: Vec3;
  readonly tones: (part: string) => Tones;
  /** Extra paint on the surface: a colour and how much of it, 0..1. */
  readonly detail?: (part: string, p: Vec3, n: Vec3) => { color: string; amount: number } | null;
}

export interface Scene {
  readonly figures: readonly Figure[];
  readonly camera: Camera;
  /** Toward the light. */
  readonly light: Vec3;
  readonly ink: string;
  /** Tones end sharply, and ink is broader: as for cel paint. */
  readonly flat?: boolean;
  /** Colour of the ground behind at height v, 0 bottom to 1 top. */
  readonly backdrop: (u: number, v: number) => Oklab;
}

const SAMPLES = 2;

/**
 * Draws a scene as an illustrator would: flat tone ramps in few steps, soft at their edges, ink lines where parts meet. Made
 * for the demo's references, so that their camera, palette and light are known exactly.
 */
export function draw(scene: Scene, width: number, height: number): Picture {
  const w = width * SAMPLES;
  const h = height * SAMPLES;
  const buffer = rasterise(scene, w, h);
  const colors = shade(scene, buffer, w, h);
  ink(scene, buffer, colors, w, h);
  const rgba = new Uint8Array(width * height * 4);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const sum = [0, 0, 0];
      for (let j = 0; j < SAMPLES; j++) {
        for (let i = 0; i < SAMPLES; i++) {
          const o = ((y * SAMPLES + j) * w + x * SAMPLES + i) * 3;
          for (let k = 0; k < 3; k++) sum[k]! += colors[o + k]!;
        }
      }
      const linear = oklabToLinearSrgb({
        L: sum[0]! / SAMPLES ** 2,
        a: sum[1]! / SAMPLES ** 2,
        b: sum[2]! / SAMPLES ** 2,
      });
      for (let k = 0; k < 3; k++) {
        rgba[(y * width + x) * 4 + k] = Math.round(linearToSrgb(Math.min(1, Math.max(0, linear[k]!))) * 255);
      }
      rgba[(y * width + x) * 4 + 3] = 255;
    }
  }
  return { width, height, rgba };
}

interface Buffer {
  depth: Float32Array;
  /** Figure * 4096 + part + 1; 0 where nothing is. */
  owner: Int32Array;
  normal: Float32Array;
  position: Float32Array;
}

function rasterise(scene: Scene, w: number, h: number): Buffer {
  const { camera } = scene;
  const forward = normalize(sub(camera.target, camera.position));
  const right = normalize(cross(forward, [0, 1, 0]));
  const up = cross(right, forward);
  const focal = h / 2 / Math.tan((camera.fov * Math.PI) / 360);
  const buffer: Buffer = {
    depth: new Float32Array(w * h).fill(Infinity),
    owner: new Int32Array(w * h),
    normal: new Float32Array(w * h * 3),
    position: new Float32Array(w * h * 3),
  };
  scene.figures.forEach(({ mesh, offset }, figure) => {
    const count = mesh.positions.length / 3;
    const screen = new Float64Array(count * 3);
    for (let v = 0; v < count; v++) {
      const p: Vec3 = [0, 1, 2].map((a) => mesh.positions[v * 3 + a]! + offset[a]!) as unknown as Vec3;
      const d = sub(p, camera.position);
      const z = dot(d, forward);
      screen[v * 3] = w / 2 + (dot(d, right) / z) * focal;
      screen[v * 3 + 1] = h / 2 - (dot(d, up) / z) * focal;
      screen[v * 3 + 2] = z;
    }
    for (let f = 0; f < mesh.faceParts.length; f++) {
      fill(buffer, mesh, offset, screen, f, figure * 4096 + mesh.faceParts[f]! + 1, w, h);
    }
  });
  return buffer;
}

function fill(
  buffer: Buffer,
  mesh: UvMesh,
  offset: Vec3,
  s: Float64Array,
  f: number,
  owner: number,
  w: number,
  h: number,
): void {
  const ids = [0, 1, 2].map((k) => mesh.indices[f * 3 + k]! * 3) as [number, number, number];
  const [a, b, c] = ids;
  const area = (s[b]! - s[a]!) * (s[c + 1]! - s[a + 1]!) - (s[b + 1]! - s[a + 1]!) * (s[c]! - s[a]!);
  if (area >= 0) return; // seen from behind (y runs down)
  const left = Math.max(0, Math.ceil(Math.min(s[a]!, s[b]!, s[c]!) - 0.5));
  const right = Math.min(w - 1, Math.floor(Math.max(s[a]!, s[b]!, s[c]!) - 0.5));
  const top = Math.max(0, Math.ceil(Math.min(s[a + 1]!, s[b + 1]!, s[c + 1]!) - 0.5));
  const bottom = Math.min(h - 1, Math.floor(Math.max(s[a + 1]!, s[b + 1]!, s[c + 1]!) - 0.5));
  for (let y = top; y <= bottom; y++) {
    for (let x = left; x <= right; x++) {
      const px = x + 0.5;
      const py = y + 0.5;
      const w0 = ((s[c]! - s[b]!) * (py - s[b + 1]!) - (s[c + 1]! - s[b + 1]!) * (px - s[b]!)) / area;
      const w1 = ((s[a]! - s[c]!) * (py - s[c + 1]!) - (s[a + 1]! - s[c + 1]!) * (px - s[c]!)) / area;
      const w2 = 1 - w0 - w1;
      if (w0 < 0 || w1 < 0 || w2 < 0) continue;
      const q0 = w0 / s[a + 2]!;
      const q1 = w1 / s[b + 2]!;
      const q2 = w2 / s[c + 2]!;
      const z = 1 / (q0 + q1 + q2);
      const i = y * w + x;
      if (z >= buffer.depth[i]!) continue;
      buffer.depth[i] = z;
      buffer.owner[i] = owner;
      for (let k = 0; k < 3; k++) {
        const lerp = (d: Float32Array): number => (d[a + k]! * q0 + d[b + k]! * q1 + d[c + k]! * q2) * z;
        buffer.normal[i * 3 + k] = lerp(mesh.normals);
        buffer.position[i * 3 + k] = lerp(mesh.positions) + offset[k]!;
      }
    }
  }
}

const oklab = (hex: string): Oklab => rgbToOklab(hexToRgb(hex));

function blend(a: Oklab, b: Oklab, t: number): Oklab {
  return { L: mix(a.L, b.L, t), a: mix(a.a, b.a, t), b: mix(a.b, b.b, t) };
}

function shade(scene: Scene, buffer: Buffer, w: number, h: number): Float32Array {
  const colors = new Float32Array(w * h * 3);
  const light = normalize(scene.light);
  const ramps = new Map<
    number,
    { shadow: Oklab; local: Oklab; light: Oklab; part: string; figure: Figure }
  >();
  for (let i = 0; i < w * h; i++) {
    const owner = buffer.owner[i]!;
    let c: Oklab;
    if (owner === 0) c = scene.backdrop((i % w) / w, 1 - Math.floor(i / w) / h);
    else {
      let ramp = ramps.get(owner);
      if (!ramp) {
        const figure = scene.figures[Math.floor((owner - 1) / 4096)]!;
        const part = figure.mesh.parts[(owner - 1) % 4096]!;
        const tones = figure.tones(part);
        ramp = {
          shadow: oklab(tones.shadow),
          local: oklab(tones.local),
          light: oklab(tones.light),
          part,
          figure,
        };
        ramps.set(owner, ramp);
      }
      const n = normalize([buffer.normal[i * 3]!, buffer.normal[i * 3 + 1]!, buffer.normal[i * 3 + 2]!]);
      const p = [0, 1, 2].map((k) => buffer.position[i * 3 + k]! - ramp.figure.offset[k]!) as unknown as Vec3;
      const lit = dot(n, light);
      const low = scene.flat ? Number(lit > 0.05) : smoothstep(-0.25, 0.2, lit);
      const high = scene.flat ? Number(lit > 0.68) : smoothstep(0.6, 0.85, lit);
      c = blend(blend(ramp.shadow, ramp.local, low), ramp.light, scene.flat ? high : high * 0.8);
      const detail = ramp.figure.detail?.(ramp.part, p, n);
      if (detail) c = blend(c, oklab(detail.color), detail.amount);
    }
    colors[i * 3] = c.L;
    colors[i * 3 + 1] = c.a;
    colors[i * 3 + 2] = c.b;
  }
  return colors;
}

/** Lines of about a pixel and a half, or three, where one part or figure ends before another. */
function ink(scene: Scene, buffer: Buffer, colors: Float32Array, w: number, h: number): void {
  const line = oklab(scene.ink);
  const reach = Math.round(SAMPLES * (scene.flat ? 1.6 : 0.8));
  for (let y = reach; y < h - reach; y++) {
    for (let x = reach; x < w - reach; x++) {
      const i = y * w + x;
      const far = [i - reach, i + reach, i - reach * w, i + reach * w].some(
        (j) =>
          buffer.owner[i] !== buffer.owner[j] ||
          (buffer.owner[i]! > 0 && Math.abs(buffer.depth[i]! - buffer.depth[j]!) > 0.09),
      );
      if (!far) continue;
      colors[i * 3] = mix(colors[i * 3]!, line.L, 0.85);
      colors[i * 3 + 1] = mix(colors[i * 3 + 1]!, line.a, 0.85);
      colors[i * 3 + 2] = mix(colors[i * 3 + 2]!, line.b, 0.85);
    }
  }
}
