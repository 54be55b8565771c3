import type { Kernels } from '../kernels';
import type { MeshPlace, UvMesh } from '../mesh';
import type { Stroke } from '../paint';
import { placeOfTexel, spannedTiles, TILE_BYTES, TILE_TEXELS, type SurfaceMap } from '../surface';
import type { Region } from './document';
import { partNumber } from './engine';
import { LayerSampler } from './layer-sampler';
import { LiveStroke } from './live-stroke';
import { ModelLinks } from './model-links';
import type { TileState } from './tile-pack';

/** One paint layer to be carried over. */
export interface CarryLayer {
  readonly id: number;
  readonly tiles: ReadonlyMap<number, Uint8Array>;
  readonly strokes: readonly Stroke[];
}

export interface CarryInput {
  readonly from: { readonly mesh: UvMesh; readonly surface: SurfaceMap };
  readonly to: { readonly mesh: UvMesh; readonly surface: SurfaceMap };
  readonly layers: readonly CarryLayer[];
  /** Triangles of the same number are the same place, wherever they lie now. Otherwise places are found by name and nearness. */
  readonly byTriangle: boolean;
  /** See the document. */
  readonly renamed: Readonly<Record<string, string>>;
  /** Selections of faces, carried along. */
  readonly regions: readonly Region[];
  readonly kernels: Kernels;
  readonly onProgress?: (done: number) => void;
}

/** What carrying over has changed, over the painted texels: largest channel difference, 0..255. */
export interface CarryLoss {
  readonly mean: number;
  /** 99 of 100 painted places differ by no more. */
  readonly most: number;
  /** Places compared. */
  readonly places: number;
}

export interface Carried {
  readonly pixels: TileState[];
  /** Layers that were painted again stroke by stroke, and those whose pixels were resampled. */
  readonly repainted: readonly number[];
  readonly resampled: readonly number[];
  /** Null where another model has no place to compare with. */
  readonly loss: CarryLoss | null;
  /** Parts of the new model for which no place within reach was found on the old one. */
  readonly unmatched: readonly string[];
  readonly regions: readonly Region[];
}

/**
 * Carries paint layers to another layout, size or model by their place on the surface. A layer that is nothing but its strokes is
 * painted again from them, if the triangles are the same; what else there is of pixels is resampled once.
 */
export function carryPaint(input: CarryInput): Carried {
  const { from, to, layers, renamed, kernels, onProgress } = input;
  const isUnmoved = sameTriangles(from.mesh, to.mesh);
  const isSame = isUnmoved || (input.byTriangle && from.mesh.indices.length === to.mesh.indices.length);
  const pixels: TileState[] = [];
  const repainted: number[] = [];
  const resampled: number[] = [];
  const links = isSame ? null : new ModelLinks(from.mesh, to.mesh);
  const worst: number[] = [];
  layers.forEach((layer, i) => {
    const isPure =
      isUnmoved &&
      layer.strokes.length > 0 &&
      sameTiles(paintStrokes(from, kernels, layer.strokes, renamed), layer.tiles);
    const tiles = isPure
      ? paintStrokes(to, kernels, layer.strokes, renamed)
      : layer.tiles.size > 0
        ? resample(input, layer, links)
        : new Map<number, Uint8Array>();
    if (layer.tiles.size > 0) (isPure ? repainted : resampled).push(layer.id);
    for (const [tile, bytes] of tiles) pixels.push({ layer: layer.id, tile, bytes });
    if (isSame) collectDifferences(input, layer.tiles, tiles, worst);
    onProgress?.((i + 1) / layers.length);
  });
  return {
    pixels,
    repainted,
    resampled,
    loss: isSame ? summary(worst) : null,
    unmatched: links?.unmatched() ?? [],
    regions: isSame ? input.regions : carryRegions(input),
  };
}

/** Whether two meshes have the same triangles in the same places, whatever their layouts are. */
export function sameTriangles(a: UvMesh, b: UvMesh): boolean {
  if (a.indices.length !== b.indices.length) return false;
  for (let c = 0; c < a.indices.length; c++) {
    for (let k = 0; k < 3; k++) {
      if (a.positions[a.indices[c]! * 3 + k] !== b.positions[b.indices[c]! * 3 + k]) return false;
    }
  }
  return true;
}

/** The pixels that strokes make, beginning with nothing. */
function paintStrokes(
  { mesh, surface }: CarryInput['from'],
  kernels: Kernels,
  strokes: readonly Stroke[],
  renamed: CarryInput['renamed'],
): Map<number, Uint8Array> {
  const desk = kernels.desk(surface);
  const tiles = new Map<number, Uint8Array>();
  for (const { runs, ...style } of strokes) {
    const live = new LiveStroke({
      layer: 0,
      style,
      part: partNumber(mesh.parts, renamed, style.part),
      desk,
      kernels,
      texelLength: surface.texelLength,
    });
    for (const run of runs) {
      for (const tile of live.extend(run, true)) tiles.set(tile, live.paint(tile, tiles.get(tile)));
    }
    live.finish();
  }
  for (const [tile, bytes] of tiles) if (bytes.every((b) => b === 0)) tiles.delete(tile);
  return tiles;
}

function sameTiles(a: ReadonlyMap<number, Uint8Array>, b: ReadonlyMap<number, Uint8Array>): boolean {
  if (a.size !== b.size) return false;
  for (const [tile, bytes] of a) {
    const other = b.get(tile);
    if (!other || !bytes.every((x, i) => x === other[i])) return false;
  }
  return true;
}

/** A triangle of another model belongs to the regions of the place that lies nearest to its middle. */
function carryRegions({ from, to, regions }: CarryInput): Region[] {
  if (regions.length === 0) return [];
  const links = new ModelLinks(from.mesh, to.mesh);
  const place: MeshPlace = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };
  const { indices, positions, faceParts } = to.mesh;
  const source = new Int32Array(faceParts.length).fill(-1);
  const middle = (f: number, axis: number): number =>
    [0, 1, 2].reduce((sum, k) => sum + positions[indices[f * 3 + k]! * 3 + axis]!, 0) / 3;
  for (let f = 0; f < source.length; f++) {
    if (links.find(faceParts[f]!, middle(f, 0), middle(f, 1), middle(f, 2), place)) source[f] = place.face;
  }
  return regions.map((region) => {
    const inside = new Set(region.faces);
    const faces: number[] = [];
    source.forEach((old, f) => {
      if (inside.has(old)) faces.push(f);
    });
    return { ...region, faces };
  });
}

function resample(
  { from, to }: CarryInput,
  layer: CarryLayer,
  links: ModelLinks | null,
): Map<number, Uint8Array> {
  const { surface, mesh } = to;
  const sampler = new LayerSampler(from.surface, layer.tiles);
  const out = new Map<number, Uint8Array>();
  // Where one new texel stands for several old ones, several places of it are averaged.
  const ratio = Math.sqrt(from.surface.coveredTexels / (surface.coveredTexels || 1));
  const steps = Math.max(1, Math.min(4, Math.round(ratio)));
  const place: MeshPlace = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };
  for (let tile = 0; tile < spannedTiles(surface.sheets); tile++) {
    let bytes: Uint8Array | null = null;
    for (let k = 0; k < TILE_TEXELS; k++) {
      const i = tile * TILE_TEXELS + k;
      const face = surface.face[i]!;
      if (face < 0) continue;
      sampler.begin();
      if (links) {
        if (!links.find(surface.part[i]!, surface.px[i]!, surface.py[i]!, surface.pz[i]!, place)) continue;
        sampler.add(from.mesh, place);
      } else if (surface.covered[i]) {
        const { sheet, x, y } = placeOfTexel(surface.sheets, i);
        const { size } = surface.sheets[sheet]!;
        for (let s = 0; s < steps * steps; s++) {
          const u = (x + ((s % steps) + 0.5) / steps) / size;
          const v = 1 - (y + (Math.floor(s / steps) + 0.5) / steps) / size;
          placeInLayout(mesh, face, u, v, place);
          sampler.add(from.mesh, place);
        }
      } else {
        placeInSpace(mesh, face, surface.px[i]!, surface.py[i]!, surface.pz[i]!, place);
        sampler.add(from.mesh, place);
      }
      if (!sampler.finish()) continue;
      bytes ??= new Uint8Array(TILE_BYTES);
      bytes.set(sampler.rgba, k * 4);
    }
    if (bytes) out.set(tile, bytes);
  }
  return out;
}

/** The weights of a triangle's corners at a point of the sheet. UVs outside 0..1 wrap around. */
export function placeInLayout(mesh: UvMesh, face: number, u: number, v: number, out: MeshPlace): void {
  const a = mesh.indices[face * 3]! * 2;
  const b = mesh.indices[face * 3 + 1]! * 2;
  const c = mesh.indices[face * 3 + 2]! * 2;
  const uv = mesh.uvs;
  const pu = u + Math.round((uv[a]! + uv[b]! + uv[c]!) / 3 - u);
  const pv = v + Math.round((uv[a + 1]! + uv[b + 1]! + uv[c + 1]!) / 3 - v);
  const bx = uv[b]! - uv[a]!;
  const by = uv[b + 1]! - uv[a + 1]!;
  const cx = uv[c]! - uv[a]!;
  const cy = uv[c + 1]! - uv[a + 1]!;
  const det = bx * cy - by * cx;
  const x = pu - uv[a]!;
  const y = pv - uv[a + 1]!;
  out.face = face;
  out.w1 = det === 0 ? 0 : (x * cy - y * cx) / det;
  out.w2 = det === 0 ? 0 : (bx * y - by * x) / det;
  out.w0 = 1 - out.w1 - out.w2;
}

/** The weights of a triangle's corners at a point in its plane. */
export function placeInSpace(
  mesh: UvMesh,
  face: number,
  x: number,
  y: number,
  z: number,
  out: MeshPlace,
): void {
  const p = mesh.positions;
  const a = mesh.indices[face * 3]! * 3;
  const b = mesh.indices[face * 3 + 1]! * 3;
  const c = mesh.indices[face * 3 + 2]! * 3;
  const u = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!] as const;
  const v = [p[c]! - p[a]!, p[c + 1]! - p[a + 1]!, p[c + 2]! - p[a + 2]!] as const;
  const q = [x - p[a]!, y - p[a + 1]!, z - p[a + 2]!] as const;
  const dot = (r: readonly number[], s: readonly number[]): number =>
    r[0]! * s[0]! + r[1]! * s[1]! + r[2]! * s[2]!;
  const [uu, uv, vv, qu, qv] = [dot(u, u), dot(u, v), dot(v, v), dot(q, u), dot(q, v)];
  const det = uu * vv - uv * uv;
  out.face = face;
  out.w1 = det === 0 ? 0 : (vv * qu - uv * qv) / det;
  out.w2 = det === 0 ? 0 : (uu * qv - uv * qu) / det;
  out.w0 = 1 - out.w1 - out.w2;
}

/** Places of the old sheet that are compared at the most. */
const COMPARED = 120_000;

/** Compares old texels with the new layer at the same places of the surface. */
function collectDifferences(
  { from, to }: CarryInput,
  before: ReadonlyMap<number, Uint8Array>,
  after: ReadonlyMap<number, Uint8Array>,
  out: number[],
): void {
  const { surface, mesh } = from;
  const sampler = new LayerSampler(to.surface, after);
  const place: MeshPlace = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };
  const stride = Math.max(1, Math.ceil((before.size * TILE_TEXELS) / COMPARED));
  for (const [tile, bytes] of before) {
    for (let k = 0; k < TILE_TEXELS; k += stride) {
      const i = tile * TILE_TEXELS + k;
      const alpha = bytes[k * 4 + 3]! / 255;
      if (!surface.covered[i] || alpha === 0) continue;
      placeInSpace(mesh, surface.face[i]!, surface.px[i]!, surface.py[i]!, surface.pz[i]!, place);
      sampler.begin();
      sampler.add(to.mesh, place);
      const now = sampler.finish() ? sampler.rgba : null;
      let difference = Math.abs(alpha * 255 - (now?.[3] ?? 0));
      for (let c = 0; c < 3; c++) {
        const was = bytes[k * 4 + c]! * alpha;
        const is = now ? (now[c]! * now[3]!) / 255 : 0;
        difference = Math.max(difference, Math.abs(was - is));
      }
      out.push(difference);
    }
  }
}

function summary(differences: number[]): CarryLoss {
  const sorted = Float64Array.from(differences).sort();
  const n = sorted.length;
  return {
    mean: n ? sorted.reduce((a, b) => a + b, 0) / n : 0,
    most: n ? sorted[Math.min(n - 1, Math.floor(n * 0.99))]! : 0,
    places: n,
  };
}
