import { sheetOfFace, type UvMesh } from '../../mesh';
import { normalize, type Vec3 } from '../../math';
import { projection } from './camera';
import type { MatchCamera } from './on-picture';

/** A model as a camera sees it, pixel by pixel. */
export interface SeenModel {
  readonly width: number;
  readonly height: number;
  /** The triangle that is seen; -1: none. */
  readonly faces: Int32Array;
  /** Where in its triangle, the shares of its second and third corner. */
  readonly shares: Float32Array;
}

/** What is nearer than this part of the picture's focal length is cut off, in parts of the distance of the model. */
const NEAREST = 1e-4;

/** Which triangle a camera sees at the middle of every pixel, and where in it; both sides of a triangle are seen. */
export function seeModel(mesh: UvMesh, camera: MatchCamera): SeenModel {
  const { width, height } = camera;
  const faces = new Int32Array(width * height).fill(-1);
  const shares = new Float32Array(width * height * 2);
  // 1 / depth runs evenly over the picture, so it is what is kept and compared.
  const near = new Float32Array(width * height);
  const see = projection(camera);
  const count = mesh.positions.length / 3;
  const seen = new Float64Array(count * 3);
  for (let v = 0; v < count; v++) {
    const p: Vec3 = [mesh.positions[v * 3]!, mesh.positions[v * 3 + 1]!, mesh.positions[v * 3 + 2]!];
    const { x, y, depth } = see(p);
    seen[v * 3] = x;
    seen[v * 3 + 1] = y;
    seen[v * 3 + 2] = depth > NEAREST ? 1 / depth : 0;
  }
  const { indices } = mesh;
  for (let f = 0; f < indices.length / 3; f++) {
    const [a, b, c] = [indices[f * 3]! * 3, indices[f * 3 + 1]! * 3, indices[f * 3 + 2]! * 3];
    const [wa, wb, wc] = [seen[a + 2]!, seen[b + 2]!, seen[c + 2]!];
    // What reaches behind the eye isn't drawn: a camera that looks at the model from outside has none.
    if (wa === 0 || wb === 0 || wc === 0) continue;
    const [ax, ay, bx, by, cx, cy] = [seen[a]!, seen[a + 1]!, seen[b]!, seen[b + 1]!, seen[c]!, seen[c + 1]!];
    const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
    if (area === 0 || !Number.isFinite(area)) continue;
    const x0 = Math.max(0, Math.ceil(Math.min(ax, bx, cx) - 0.5));
    const x1 = Math.min(width - 1, Math.floor(Math.max(ax, bx, cx) - 0.5));
    const y0 = Math.max(0, Math.ceil(Math.min(ay, by, cy) - 0.5));
    const y1 = Math.min(height - 1, Math.floor(Math.max(ay, by, cy) - 0.5));
    for (let y = y0; y <= y1; y++) {
      for (let x = x0; x <= x1; x++) {
        const [px, py] = [x + 0.5 - ax, y + 0.5 - ay];
        const sb = (px * (cy - ay) - py * (cx - ax)) / area;
        const sc = ((bx - ax) * py - (by - ay) * px) / area;
        const sa = 1 - sb - sc;
        if (sa < 0 || sb < 0 || sc < 0) continue;
        const w = sa * wa + sb * wb + sc * wc;
        const i = y * width + x;
        if (w <= near[i]!) continue;
        near[i] = w;
        faces[i] = f;
        shares[i * 2] = (sb * wb) / w;
        shares[i * 2 + 1] = (sc * wc) / w;
      }
    }
  }
  return { width, height, faces, shares };
}

/** An albedo, rows from the top, straight alpha. */
export interface Albedo {
  readonly width: number;
  readonly height: number;
  readonly rgba: Uint8Array;
}

/** What has its colours from a ramp sheet. */
export interface AssignedPaint {
  /** Negative a triangle that lies on its own sheet. */
  readonly seatOf: Int32Array;
  /** uv a corner of all others, origin at the lower left. */
  readonly uvs: Float32Array;
  readonly sheet: Albedo;
}

/** The albedo as a camera sees it: the texel under the middle of each pixel; transparent where no model is. */
export function seenColors(
  mesh: UvMesh,
  { faces, shares }: SeenModel,
  sheets: readonly Albedo[],
  ramps: AssignedPaint | null = null,
): Uint8Array {
  const out = new Uint8Array(faces.length * 4);
  for (let i = 0; i < faces.length; i++) {
    const f = faces[i]!;
    if (f < 0) continue;
    const isSeated = ramps !== null && ramps.seatOf[f]! >= 0;
    const { width, height, rgba } = isSeated ? ramps.sheet : (sheets[sheetOfFace(mesh, f)] ?? sheets[0]!);
    const [sb, sc] = [shares[i * 2]!, shares[i * 2 + 1]!];
    const sa = 1 - sb - sc;
    const uvs = isSeated ? ramps.uvs : mesh.uvs;
    const [a, b, c] = isSeated
      ? [f * 6, f * 6 + 2, f * 6 + 4]
      : [mesh.indices[f * 3]! * 2, mesh.indices[f * 3 + 1]! * 2, mesh.indices[f * 3 + 2]! * 2];
    const u = uvs[a]! * sa + uvs[b]! * sb + uvs[c]! * sc;
    const v = uvs[a + 1]! * sa + uvs[b + 1]! * sb + uvs[c + 1]! * sc;
    const tx = Math.min(width - 1, Math.floor((u - Math.floor(u)) * width));
    const ty = Math.min(height - 1, Math.floor((1 - (v - Math.floor(v))) * height));
    const o = (ty * width + tx) * 4;
    for (let k = 0; k < 3; k++) out[i * 4 + k] = rgba[o + k]!;
    out[i * 4 + 3] = 255;
  }
  return out;
}

/** The smooth normal of what a pixel's middle shows, unit. */
export function normalSeen({ normals, indices }: UvMesh, { faces, shares }: SeenModel, pixel: number): Vec3 {
  const f = faces[pixel]! * 3;
  const [sb, sc] = [shares[pixel * 2]!, shares[pixel * 2 + 1]!];
  const sa = 1 - sb - sc;
  const [a, b, c] = [indices[f]! * 3, indices[f + 1]! * 3, indices[f + 2]! * 3];
  const at = (k: number): number => normals[a + k]! * sa + normals[b + k]! * sb + normals[c + k]! * sc;
  return normalize([at(0), at(1), at(2)]);
}

/** The place of the model that a pixel's middle shows. */
export function placeSeen(
  { indices, positions: p }: UvMesh,
  { faces, shares }: SeenModel,
  pixel: number,
): Vec3 {
  const f = faces[pixel]! * 3;
  const [sb, sc] = [shares[pixel * 2]!, shares[pixel * 2 + 1]!];
  const sa = 1 - sb - sc;
  const [a, b, c] = [indices[f]! * 3, indices[f + 1]! * 3, indices[f + 2]! * 3];
  const at = (k: number): number => p[a + k]! * sa + p[b + k]! * sb + p[c + k]! * sc;
  return [at(0), at(1), at(2)];
}
