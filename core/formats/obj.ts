import { CoreError } from '../errors';
import { rgbToHex } from '../color';
import { cutPolygon } from '../mesh';
import type { Companions } from './gltf-read';
import { importPieces, type ImportedModel, type Piece } from './model-builder';

/** A piece while it grows: corners are joined where position, UV and normal are the same. */
class PieceBuilder {
  readonly positions: number[] = [];
  readonly normals: number[] = [];
  readonly uvs: number[] = [];
  readonly indices: number[] = [];
  /** Polygon a triangle. */
  readonly polygons: number[] = [];
  private readonly seen = new Map<string, number>();
  /** Material of the first face. */
  material = '';
  readonly colors: number[] = [];
  private missingUv = false;
  private missingNormal = false;
  private hasColors = false;
  readonly name: string;

  constructor(name: string) {
    this.name = name;
  }

  corner(
    key: string,
    p: readonly number[],
    t: readonly number[] | null,
    n: readonly number[] | null,
  ): number {
    const known = this.seen.get(key);
    if (known !== undefined) return known;
    const id = this.positions.length / 3;
    this.seen.set(key, id);
    this.positions.push(p[0]!, p[1]!, p[2]!);
    // Some programs write a colour after a vertex's position.
    this.colors.push(p[3] ?? 1, p[4] ?? 1, p[5] ?? 1, 1);
    this.hasColors ||= p.length >= 6;
    this.uvs.push(t?.[0] ?? 0, t?.[1] ?? 0);
    this.normals.push(n?.[0] ?? 0, n?.[1] ?? 0, n?.[2] ?? 0);
    this.missingUv ||= !t;
    this.missingNormal ||= !n;
    return id;
  }

  finish(materials: ReadonlyMap<string, Material>): Piece {
    const material = materials.get(this.material);
    return {
      picture: material?.picture,
      color: material?.color,
      vertexColors: this.hasColors ? Float32Array.from(this.colors) : undefined,
      name: this.name,
      positions: Float32Array.from(this.positions),
      normals: this.missingNormal ? null : Float32Array.from(this.normals),
      uvs: this.missingUv ? null : Float32Array.from(this.uvs),
      indices: Uint32Array.from(this.indices),
    };
  }
}

/**
 * Reads a Wavefront OBJ (the specification's appendix B1, the polygonal part). Objects become parts; where a file has no
 * objects, its groups do; where it has neither, its materials do. Polygons are cut into triangles and remembered.
 *
 * @param text the file
 * @param fallbackName the part's name where the file gives none
 * @param companions its .mtl files and pictures
 * @throws CoreError `file-not-a-model`, `model-empty`, `model-bad-number`, `model-too-large`
 */
export function readObj(
  text: string,
  fallbackName: string,
  companions: Companions = new Map(),
): ImportedModel {
  const positions: number[][] = [];
  const uvs: number[][] = [];
  const normals: number[][] = [];
  const builders = new Map<string, PieceBuilder>();
  const splitBy = /^o\s/m.test(text) ? 'o' : /^g\s/m.test(text) ? 'g' : 'usemtl';
  let current = fallbackName;
  let polygons = 0;
  let material = '';

  const pick = (list: number[][], token: string | undefined, line: number): number => {
    const i = Number(token);
    const at = i < 0 ? list.length + i : i - 1;
    if (!Number.isInteger(i) || i === 0 || at < 0 || at >= list.length) {
      throw new CoreError(
        'model-bad-number',
        `Line ${line} of the OBJ names element “${token}”, which the file doesn't hold. It may be cut off; export it again.`,
      );
    }
    return at;
  };

  const face = (tokens: readonly string[], line: number): void => {
    let builder = builders.get(current);
    if (!builder) builders.set(current, (builder = new PieceBuilder(current)));
    builder.material ||= material;
    const ids = tokens.map((token) => {
      const [v, t, n] = token.split('/');
      const vi = pick(positions, v, line);
      const ti = t ? pick(uvs, t, line) : -1;
      const ni = n ? pick(normals, n, line) : -1;
      return builder.corner(
        `${vi}/${ti}/${ni}`,
        positions[vi]!,
        ti < 0 ? null : uvs[ti]!,
        ni < 0 ? null : normals[ni]!,
      );
    });
    const polygon = polygons++;
    const corners = tokens.map((token) => positions[pick(positions, token.split('/')[0], line)]!);
    cutPolygon(corners.length, (corner, axis) => corners[corner]![axis]!).forEach((k, i) => {
      builder.indices.push(ids[k]!);
      if (i % 3 === 0) builder.polygons.push(polygon);
    });
  };

  let known = 0;
  const lines = text.replace(/\\\r?\n/g, ' ').split(/\r?\n/);
  for (let i = 0; i < lines.length; i++) {
    const [word, ...rest] = lines[i]!.replace(/#.*/, '').trim().split(/\s+/);
    switch (word) {
      case 'v':
        positions.push(rest.slice(0, rest.length >= 6 ? 6 : 3).map(Number));
        known++;
        break;
      case 'vt':
        uvs.push([Number(rest[0]), Number(rest[1] ?? 0)]);
        break;
      case 'vn':
        normals.push(rest.slice(0, 3).map(Number));
        break;
      case 'usemtl':
        material = rest.join(' ');
        if (splitBy === 'usemtl') current = material || fallbackName;
        break;
      case 'f':
        face(rest, i + 1);
        break;
      case splitBy:
        current = rest.join(' ') || fallbackName;
        break;
      default:
    }
  }
  if (known === 0) {
    throw new CoreError(
      'file-not-a-model',
      'The file is named .obj but holds no vertices. Choose a GLB, glTF or OBJ model.',
    );
  }
  const materials = readMaterials(companions);
  const imported = importPieces([...builders.values()].map((b) => b.finish(materials)));
  const numbers = Uint32Array.from([...builders.values()].flatMap((b) => b.polygons));
  if (new Set(numbers).size === numbers.length) return imported;
  return { ...imported, mesh: { ...imported.mesh, polygons: numbers } };
}

interface Material {
  readonly picture?: Uint8Array | undefined;
  readonly color?: string | undefined;
}

/** Diffuse colours and pictures of all material files (Wavefront MTL: Kd and map_Kd). */
function readMaterials(companions: Companions): Map<string, Material> {
  const out = new Map<string, Material>();
  for (const [file, bytes] of companions) {
    if (!/\.mtl$/i.test(file)) continue;
    let name = '';
    for (const line of new TextDecoder().decode(bytes).split(/\r?\n/)) {
      const [word, ...rest] = line.trim().split(/\s+/);
      if (word === 'newmtl') name = rest.join(' ');
      if (word === 'Kd') {
        const [r, g, b] = rest.map((x) => Math.round(Math.min(1, Math.max(0, Number(x))) * 255)) as [
          number,
          number,
          number,
        ];
        if ([r, g, b].every(Number.isFinite))
          out.set(name, { ...out.get(name), color: rgbToHex({ r, g, b }) });
      }
      if (word === 'map_Kd') {
        // Options stand before the file's name; the name may have spaces and a path.
        const path = rest.join(' ').replace(/\\/g, '/').split('/').at(-1)!;
        const picture = companions.get(path) ?? companions.get(rest.at(-1)!);
        if (picture) out.set(name, { ...out.get(name), picture });
      }
    }
  }
  return out;
}
