import { CoreError } from '../errors';
import { rgbToHex } from '../color';
import { cutPolygon } from '../mesh';
import type { Companions } from './gltf/container';
import { importPieces, uniqueNames, type ImportedModel, type Piece } from './model-builder';

/** A piece while it grows: corners are joined where position, UV and normal are the same. */
class PieceBuilder {
  readonly positions: number[] = [];
  readonly normals: number[] = [];
  readonly uvs: number[] = [];
  readonly indices: number[] = [];
  /** Polygon a triangle. */
  readonly polygons: number[] = [];
  private readonly seen = new Map<string, number>();
  readonly colors: number[] = [];
  private missingUv = false;
  private missingNormal = false;
  private hasColors = false;
  readonly material: string;

  constructor(material: string) {
    this.material = material;
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

  finish(name: string, materials: ReadonlyMap<string, Material>): Piece {
    const material = materials.get(this.material);
    return {
      picture: material?.picture,
      color: material?.color,
      vertexColors: this.hasColors ? Float32Array.from(this.colors) : undefined,
      name,
      positions: Float32Array.from(this.positions),
      normals: this.missingNormal ? null : Float32Array.from(this.normals),
      uvs: this.missingUv ? null : Float32Array.from(this.uvs),
      indices: Uint32Array.from(this.indices),
    };
  }
}

/**
 * Reads a Wavefront OBJ (the specification's appendix B1, the polygonal part). Objects become parts; where a file has no
 * objects, its groups do; where it has neither, its materials do. An object of several materials becomes a part a material.
 * Polygons are cut into triangles and remembered.
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
  const reader = new ObjReader(text, fallbackName);
  const lines = text.replace(/\\\r?\n/g, ' ').split(/\r?\n/);
  lines.forEach((line, i) => reader.line(line, i + 1));
  return reader.finish(readMaterials(companions));
}

/** What has been read so far, line by line. */
class ObjReader {
  private readonly positions: number[][] = [];
  private readonly uvs: number[][] = [];
  private readonly normals: number[][] = [];
  /** By object, then by material. */
  private readonly objects = new Map<string, Map<string, PieceBuilder>>();
  private readonly fallbackName: string;
  /** The word that begins a part. */
  private readonly splitBy: string;
  private current: string;
  private material = '';
  private polygons = 0;

  constructor(text: string, fallbackName: string) {
    this.fallbackName = fallbackName;
    this.current = fallbackName;
    this.splitBy = /^o\s/m.test(text) ? 'o' : /^g\s/m.test(text) ? 'g' : 'usemtl';
  }

  line(text: string, number: number): void {
    const [word, ...rest] = text.replace(/#.*/, '').trim().split(/\s+/);
    switch (word) {
      case 'v':
        this.positions.push(rest.slice(0, rest.length >= 6 ? 6 : 3).map(Number));
        return;
      case 'vt':
        this.uvs.push([Number(rest[0]), Number(rest[1] ?? 0)]);
        return;
      case 'vn':
        this.normals.push(rest.slice(0, 3).map(Number));
        return;
      case 'usemtl':
        this.material = rest.join(' ');
        if (this.splitBy === 'usemtl') this.current = this.material || this.fallbackName;
        return;
      case 'f':
        this.face(rest, number);
        return;
      case this.splitBy:
        this.current = rest.join(' ') || this.fallbackName;
    }
  }

  private face(tokens: readonly string[], line: number): void {
    const builder = this.builder();
    const places: number[] = [];
    const ids = tokens.map((token) => {
      const [v, t, n] = token.split('/');
      const vi = pick(this.positions, v, line);
      const ti = t ? pick(this.uvs, t, line) : -1;
      const ni = n ? pick(this.normals, n, line) : -1;
      places.push(vi);
      return builder.corner(
        `${vi}/${ti}/${ni}`,
        this.positions[vi]!,
        ti < 0 ? null : this.uvs[ti]!,
        ni < 0 ? null : this.normals[ni]!,
      );
    });
    const polygon = this.polygons++;
    cutPolygon(ids.length, (corner, axis) => this.positions[places[corner]!]![axis]!).forEach((k, i) => {
      builder.indices.push(ids[k]!);
      if (i % 3 === 0) builder.polygons.push(polygon);
    });
  }

  private builder(): PieceBuilder {
    let byMaterial = this.objects.get(this.current);
    if (!byMaterial) this.objects.set(this.current, (byMaterial = new Map()));
    let builder = byMaterial.get(this.material);
    if (!builder) byMaterial.set(this.material, (builder = new PieceBuilder(this.material)));
    return builder;
  }

  finish(materials: ReadonlyMap<string, Material>): ImportedModel {
    if (this.positions.length === 0) {
      throw new CoreError(
        'file-not-a-model',
        'The file is named .obj but holds no vertices. Choose a GLB, glTF or OBJ model.',
      );
    }
    const unique = uniqueNames();
    const builders = [...this.objects].flatMap(([object, byMaterial]) =>
      [...byMaterial.values()].map((builder) => ({
        builder,
        name: unique(byMaterial.size > 1 ? `${object} ${builder.material}`.trim() : object),
      })),
    );
    const imported = importPieces(builders.map(({ builder, name }) => builder.finish(name, materials)));
    const numbers = Uint32Array.from(builders.flatMap(({ builder }) => builder.polygons));
    if (new Set(numbers).size === numbers.length) return imported;
    return { ...imported, mesh: { ...imported.mesh, polygons: numbers } };
  }
}

/** Which element a face names: from 1 on, or from the end if it is negative. @throws CoreError `model-bad-number` */
function pick(list: readonly number[][], token: string | undefined, line: number): number {
  const i = Number(token);
  const at = i < 0 ? list.length + i : i - 1;
  if (!Number.isInteger(i) || i === 0 || at < 0 || at >= list.length) {
    throw new CoreError(
      'model-bad-number',
      `Line ${line} of the OBJ names element “${token}”, which the file doesn't hold. It may be cut off; export it again.`,
    );
  }
  return at;
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
