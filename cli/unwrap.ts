import { basename } from 'node:path';
import { writeUnlitGlb } from '../core/formats';
import { faceRuns, topologyOf, triangleCount, type FaceRuns, type Mesh, type UvMesh } from '../core/mesh';
import {
  applyLayoutEdit,
  ARRANGES,
  CUTS,
  DEFAULT_BOUND,
  DEFAULT_MARGIN,
  facesOfParts,
  measureLayout,
  sayUnwanted,
  seamCorners,
  unwantedSeams,
  unwrapping,
  type Arrange,
  type UnwrapOptions,
} from '../core/unwrap';
import { onAllCores } from '../jobs';
import { writeOut } from './write-out';
import { numberOption, readOptions, sizeOption, textOption, UsageError } from './options';
import { readModelFile } from './read-model-file';

const SEAMS = ['auto', 'existing', 'creases'] as const;

export async function runUnwrap(args: readonly string[], print: (text: string) => void): Promise<void> {
  const { model, values } = readOptions(args, {
    out: { type: 'string' },
    margin: { type: 'string' },
    seams: { type: 'string' },
    cut: { type: 'string' },
    stretch: { type: 'string' },
    arrange: { type: 'string' },
    never: { type: 'string' },
    gladly: { type: 'string' },
    'cut-triangles': { type: 'boolean' },
  });
  const size = sizeOption(values);
  const out = textOption(values, 'out');
  if (!/\.glb$/i.test(out)) throw new UsageError(`--out ${out} should end in .glb.`);
  const margin = numberOption(values, 'margin', DEFAULT_MARGIN);
  if (margin < 0 || margin > size / 8)
    throw new UsageError(`--margin ${margin} is not between 0 and ${size / 8}.`);
  const seams = seamsOption(values['seams']);
  const cut = CUTS.find((c) => c === (values['cut'] ?? 'natural'));
  if (!cut)
    throw new UsageError(`--cut ${String(values['cut'])} can't be used; choose one of ${CUTS.join(', ')}.`);
  const bound = numberOption(values, 'stretch', DEFAULT_BOUND);
  if (!(bound >= 1 && bound <= 4)) throw new UsageError(`--stretch ${bound} is not between 1 and 4.`);
  const arrange = ARRANGES.find((a) => a === (values['arrange'] ?? 'upright'));
  if (!arrange)
    throw new UsageError(
      `--arrange ${String(values['arrange'])} can't be used; choose one of ${ARRANGES.join(', ')}.`,
    );
  const mesh = await readModelFile(model);
  const wishes = {
    never: runsOfParts(mesh, 'never', values['never']),
    gladly: runsOfParts(mesh, 'gladly', values['gladly']),
  };
  const start = performance.now();
  const whole = await onAllCores(
    unwrapping(mesh, {
      size,
      margin,
      seams,
      cut,
      bound,
      wishes,
      arrange: cut === 'even' ? 'tightest' : arrange,
    }),
  );
  const unwrapped = values['cut-triangles'] ? cutStraight(whole, size, margin, arrange) : whole;
  const seconds = Number(((performance.now() - start) / 1000).toFixed(3));
  const measures = measureLayout(unwrapped, size);
  const { islands, stretchL2, stretchLinf, angle, area, flipped } = measures;
  const { overlappedTexels, fill, seamLength, seamSight } = measures;
  const glb = await writeUnlitGlb(unwrapped, basename(out).replace(/\.glb$/i, ''), []);
  await writeOut(new Map([[out, glb]]));
  const note = sayUnwanted(unwantedSeams(unwrapped, topologyOf(unwrapped), wishes));
  const report = {
    islands,
    stretchL2,
    stretchLinf,
    angleDistortion: angle,
    areaDistortion: area,
    flipped,
    overlappedTexels,
    fill,
    seamLength,
    seamSight,
    seconds,
    ...(unwrapped === whole ? {} : { trianglesAdded: triangleCount(unwrapped) - triangleCount(whole) }),
    ...(note ? { note } : {}),
  };
  print(`${JSON.stringify(report, null, values['json'] ? 0 : 2)}\n`);
}

/** The same with seams that run straight, through triangles. */
function cutStraight(mesh: UvMesh, size: number, margin: number, arrange: Arrange): UvMesh {
  return applyLayoutEdit(mesh, {
    do: 'cut-through',
    seams: seamCorners(mesh),
    how: { margin, arrange, weights: new Map() },
    sizes: [size],
    sheet: null,
  });
}

/** Triangles of the parts that an option names, separated by commas. */
function runsOfParts(mesh: Mesh, option: string, value: unknown): FaceRuns {
  const names = typeof value === 'string' ? value.split(',').map((name) => name.trim()) : [];
  const parts = names.map((name) => {
    const part = mesh.parts.indexOf(name);
    if (part < 0)
      throw new UsageError(`--${option} names “${name}”; the model's parts are ${mesh.parts.join(', ')}.`);
    return part;
  });
  const faces = new Set(facesOfParts(mesh, new Set(parts)));
  return faceRuns(mesh.faceParts.length, (f) => faces.has(f));
}

function seamsOption(value: unknown): UnwrapOptions['seams'] {
  const seams = SEAMS.find((s) => s === (value ?? 'auto'));
  if (!seams)
    throw new UsageError(`--seams ${String(value)} can't be used; choose one of ${SEAMS.join(', ')}.`);
  return seams;
}
