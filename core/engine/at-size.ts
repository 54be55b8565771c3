import { groundsFor, measureCue, type CueSpec } from '../cues';
import { formDiagonal } from '../mesh';
import { carryPaint } from '../model';
import { measureSurface, type SheetSize } from '../surface';
import type { Kernels } from '../kernels';
import { Engine } from './engine';
import { unpackModel } from './model-json';
import type { ProjectData } from './project-file';

/**
 * A project with all its sheets at another size: strokes are made again, what else was painted is resampled once, and all cues are
 * measured anew. As the application does it.
 *
 * @param size null: as they are
 * @param onProgress 0..1 of the strokes
 * @throws CoreError as `Engine.changeModel`
 */
export function engineAtSize(
  data: ProjectData,
  size: SheetSize | null,
  kernels: Kernels,
  onProgress: (done: number) => void = () => undefined,
): Engine {
  const { mesh, document } = data;
  const sizes = document.sheets.map((s) => s.size);
  const surface = measureSurface(mesh, sizes);
  const engine = new Engine({ ...data, surface, kernels });
  if (size !== null && sizes.some((s) => s !== size)) resize(engine, data.files, size, kernels, onProgress);
  measureAll(engine);
  return engine;
}

function resize(
  engine: Engine,
  files: ProjectData['files'],
  size: SheetSize,
  kernels: Kernels,
  onProgress: (done: number) => void,
): void {
  const { document, surface, mesh } = engine;
  const sheets = document.sheets.map((sheet) => ({ ...sheet, size }));
  const to = measureSurface(
    mesh,
    sheets.map((s) => s.size),
  );
  const { from } = engine.beginChange();
  const { paintedAt, planes } = engine.paintPlanes();
  const how = { byTriangle: true, placing: null, align: null };
  const { guards, frames, regions } = document;
  const carried = carryPaint({
    from: surface,
    to,
    planes,
    ...how,
    context: { guards, frames, files },
    regions,
    kernels,
    onProgress,
  });
  engine.changeModel({
    label: 'Change the size',
    from,
    paintedAt,
    model: { hash: document.model, surface: to },
    patch: { sheets },
    renamed: [],
    carried,
    ...how,
  });
}

/** Measures every cue that the build-up is made from. */
function measureAll(engine: Engine): void {
  const measured = cueMeasurer(engine);
  for (const spec of engine.missingCues()) engine.setCue(spec, measured(spec));
}

/** Makes ready to measure cues for a project, on what it says that they are measured on. */
export function cueMeasurer(engine: Engine): (spec: CueSpec) => Uint16Array {
  const { surface, document } = engine;
  const { dense } = document;
  const groundFor = groundsFor(surface, {
    dense: dense && {
      mesh: unpackModel(engine.file(dense.id)!),
      distance: dense.distance * formDiagonal(surface.mesh),
    },
    colors: engine.localColors(),
  });
  return (spec) => measureCue(surface, spec, { ground: groundFor(spec) });
}
