import { expect, it } from 'vitest';
import { stage } from '../../tests/rigged';
import { importModel, readFileMotion } from '../formats';
import { poseVertices, Poser, REST } from '.';

it('takes vertices and normals to where the file’s own skinning has them', async () => {
  const { mesh, file } = await importModel('stage.glb', await stage());
  const motion = (await readFileMotion(file!))!;
  const poser = new Poser(mesh, motion, null);
  for (const time of [0.2, 0.5, 1]) {
    const pose = { ...REST, clip: 'Bend', time };
    const theirs = poseVertices(motion, pose);
    const form = poser.pose(pose);
    const normals = form.turn(mesh.normals);
    let worst = 0;
    for (let v = 0; v < mesh.positions.length; v += 3) {
      for (let k = v; k < v + 3; k++) expect(form.positions[k]).toBeCloseTo(theirs.positions[k]!, 4);
      // The blob changes its form, which its file has no normals for; here they follow it.
      if (mesh.positions[v]! < -1) continue;
      const of = (n: Float32Array): number[] => [n[v]!, n[v + 1]!, n[v + 2]!];
      const [a, b] = [of(normals), of(theirs.normals)];
      const cos = a.reduce((sum, x, k) => sum + x * b[k]!, 0) / Math.hypot(...b);
      worst = Math.max(worst, (Math.acos(Math.min(1, cos)) * 180) / Math.PI);
    }
    // Between two joints the file's normals are blended, the surface's are those of its triangles.
    expect(worst).toBeLessThan(20);
  }
  const rest = poser.pose(REST);
  expect(rest.positions).toEqual(mesh.positions);
  rest.turn(mesh.normals).forEach((x, i) => expect(x).toBeCloseTo(mesh.normals[i]!, 5));
});
