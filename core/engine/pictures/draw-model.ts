import type { Picture } from '../../formats';
import { centreOf, diagonalOf, subjectBounds, subjectOf, sheetOfFace, type UvMesh } from '../../mesh';

/** How the model is seen: turned about its own height, then tipped, radians. */
const YAW = 0.5;
const PITCH = 0.18;

/** Samples a pixel, each way. */
const SAMPLES = 2;

/**
 * A small picture of a painted model, unlit, without a graphics card and without its backdrops: seen from afar, a little from above.
 *
 * @param sheets albedo of each sheet, rows from the top, straight alpha
 * @param size of the picture, pixels a side
 * @returns with a transparent ground
 */
export function drawModel(
  model: UvMesh,
  sheets: readonly { readonly rgba: Uint8Array; readonly width: number; readonly height: number }[],
  size: number,
): Picture {
  const mesh = subjectOf(model);
  const n = size * SAMPLES;
  const color = new Uint8Array(n * n * 4);
  const depth = new Float32Array(n * n).fill(-Infinity);
  const bounds = subjectBounds(mesh);
  const c = centreOf(bounds);
  const scale = (n * 0.94) / (diagonalOf(bounds) || 1);
  const [cy, sy, cp, sp] = [Math.cos(YAW), Math.sin(YAW), Math.cos(PITCH), Math.sin(PITCH)];
  const count = mesh.positions.length / 3;
  const seen = new Float32Array(count * 3);
  for (let v = 0; v < count; v++) {
    const [x, y, z] = [0, 1, 2].map((k) => mesh.positions[v * 3 + k]! - c[k]!) as [number, number, number];
    const tx = x * cy + z * sy;
    const tz = -x * sy + z * cy;
    seen[v * 3] = n / 2 + tx * scale;
    seen[v * 3 + 1] = n / 2 - (y * cp - tz * sp) * scale;
    seen[v * 3 + 2] = y * sp + tz * cp;
  }
  const { indices, uvs } = mesh;
  for (let f = 0; f < indices.length / 3; f++) {
    const [a, b, d] = [indices[f * 3]!, indices[f * 3 + 1]!, indices[f * 3 + 2]!];
    const [ax, ay] = [seen[a * 3]!, seen[a * 3 + 1]!];
    const [bx, by] = [seen[b * 3]!, seen[b * 3 + 1]!];
    const [dx, dy] = [seen[d * 3]!, seen[d * 3 + 1]!];
    const area = (bx - ax) * (dy - ay) - (by - ay) * (dx - ax);
    if (area === 0) continue;
    const sheet = sheets[sheetOfFace(mesh, f)] ?? sheets[0]!;
    for (
      let y = Math.max(0, Math.ceil(Math.min(ay, by, dy) - 0.5));
      y < Math.min(n, Math.max(ay, by, dy));
      y++
    ) {
      for (
        let x = Math.max(0, Math.ceil(Math.min(ax, bx, dx) - 0.5));
        x < Math.min(n, Math.max(ax, bx, dx));
        x++
      ) {
        const [px, py] = [x + 0.5, y + 0.5];
        const w1 = ((px - ax) * (dy - ay) - (py - ay) * (dx - ax)) / area;
        const w2 = ((bx - ax) * (py - ay) - (by - ay) * (px - ax)) / area;
        const w0 = 1 - w1 - w2;
        if (w0 < 0 || w1 < 0 || w2 < 0) continue;
        const z = seen[a * 3 + 2]! * w0 + seen[b * 3 + 2]! * w1 + seen[d * 3 + 2]! * w2;
        const i = y * n + x;
        if (z <= depth[i]!) continue;
        depth[i] = z;
        const u = uvs[a * 2]! * w0 + uvs[b * 2]! * w1 + uvs[d * 2]! * w2;
        const v = uvs[a * 2 + 1]! * w0 + uvs[b * 2 + 1]! * w1 + uvs[d * 2 + 1]! * w2;
        const tx = Math.min(sheet.width - 1, Math.floor((u - Math.floor(u)) * sheet.width));
        const ty = Math.min(sheet.height - 1, Math.floor((1 - (v - Math.floor(v))) * sheet.height));
        const t = (ty * sheet.width + tx) * 4;
        color.set(sheet.rgba.subarray(t, t + 3), i * 4);
        color[i * 4 + 3] = 255;
      }
    }
  }
  return meanOfSamples(color, size, size, SAMPLES);
}

/**
 * A picture out of one that was drawn larger: the mean of the samples of each pixel, weighed by what they cover.
 *
 * @param color straight alpha, rows of `width * samples` pixels
 * @param samples a pixel, each way
 */
export function meanOfSamples(color: Uint8Array, width: number, height: number, samples: number): Picture {
  const n = width * samples;
  const rgba = new Uint8Array(width * height * 4);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const sum = [0, 0, 0, 0];
      for (let s = 0; s < samples * samples; s++) {
        const i = ((y * samples + Math.floor(s / samples)) * n + x * samples + (s % samples)) * 4;
        const a = color[i + 3]!;
        for (let k = 0; k < 3; k++) sum[k]! += color[i + k]! * a;
        sum[3]! += a;
      }
      const o = (y * width + x) * 4;
      if (sum[3] === 0) continue;
      for (let k = 0; k < 3; k++) rgba[o + k] = Math.round(sum[k]! / sum[3]!);
      rgba[o + 3] = Math.round(sum[3]! / (samples * samples));
    }
  }
  return { rgba, width, height };
}
