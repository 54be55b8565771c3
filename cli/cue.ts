import { writeOut } from './write-out';
import {
  OFFERED_CUES,
  cueSpec,
  denseCueSurface,
  GRAINS,
  measureCue,
  ownCueSurface,
  requireMet,
  type CueSurface,
  type OfferedCue,
  type Met,
} from '../core/cues';
import { readAs } from '../core/read-as';
import { encodeGreyPng } from '../core/formats';
import { type Bounds, centreOf, diagonalOf, subjectBounds, subjectDiagonal, requireUvs } from '../core/mesh';
import { measureSurface, sheetValues, toRows, type SurfaceMap } from '../core/surface';
import {
  numberOption,
  sizeOption,
  textOption,
  UsageError,
  type Values,
  option,
  type CliCommand,
  SHEET_SIZE,
} from './options';
import { readModelFile } from './read-model-file';

const NAMES = OFFERED_CUES;

export const cueCommand: CliCommand = {
  name: 'cue',
  takes: '<model>',
  does: 'A cue as a 16-bit grey PNG; the first row is the top of the sheet (v = 1); 65535 = 1.',
  options: [
    option('--cue <name>', 'which, of those below'),
    option('--out <file.png>', 'where it writes'),
    SHEET_SIZE,
    option('--rays <count>', 'of occlusion (64)'),
    option('--distance <length>', 'how far rays look, model units; without it without end'),
    option('--axis <x|y|z>', 'of height (y)'),
    option('--direction <x,y,z>', 'of height, facing and cast (0,1,0)'),
    option('--scale <number>', 'of ridge and crease (0.05), of grain (30)'),
    option('--point <x,y,z>', 'of nearness and along (the middle)'),
    option('--radius <length>', 'of nearness (half the diagonal)'),
    option('--light <degrees>', 'how much of the sky the light of cast takes (0)'),
    option('--kind <value|ridged|cellular>', 'of grain (value)'),
    option('--seed <number>', 'of grain (1)'),
    option('--from <dense>', 'measure on a denser model of the same shape'),
    option('--within <length>', 'how far off that one may be (0.02 of the diagonal)'),
  ],
  more: `
What they measure:
  occlusion  fully open is 1
  height     highest is 1
  facing     (1 + cos angle) / 2
  ridge      min(1, max(0, H * scale * diagonal)), H the mean curvature, positive where convex
  crease     the same of -H
  nearness   max(0, 1 - d / radius)
  along      min(1, way / distance), the way over the surface (half the diagonal)
  cast       the part of the light's disc that is seen, 1 lit
  thickness  cosine-weighted mean of min(way through the solid, distance) / distance (a tenth of the diagonal)
  grain      noise in model space`,
  async run([model], values, { out: print }) {
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
    const wished = { cue: name, ...WISHES[name](values, subjectBounds(mesh)) };
    const cue = readAs(
      cueSpec,
      wished,
      'bad-argument',
      (where, says) => `--${where.split('.')[0]} can't be used: ${says}.`,
    );
    const map = measureSurface(mesh, size);
    const { ground, met } = await groundFor(map, values);
    const values16 = sheetValues(map, 0, measureCue(map, cue, { ground }));
    await writeOut(
      new Map([[out, encodeGreyPng(toRows(size, values16, new Uint16Array(values16.length)), size, size)]]),
    );
    const report = {
      out,
      cue,
      size,
      coveredTexels: map.coveredTexels,
      ...(met && { missedTexels: met.missed }),
    };
    const missed = met?.missed ? `; ${met.missed} of ${met.covered} texels met nothing and were filled` : '';
    print(values['json'] ? `${JSON.stringify(report)}\n` : `${name} written to ${out}${missed}\n`);
  },
};

/** Parts of the diagonal within which a denser model is looked for, if nothing else is said. */
const WITHIN = 0.02;

/** The model itself, or the denser one that `--from` names. */
async function groundFor(
  map: SurfaceMap,
  values: Values,
): Promise<{ readonly ground: CueSurface; readonly met?: Met }> {
  if (values['from'] === undefined) return { ground: ownCueSurface(map) };
  const dense = await readModelFile(textOption(values, 'from'));
  const ground = denseCueSurface(
    map,
    dense,
    lengthOption(values, 'within', WITHIN * subjectDiagonal(map.mesh)),
  );
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
