import type { Vec3 } from '../core/math';
import type { UvMesh } from '../core/mesh';
import { bevelledBox } from './bevelled-box';
import { ModelMaker } from './solid';

/** The stall around the cook: counter, posts, roof and a short curtain; only drawn in the reference, never painted. */
export function makeStall(): UvMesh {
  const maker = new ModelMaker();
  const box = (part: string, at: Vec3, half: Vec3, bevel = 0.025): void => {
    maker.raw(part, bevelledBox(at, half, bevel), []);
  };
  box('Counter', [0, 0.86, 0.72], [1.9, 0.06, 0.34]);
  box('Counter', [0, 0.4, 0.86], [1.78, 0.4, 0.05]);
  for (const x of [-1.75, 1.75]) box('Posts', [x, 1.5, 0.7], [0.07, 1.5, 0.07]);
  box('Roof', [0, 3.0, 0.4], [2.15, 0.09, 0.85], 0.05);
  for (let i = 0; i < 5; i++) box('Cloth', [-1.3 + i * 0.65, 2.72, 0.95], [0.3, 0.22, 0.022], 0.015);
  return maker.finish(0.002);
}
