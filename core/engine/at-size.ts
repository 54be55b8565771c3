import { groundsFor, measureCue, posesOf, type CueSpec } from '../cues';
import { subjectDiagonal, placedMesh, type UvMesh } from '../mesh';
import { measureSurface, type SheetSize } from '../surface';
import type { Kernels } from '../kernels';
import { changeModel, hostHere, NEVER_STOPS, type MadeModel } from './model/change-model';
import { Engine } from './engine';
import { readMotion } from './read-motion';
import { unpackModel, type ProjectData } from '../project-file';

/**
 * A project with all its sheets at another size: strokes are made again, what else was painted is resampled once, and all cues are
 * measured anew. As the application does it.
 *
 * @param size null: as they are
 * @param onProgress 0..1 of the strokes
 * @throws CoreError as `Engine.changeModel`
 */
export async function engineAtSize(
  data: ProjectData,
  size: SheetSize | null,
  kernels: Kernels,
  onProgress: (done: number) => void = () => undefined,
): Promise<Engine> {
  const { mesh, document } = data;
  const sizes = document.sheets.map((s) => s.size);
  const engine = new Engine({ ...data, surface: measureSurface(mesh, sizes), kernels });
  if (size !== null && sizes.some((s) => s !== size)) {
    const sheets = document.sheets.map((sheet) => ({ ...sheet, size }));
    const make = (form: UvMesh): MadeModel => ({ mesh: form, patch: { sheets } });
    await changeModel(hostHere(engine, kernels), {
      label: 'Change the size',
      make,
      signal: NEVER_STOPS,
      progress: onProgress,
    });
  }
  await measureAll(engine);
  return engine;
}

/** Measures every cue that the build-up is made from. */
async function measureAll(engine: Engine): Promise<void> {
  const measured = await cueMeasurer(engine);
  for (const spec of engine.missingCues()) engine.setCue(spec, measured(spec));
}

/** Makes ready to measure cues for a project, on what it says that they are measured on. */
export async function cueMeasurer(engine: Engine): Promise<(spec: CueSpec) => Uint16Array> {
  const { surface, document } = engine;
  const { dense, modelFile } = document;
  const motion = engine.wantedCues().some(posesOf) ? await readMotion(engine) : null;
  const groundFor = groundsFor(surface, {
    dense: dense && {
      mesh: placedMesh(unpackModel(engine.file(dense.id)!), dense.placing),
      distance: dense.distance * subjectDiagonal(surface.mesh),
    },
    colors: engine.localColors(),
    moves: motion && { motion, placing: modelFile?.placing ?? null },
  });
  return (spec) => measureCue(surface, spec, { ground: groundFor(spec) });
}
