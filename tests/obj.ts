import type { Mesh } from '../core/mesh';

/** A model as an OBJ without UVs, places of one position written once. */
export function objOf({ positions, indices }: Pick<Mesh, 'positions' | 'indices'>): string {
  const known = new Map<string, number>();
  const lines: string[] = ['o Model'];
  const vertex = (v: number): number => {
    const at = [0, 1, 2].map((k) => positions[v * 3 + k]!.toFixed(6)).join(' ');
    let number = known.get(at);
    if (number === undefined) {
      known.set(at, (number = known.size + 1));
      lines.push(`v ${at}`);
    }
    return number;
  };
  const faces: string[] = [];
  for (let f = 0; f < indices.length; f += 3) {
    const corners = [0, 1, 2].map((k) => vertex(indices[f + k]!));
    if (new Set(corners).size === 3) faces.push(`f ${corners.join(' ')}`);
  }
  return `${[...lines, ...faces].join('\n')}\n`;
}
