import { sheetOfPart, type UvMesh } from '../mesh';

/** The model as a Wavefront OBJ: an object a part, with UVs and normals; a material a sheet where there are several. */
export function writeObj(mesh: UvMesh, name: string): string {
  const lines = [`# ${name.replace(/[\r\n]/g, ' ')}`];
  const number = (x: number): string => String(Number(x.toPrecision(8)));
  const list = (word: string, data: Float32Array, stride: number): void => {
    for (let i = 0; i < data.length; i += stride) {
      lines.push(`${word} ${Array.from(data.subarray(i, i + stride), number).join(' ')}`);
    }
  };
  list('v', mesh.positions, 3);
  list('vt', mesh.uvs, 2);
  list('vn', mesh.normals, 3);
  for (let part = 0; part < mesh.parts.length; part++) {
    lines.push(`o ${mesh.parts[part]!.replace(/\s+/g, '_')}`);
    if (mesh.partSheets) lines.push(`usemtl sheet_${sheetOfPart(mesh, part) + 1}`);
    for (let f = 0; f < mesh.faceParts.length; f++) {
      if (mesh.faceParts[f] !== part) continue;
      const corner = (k: number): string => {
        const v = mesh.indices[f * 3 + k]! + 1;
        return `${v}/${v}/${v}`;
      };
      lines.push(`f ${corner(0)} ${corner(1)} ${corner(2)}`);
    }
  }
  return `${lines.join('\n')}\n`;
}
