import { basename } from 'node:path';
import { writeGlb } from '../core/formats';
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
import {
  numberOption,
  sizeOption,
  textOption,
  UsageError,
  option,
  choiceOption,
  type CliCommand,
  PLAIN,
  SHEET_SIZE,
} from './options';
import { importModelFile } from './read-model-file';

const SEAMS = ['auto', 'existing', 'creases'] as const;

export const unwrapCommand: CliCommand = {
  name: 'unwrap',
  takes: '<model>',
  does: 'Seams, flattening and packing, on all cores; prints what the layout is like.',
  options: [
    option('--out <file.glb>', 'where it writes'),
    SHEET_SIZE,
    option('--margin <texels>', 'between islands (12)'),
    choiceOption('seams', 'where seams come from', SEAMS),
    choiceOption('cut', 'how pieces are cut', CUTS),
    option('--stretch <factor>', 'the most that is allowed, 1 to 4 (1.06)'),
    choiceOption('arrange', 'how islands stand', ARRANGES),
    option('--never <parts>', 'parts where no seam is wanted, separated by commas'),
    option('--gladly <parts>', 'parts where seams are wanted'),
    option('--stack', 'mirrored halves and equal pieces share texels'),
    option('--apart <parts>', 'parts that get texels of their own all the same'),
    option('--weight <part=factor,…>', 'parts that get larger or smaller islands, by length (1)'),
    PLAIN,
    option('--cut-triangles', 'lead seams straight, through triangles: the model gets more of them'),
  ],
  async run([model], values, { out: print }) {
    const size = sizeOption(values);
    const out = textOption(values, 'out');
    if (!/\.glb$/i.test(out)) throw new UsageError(`--out ${out} should end in .glb.`);
    const margin = numberOption(values, 'margin', DEFAULT_MARGIN);
    if (margin < 0 || margin > size / 8)
      throw new UsageError(`--margin ${margin} is not between 0 and ${size / 8}.`);
    const { seams, cut, arrange } = values as Required<Pick<UnwrapOptions, 'seams' | 'cut' | 'arrange'>>;
    const bound = numberOption(values, 'stretch', DEFAULT_BOUND);
    if (!(bound >= 1 && bound <= 4)) throw new UsageError(`--stretch ${bound} is not between 1 and 4.`);
    const { mesh, file } = await importModelFile(model);
    const wishes = {
      never: runsOfParts(mesh, 'never', values['never']),
      gladly: runsOfParts(mesh, 'gladly', values['gladly']),
    };
    const weights = weightsOf(mesh, values['weight']);
    const start = performance.now();
    const whole = await onAllCores(
      unwrapping(mesh, {
        size,
        margin,
        seams,
        cut,
        bound,
        wishes,
        weights,
        ...(values['stack'] === true && { stack: { apart: runsOfParts(mesh, 'apart', values['apart']) } }),
        arrange: cut === 'even' ? 'tightest' : arrange,
      }),
    );
    const unwrapped = values['cutTriangles'] ? cutStraight(whole, size, margin, arrange) : whole;
    const seconds = Number(((performance.now() - start) / 1000).toFixed(3));
    const measures = measureLayout(unwrapped, size);
    const { islands, stretchL2, stretchLinf, angle, area, flipped } = measures;
    const { overlappedTexels, fill, seamLength, seamSight } = measures;
    const look = { name: basename(out).replace(/\.glb$/i, ''), albedos: [], material: 'kept' } as const;
    const kept = file && values['plain'] !== true ? { bytes: file, placing: null } : null;
    const glb = await writeGlb(unwrapped, look, kept);
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
  },
};

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

/** How large the parts shall be that `--weight` names. */
function weightsOf({ parts }: Mesh, value: unknown): Map<string, number> {
  const pairs = typeof value === 'string' ? value.split(',') : [];
  return new Map(
    pairs.map((pair) => {
      const at = pair.lastIndexOf('=');
      const [name, factor] = [pair.slice(0, at).trim(), Number(pair.slice(at + 1))];
      if (at < 0 || !parts.includes(name) || !(factor >= 0.05 && factor <= 20))
        throw new UsageError(
          `--weight ${pair} can't be used: name a part and a factor from 0.05 to 20, as in Head=2. The model's parts are ${parts.join(', ')}.`,
        );
      return [name, factor];
    }),
  );
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
