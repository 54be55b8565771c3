import { writeOut } from './write-out';
import { AXES, cueSpec, measureCue, type CueSpec } from '../core/cues';
import { encodeGreyPng } from '../core/formats';
import { boundsOf, diagonalOf, requireUvs, type Mesh } from '../core/mesh';
import { measureSurface, sheetValues, toRows } from '../core/surface';
import { numberOption, readModelFile, readOptions, sizeOption, textOption, UsageError } from './options';

export async function runCue(args: readonly string[], print: (text: string) => void): Promise<void> {
  const { model, values } = readOptions(args, {
    cue: { type: 'string' },
    rays: { type: 'string' },
    distance: { type: 'string' },
    axis: { type: 'string' },
    direction: { type: 'string' },
    out: { type: 'string' },
  });
  const size = sizeOption(values);
  const out = textOption(values, 'out');
  const kind = textOption(values, 'cue');
  if (!['occlusion', 'height', 'facing'].includes(kind)) {
    throw new UsageError(`There is no cue “${kind}”; use occlusion, height or facing.`);
  }
  const rays = numberOption(values, 'rays', 64);
  const distance = values['distance'] === undefined ? null : numberOption(values, 'distance', 0);
  if (distance !== null && distance <= 0) throw new UsageError('--distance must be more than 0.');
  const axis = values['axis'] ?? 'y';
  const direction = directionOption(String(values['direction'] ?? '0,1,0'));
  if (!(AXES as readonly unknown[]).includes(axis))
    throw new UsageError(`--axis ${String(axis)} is not x, y or z.`);

  const mesh = requireUvs(await readModelFile(model));
  const spec = specOf(kind, { rays, distance, axis: String(axis), direction }, mesh);
  const map = measureSurface(mesh, size);
  const values16 = sheetValues(map, 0, measureCue(mesh, map, spec));
  await writeOut(
    new Map([[out, encodeGreyPng(toRows(size, values16, new Uint16Array(values16.length)), size, size)]]),
  );
  const report = { out, cue: spec, size, coveredTexels: map.coveredTexels };
  print(values['json'] ? `${JSON.stringify(report)}\n` : `${kind} written to ${out}\n`);
}

function directionOption(text: string): [number, number, number] {
  const numbers = text.split(',').map(Number);
  if (numbers.length !== 3 || numbers.some((n) => !Number.isFinite(n)) || numbers.every((n) => n === 0)) {
    throw new UsageError(`--direction ${text} is not three numbers such as 0,1,0.`);
  }
  return numbers as [number, number, number];
}

function specOf(
  kind: string,
  o: { rays: number; distance: number | null; axis: string; direction: [number, number, number] },
  mesh: Mesh,
): CueSpec {
  // The core measures reach in parts of the diagonal, so that a recipe fits models of any size.
  const reach = o.distance === null ? null : o.distance / diagonalOf(boundsOf(mesh.positions));
  const candidates: Record<string, unknown> = {
    occlusion: { cue: 'occlusion', rays: o.rays, reach },
    height: { cue: 'height', axis: o.axis },
    facing: { cue: 'facing', direction: o.direction },
  };
  const parsed = cueSpec.safeParse(candidates[kind]);
  if (!parsed.success) {
    const issue = parsed.error.issues[0];
    throw new UsageError(
      `--${String(issue?.path[0] ?? 'cue')} can't be used: ${issue?.message ?? 'unknown'}.`,
    );
  }
  return parsed.data;
}
