import { CUE_KINDS, ownCueSurface } from '../core/cues';
import { measureSurface, tileCount } from '../core/surface';
import { bumpyBall } from './models';

// One of two processes that share an occlusion cue: 1M texels, 64 rays, 50,000 triangles. Prints the milliseconds until its
// coarse values and until its fine ones were there, counted from when the surface was measured.
const share = Number(process.argv[2]);
const mesh = bumpyBall(224, 112);
const surface = measureSurface(mesh, 1024);
const start = performance.now();
const caster = CUE_KINDS.occlusion.caster(ownCueSurface(surface), {
  cue: 'occlusion',
  rays: 64,
  reach: 0.25,
  fine: 0,
});
const marks: number[] = [];
for (const coarse of [true, false]) {
  for (let t = share; t < tileCount(1024); t += 2) caster.tile(t, coarse);
  marks.push(performance.now() - start);
}
process.stdout.write(JSON.stringify({ coarse: marks[0], fine: marks[1], texels: surface.coveredTexels }));
