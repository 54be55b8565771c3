import bunny from 'bunny';
import { existsSync, readFileSync } from 'node:fs';
import { readModel } from '../core/formats';
import type { Mesh } from '../core/mesh';
import { bumpyBall, dividedInFour } from './models';

export interface NamedMesh {
  readonly name: string;
  readonly mesh: Pick<Mesh, 'positions' | 'indices'>;
}

/** An OFF file (Geomview's Object File Format), polygons cut into fans. */
function readOff(path: string): NamedMesh['mesh'] {
  const numbers = readFileSync(path, 'utf8').replace(/#.*/g, '').trim().split(/\s+/).slice(1).map(Number);
  const [vertices, faces] = numbers as [number, number];
  const positions = Float32Array.from(numbers.slice(3, 3 + vertices * 3));
  const indices: number[] = [];
  let at = 3 + vertices * 3;
  for (let f = 0; f < faces; f++) {
    const n = numbers[at]!;
    for (let k = 2; k < n; k++) indices.push(numbers[at + 1]!, numbers[at + k]!, numbers[at + k + 1]!);
    at += n + 1;
  }
  return { positions, indices: Uint32Array.from(indices) };
}

/** npm's bunny, meshes of Debian's libcgal-demo that were unpacked into .cache/models/cgal, the demo's, and two made to have 50,000. */
export async function unwrapModels(): Promise<NamedMesh[]> {
  const out: NamedMesh[] = [];
  const rabbit = {
    positions: Float32Array.from(bunny.positions.flat()),
    indices: Uint32Array.from(bunny.cells.flat()),
  };
  out.push({ name: 'bunny', mesh: rabbit });
  out.push({ name: 'bunny divided', mesh: dividedInFour(dividedInFour(rabbit)) });
  for (const name of ['homer', 'elephant', 'fandisk', 'diplodocus', 'armadillo']) {
    const path = `.cache/models/cgal/data/data/meshes/${name}.off`;
    if (existsSync(path)) out.push({ name, mesh: readOff(path) });
  }
  for (const name of ['otter', 'lantern', 'kettle', 'crate']) {
    const mesh = await readModel(`${name}.glb`, readFileSync(`app/public/demo/${name}.glb`), new Map());
    out.push({ name, mesh });
  }
  out.push({ name: 'bumpy ball', mesh: bumpyBall(224, 112) });
  return out;
}
