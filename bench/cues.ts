import { CUE_KINDS, measureCue, OFFERED_CUES, ownCueSurface, type CueSpec } from '../core/cues';
import { measureSurface } from '../core/surface';
import { limitRow, type Row } from './clock';
import { bumpyBall } from './models';

/** On two cores; here all of them one after the other on one. */
const CORES = 2;
const LIMITS_MS = { 1024: 15_000, 2048: 30_000 } as const;

/** All cues of a model of 10,000 triangles. */
export function benchCues(): Row[] {
  const mesh = bumpyBall(100, 50);
  return ([1024, 2048] as const).flatMap((size) => {
    const surface = measureSurface(mesh, size);
    const ground = ownCueSurface(surface);
    const rows: Row[] = [];
    let whole = 0;
    for (const name of OFFERED_CUES) {
      const spec: CueSpec = CUE_KINDS[name].usual;
      const start = performance.now();
      measureCue(surface, spec, { ground });
      const took = (performance.now() - start) / CORES;
      whole += took;
      rows.push(limitRow(`${spec.cue} at ${size}, half of one core`, took, LIMITS_MS[size]));
    }
    return [...rows, limitRow(`all cues at ${size}, half of one core`, whole, LIMITS_MS[size])];
  });
}
