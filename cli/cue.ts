import { writeOut } from './write-out';
import {
  OFFERED_CUES,
  cueSpec,
  denseGround,
  GRAINS,
  measureCue,
  ownGround,
  requireMet,
  type CueGround,
  type OfferedCue,
  type Met,
} from '../core/cues';
import { encodeGreyPng } from '../core/formats';
import { type Bounds, centreOf, diagonalOf, formBounds, formDiagonal, requireUvs } from '../core/mesh';
import { measureSurface, sheetValues, toRows, type SurfaceMap } from '../core/surface';
import { numberOption, readOptions, sizeOption, textOption, UsageError, type Values } from './options';
import { readModelFile } from './read-model-file';

const NAMES = OFFERED_CUES;

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
    light: { type: 'string' },
    kind: { type: 'string' },
    seed: { type: 'string' },
    from: { type: 'string' },
    within: { type: 'string' },
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
  const parsed = cueSpec.safeParse({ cue: name, ...WISHES[name](values, formBounds(mesh)) });
  if (!parsed.success) {
    const issue = parsed.error.issues[0];
    throw new UsageError(
      `--${String(issue?.path[0] ?? 'cue')} can't be used: ${issue?.message ?? 'unknown'}.`,
    );
  }
  const map = measureSurface(mesh, size);
  const { ground, met } = await groundFor(map, values);
  const values16 = sheetValues(map, 0, measureCue(map, parsed.data, { ground }));
  await writeOut(
    new Map([[out, encodeGreyPng(toRows(size, values16, new Uint16Array(values16.length)), size, size)]]),
  );
  const report = {
    out,
    cue: parsed.data,
    size,
    coveredTexels: map.coveredTexels,
    ...(met && { missedTexels: met.missed }),
  };
  const missed = met?.missed ? `; ${met.missed} of ${met.covered} texels met nothing and were filled` : '';
  print(values['json'] ? `${JSON.stringify(report)}\n` : `${name} written to ${out}${missed}\n`);
}

/** Parts of the diagonal within which a denser model is looked for, if nothing else is said. */
const WITHIN = 0.02;

/** The model itself, or the denser one that `--from` names. */
async function groundFor(
  map: SurfaceMap,
  values: Values,
): Promise<{ readonly ground: CueGround; readonly met?: Met }> {
  if (values['from'] === undefined) return { ground: ownGround(map) };
  const dense = await readModelFile(textOption(values, 'from'));
  const ground = denseGround(map, dense, lengthOption(values, 'within', WITHIN * formDiagonal(map.mesh)));
  const met = ground.met();
  requireMet(met);
  return { ground, met };
}

/**
 * What each cue takes from the command line. Lengths are model units there; the core measures them in parts of the model, so that a
 * recipe fits models of any size.
 */
const WISHES: Readonly<Record<OfferedCue, (values: Values, bounds: Bounds) => object>> = {
  occlusion: (values, bounds) => ({
    rays: numberOption(values, 'rays', 64),
    reach: values['distance'] === undefined ? null : lengthOption(values, 'distance', 1) / diagonalOf(bounds),
  }),
  height: (values) => {
    const axis = String(values['axis'] ?? 'y');
    if (values['axis'] !== undefined && !['x', 'y', 'z'].includes(axis)) {
      throw new UsageError(`--axis ${axis} can't be used; choose x, y or z.`);
    }
    const along = ['x', 'y', 'z'].map((name) => Number(name === axis));
    return {
      direction: values['direction'] === undefined ? along : directionOption(values),
      from: 0,
      to: 1,
    };
  },
  facing: (values) => ({ direction: directionOption(values) }),
  ridge: (values) => ({ scale: numberOption(values, 'scale', 0.05) }),
  crease: (values) => ({ scale: numberOption(values, 'scale', 0.05) }),
  nearness: (values, bounds) => {
    const centre = centreOf(bounds);
    const diagonal = diagonalOf(bounds);
    const point = threeNumbers(values, 'point', centre.join());
    return {
      point: point.map((p, k) => (p - centre[k]!) / diagonal),
      radius: lengthOption(values, 'radius', diagonal / 2) / diagonal,
    };
  },
  along: (values, bounds) => {
    const centre = centreOf(bounds);
    const diagonal = diagonalOf(bounds);
    const point = threeNumbers(values, 'point', centre.join());
    return {
      points: [point.map((p, k) => (p - centre[k]!) / diagonal)],
      reach: lengthOption(values, 'distance', diagonal / 2) / diagonal,
    };
  },
  cast: (values) => ({ direction: directionOption(values), light: numberOption(values, 'light', 0) }),
  thickness: (values, bounds) => ({
    distance: lengthOption(values, 'distance', diagonalOf(bounds) / 10) / diagonalOf(bounds),
  }),
  grain: (values) => {
    const kind = String(values['kind'] ?? 'value');
    if (!(GRAINS as readonly string[]).includes(kind)) {
      throw new UsageError(`--kind ${kind} can't be used; choose ${GRAINS.join(', ')}.`);
    }
    return { kind, scale: numberOption(values, 'scale', 30), seed: numberOption(values, 'seed', 1) };
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
