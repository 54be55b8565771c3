import { sheetOfPart, type UvMesh } from '../mesh';

const oneLine = (text: string): string => text.replace(/[\r\n]/g, ' ');
const materialName = (sheet: number): string => `sheet_${sheet + 1}`;

/**
 * The model as a Wavefront OBJ: an object a part, with UVs and normals; a material a sheet where there are several, or materials are named.
 *
 * @param library file of the materials, beside the model
 */
export function writeObj(mesh: UvMesh, name: string, library?: string): string {
  const lines = [`# ${oneLine(name)}`, ...(library === undefined ? [] : [`mtllib ${library}`])];
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
    if (mesh.partSheets || library !== undefined)
      lines.push(`usemtl ${materialName(sheetOfPart(mesh, part))}`);
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

/**
 * The materials of an OBJ, one a sheet: the colour is the picture alone (`illum 0`: no light is reckoned).
 *
 * @param pictures file of each sheet, beside the model
 */
export function writeMtl(name: string, pictures: readonly string[]): string {
  const lines = [`# ${oneLine(name)}`];
  for (const [sheet, picture] of pictures.entries()) {
    lines.push(`newmtl ${materialName(sheet)}`, 'illum 0', 'Kd 1 1 1', `map_Kd ${picture}`);
  }
  return `${lines.join('\n')}\n`;
}
