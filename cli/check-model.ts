import { checkDelivery, type CheckHow, type CheckReport } from '../core/checks';
import { decodePng, type Picture } from '../core/formats';
import { requireUvs, sheetCount } from '../core/mesh';
import { readBytes, readModelFile, UsageError } from './options';

/** One model to be checked. */
export interface CheckJob {
  readonly model: string;
  /** The picture of each sheet, in their order. */
  readonly albedos: readonly string[];
  readonly how: CheckHow;
  /** Where what was found is kept; null: nowhere. */
  readonly folder: string | null;
}

/** Looks at a model and its albedo as an engine would show them. @throws UsageError, CoreError */
export async function checkModel(
  { model, albedos, how }: CheckJob,
  onProgress?: (done: number) => void,
): Promise<CheckReport> {
  const mesh = requireUvs(await readModelFile(model));
  if (albedos.length < sheetCount(mesh)) {
    throw new UsageError(
      `The model lies on ${sheetCount(mesh)} sheets, but ${albedos.length} --albedo ${albedos.length === 1 ? 'is' : 'are'} named. Name one for each.`,
    );
  }
  const sheets: { picture: Picture }[] = [];
  for (const file of albedos) sheets.push({ picture: square(file, decodePng(await readBytes(file))) });
  return checkDelivery(mesh, sheets, how, { ...(onProgress && { onProgress }) });
}

/** @throws UsageError */
function square(file: string, picture: Picture): Picture {
  if (picture.width === picture.height && picture.width <= 8192) return picture;
  throw new UsageError(
    `“${file}” is ${picture.width} x ${picture.height}. An albedo is square, up to 8192 pixels a side.`,
  );
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
