import { writeOut } from './write-out';
import { CUE_KINDS, cueSpec, measureCue, type CueName } from '../core/cues';
import { encodeGreyPng } from '../core/formats';
import { boundsOf, centreOf, diagonalOf, requireUvs, type Bounds } from '../core/mesh';
import { measureSurface, sheetValues, toRows } from '../core/surface';
import {
  numberOption,
  readModelFile,
  readOptions,
  sizeOption,
  textOption,
  UsageError,
  type Values,
} from './options';

const NAMES = Object.keys(CUE_KINDS) as CueName[];

export async function runCue(args: readonly string[], print: (text: string) => void): Promise<void> {
  const { model, values } = readOptions(args, {
    cue: { type: 'string' },
    rays: { type: 'string' },
    distance: { type: 'string' },
    axis: { type: 'string' },
    direction: { type: 'string' },
    scale: { type: 'string' },
    point: { type: 'string' },
    radius: { type: 'string' },
    out: { type: 'string' },
  });
  const size = sizeOption(values);
  const out = textOption(values, 'out');
  const kind = textOption(values, 'cue');
  const name = NAMES.find((n) => n === kind);
  if (!name) {
    throw new UsageError(
      `There is no cue “${kind}”; use ${NAMES.slice(0, -1).join(', ')} or ${NAMES.at(-1)}.`,
    );
  }
  const mesh = requireUvs(await readModelFile(model));
  const parsed = cueSpec.safeParse({ cue: name, ...WISHES[name](values, boundsOf(mesh.positions)) });
  if (!parsed.success) {
    const issue = parsed.error.issues[0];
    throw new UsageError(
      `--${String(issue?.path[0] ?? 'cue')} can't be used: ${issue?.message ?? 'unknown'}.`,
    );
  }
  const map = measureSurface(mesh, size);
  const values16 = sheetValues(map, 0, measureCue(mesh, map, parsed.data));
  await writeOut(
    new Map([[out, encodeGreyPng(toRows(size, values16, new Uint16Array(values16.length)), size, size)]]),
  );
  const report = { out, cue: parsed.data, size, coveredTexels: map.coveredTexels };
  print(values['json'] ? `${JSON.stringify(report)}\n` : `${name} written to ${out}\n`);
}

/**
 * What each cue takes from the command line. Lengths are model units there; the core measures them in parts of the model, so that a
 * recipe fits models of any size.
 */
const WISHES: Readonly<Record<CueName, (values: Values, bounds: Bounds) => object>> = {
  occlusion: (values, bounds) => ({
    rays: numberOption(values, 'rays', 64),
    reach: values['distance'] === undefined ? null : lengthOption(values, 'distance', 1) / diagonalOf(bounds),
  }),
  height: (values) => ({ axis: values['axis'] ?? 'y' }),
  facing: (values) => ({ direction: directionOption(values) }),
  ridge: (values) => ({ scale: numberOption(values, 'scale', CUE_KINDS.ridge.usual.scale) }),
  crease: (values) => ({ scale: numberOption(values, 'scale', CUE_KINDS.crease.usual.scale) }),
  nearness: (values, bounds) => {
    const centre = centreOf(bounds);
    const diagonal = diagonalOf(bounds);
    const point = threeNumbers(values, 'point', centre.join());
    return {
      point: point.map((p, k) => (p - centre[k]!) / diagonal),
      radius: lengthOption(values, 'radius', diagonal / 2) / diagonal,
    };
  },
};

function lengthOption(values: Values, name: string, fallback: number): number {
  const length = numberOption(values, name, fallback);
  if (length <= 0) throw new UsageError(`--${name} must be more than 0.`);
  return length;
}

function threeNumbers(values: Values, name: string, fallback: string): [number, number, number] {
  const text = String(values[name] ?? fallback);
  const numbers = text.split(',').map(Number);
  if (numbers.length !== 3 || numbers.some((n) => !Number.isFinite(n))) {
    throw new UsageError(`--${name} ${text} is not three numbers such as 0,1,0.`);
  }
  return numbers as [number, number, number];
}

function directionOption(values: Values): [number, number, number] {
  const direction = threeNumbers(values, 'direction', '0,1,0');
  if (direction.every((n) => n === 0)) {
    throw new UsageError(`--direction ${direction.join()} is not three numbers such as 0,1,0.`);
  }
  return direction;
}
