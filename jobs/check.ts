import { checkDelivery, USUAL_CHECK, type CheckReport } from '../core/delivery';
import { CoreError } from '../core/errors';
import type { Picture } from '../core/formats';
import { sheetCount } from '../core/mesh';
import type { FileSet } from './file-set';
import { asJson, type DoJob } from './job';
import { pictureIn, uvModelIn } from './read';

/** Looks at a model and its albedo as an engine would show them: check.json. */
export const check: DoJob<'check'> = async ({ model, albedos, how }, files, onProgress) => {
  const mesh = await uvModelIn(files, model);
  if (albedos.length < sheetCount(mesh)) {
    throw new CoreError(
      'bad-argument',
      `The model lies on ${sheetCount(mesh)} sheets, but ${albedos.length} --albedo ${albedos.length === 1 ? 'is' : 'are'} named. Name one for each.`,
    );
  }
  const sheets = albedos.map((name) => ({ picture: square(files, name) }));
  const report = checkDelivery(mesh, sheets, { ...USUAL_CHECK, ...how }, { onProgress });
  const line = checkLine(report);
  return {
    figures: { ok: report.ok, findings: report.findings.map((f) => f.says) },
    report: line,
    files: new Map([['check.json', asJson(line)]]),
  };
};

/** @throws CoreError `bad-argument` */
function square(files: FileSet, name: string): Picture {
  const picture = pictureIn(files, name);
  if (picture.width === picture.height && picture.width <= 8192) return picture;
  throw new CoreError(
    'bad-argument',
    `“${name}” is ${picture.width} x ${picture.height}. An albedo is square, up to 8192 pixels a side.`,
  );
}

/** A report as it is printed: one sheet's figures at the top, several beside one another. */
function checkLine({ sheets, density, stacked, merging, findings, ok }: CheckReport) {
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
