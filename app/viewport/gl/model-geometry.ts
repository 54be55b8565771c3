import { BufferAttribute, BufferGeometry } from 'three';
import { findIslands, sheetOfFace, sheetOfPart, type UvMesh } from '../../../core/mesh';

/** The model with all that the passes read of a vertex. */
export function modelGeometry(mesh: UvMesh): BufferGeometry {
  const part = new Float32Array(mesh.positions.length / 3);
  for (let c = 0; c < mesh.indices.length; c++) part[mesh.indices[c]!] = mesh.faceParts[Math.floor(c / 3)]!;
  const sheet = part.map((p) => sheetOfPart(mesh, p));
  return (
    new BufferGeometry()
      // Poses, lights and layouts write over these: the mesh keeps its own.
      .setAttribute('position', new BufferAttribute(mesh.positions.slice(), 3))
      .setAttribute('normal', new BufferAttribute(mesh.normals.slice(), 3))
      .setAttribute('uv', new BufferAttribute(mesh.uvs.slice(), 2))
      .setAttribute('part', new BufferAttribute(part, 1))
      .setAttribute('sheet', new BufferAttribute(sheet, 1))
      .setAttribute('heat', new BufferAttribute(new Float32Array(part.length), 1))
      .setAttribute('chosen', new BufferAttribute(new Float32Array(part.length), 1))
      .setIndex(new BufferAttribute(mesh.indices, 1))
  );
}

/** The outlines of the islands. */
export function borderLines(mesh: UvMesh): BufferGeometry {
  const { edges } = findIslands(mesh);
  const uv: number[] = [];
  const sheets: number[] = [];
  for (let c = 0; c < mesh.indices.length; c++) {
    if (edges.uses[edges.ofCorner[c]!] !== 1) continue;
    for (const v of [mesh.indices[c]!, mesh.indices[c % 3 === 2 ? c - 2 : c + 1]!]) {
      uv.push(mesh.uvs[v * 2]!, mesh.uvs[v * 2 + 1]!);
      sheets.push(sheetOfFace(mesh, Math.floor(c / 3)));
    }
  }
  return (
    new BufferGeometry()
      .setAttribute('uv', new BufferAttribute(Float32Array.from(uv), 2))
      .setAttribute('sheet', new BufferAttribute(Float32Array.from(sheets), 1))
      // three draws as many vertices as there are positions.
      .setAttribute('position', new BufferAttribute(new Float32Array((uv.length / 2) * 3), 3))
  );
}
