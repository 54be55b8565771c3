import { checkDelivery, USUAL_CHECK, type CheckHow, type CheckReport } from '../core/checks';
import { decodePng, type Picture } from '../core/formats';
import { requireUvs, sheetCount } from '../core/mesh';
import {
  numberOption,
  readBytes,
  readModelFile,
  readOptions,
  UsageError,
  type Terminal,
  type Values,
} from './options';

/** Options of `check` that tell what is asked. */
export const CHECK_OPTIONS = {
  mips: { type: 'string' },
  limit: { type: 'string' },
  range: { type: 'string' },
  density: { type: 'string' },
  game: { type: 'string' },
} as const;

/** Looks at a model and its albedo as an engine would show them. @returns 0 if it may leave, 1 if not */
export async function runCheck(args: readonly string[], terminal: Terminal): Promise<number> {
  const { model, values } = readOptions(args, {
    albedo: { type: 'string', multiple: true },
    ...CHECK_OPTIONS,
  });
  const files = (values['albedo'] ?? []) as string[];
  if (files.length === 0)
    throw new UsageError('--albedo is missing: the picture of each sheet, in their order.');
  const how = checkHow(values);
  const mesh = requireUvs(await readModelFile(model));
  if (files.length < sheetCount(mesh)) {
    throw new UsageError(
      `The model lies on ${sheetCount(mesh)} sheets, but ${files.length} --albedo ${files.length === 1 ? 'is' : 'are'} named. Name one for each.`,
    );
  }
  const sheets: { picture: Picture }[] = [];
  for (const file of files) sheets.push({ picture: square(file, decodePng(await readBytes(file))) });
  const report = checkDelivery(mesh, sheets, how);
  terminal.out(`${JSON.stringify(checkLine(report))}\n`);
  for (const { says, weight } of report.findings) terminal.error(`${weight}: ${says}\n`);
  return report.ok ? 0 : 1;
}

/** @throws UsageError */
function square(file: string, picture: Picture): Picture {
  if (picture.width === picture.height && picture.width <= 8192) return picture;
  throw new UsageError(
    `“${file}” is ${picture.width} x ${picture.height}. An albedo is square, up to 8192 pixels a side.`,
  );
}

/** What is asked, by the options. @throws UsageError */
export function checkHow(values: Values): CheckHow {
  const mips = numberOption(values, 'mips', USUAL_CHECK.mips);
  const gameSize = numberOption(values, 'game', USUAL_CHECK.gameSize);
  if (!Number.isInteger(mips) || mips < 0 || mips > 8) throw new UsageError('--mips is 0 to 8.');
  if (!Number.isInteger(gameSize) || gameSize < 8 || gameSize > 2048)
    throw new UsageError('--game is 8 to 2048 pixels.');
  const range = String(values['range'] ?? USUAL_CHECK.range.join())
    .split(',')
    .map(Number);
  const [low, high] = range;
  if (range.length !== 2 || !(low! >= 0 && low! < high! && high! <= 100))
    throw new UsageError('--range is two lightnesses, 0 to 100, as 15,90.');
  return {
    ...USUAL_CHECK,
    mips,
    limit: numberOption(values, 'limit', USUAL_CHECK.limit),
    densityFactor: numberOption(values, 'density', USUAL_CHECK.densityFactor),
    gameSize,
    range: [low!, high!],
  };
}

/** A report as it is printed: one sheet's figures at the top, several beside one another. */
export function checkLine({ sheets, density, stacked, merging, findings, ok }: CheckReport) {
  const seams = sheets.flatMap((s) =>
    s.seams.map(({ part, mip, length, deltaE }) => ({
      part,
      mip,
      length: short(length),
      deltaE: short(deltaE),
    })),
  );
  const sum = (of: (sheet: CheckReport['sheets'][number]) => number): number =>
    sheets.reduce((all, s) => all + of(s), 0);
  const least = (values: readonly (number | null)[]): number | null => {
    const known = values.filter((v) => v !== null);
    return known.length === 0 ? null : Math.min(...known);
  };
  return {
    seams,
    unpainted: sum((s) => s.unpainted),
    bleed: least(sheets.map((s) => s.bleed)),
    gap: least(sheets.map((s) => s.gap)),
    outside: sum((s) => s.outside),
    banded: sum((s) => s.banded),
    density: short(density),
    stacked,
    merging: merging.map(({ parts, deltaE }) => ({ parts, deltaE: short(deltaE) })),
    memory: sum((s) => s.memory),
    findings: findings.map(({ check, weight, says }) => ({ check, weight, says })),
    ok,
  };
}

const short = (x: number): number => Number(x.toPrecision(4));
