import { detailReport } from '../../compositor';
import { hasDetails, type ProjectDocument } from '../../document';
import type { DeliveredNames } from '../export-names';
import { deliveredSize, type DeliverySettings } from '../settings';

/** What is delivered and how it is to be read. `settings` may be given to the command line as they are. */
export function deliveryReport(document: ProjectDocument, names: DeliveredNames, settings: DeliverySettings) {
  const { bleed, alpha, normalsOf, channels } = settings;
  const { sheets, layers, lights, ramps, regions } = document;
  return {
    project: document.name,
    sheets: sheets.map((sheet, k) => ({
      name: sheet.name,
      size: deliveredSize(sheets, settings, k),
      albedo: names.albedo[k],
      ...(hasDetails(layers) && { detail: names.detail[k] }),
    })),
    bleed: bleed ?? 'whole sheet',
    alpha,
    colors: 'sRGB-encoded',
    normals: lights.find((l) => l.id === normalsOf)?.name ?? 'the model’s own',
    ...(hasDetails(layers) && { detail: detailReport(channels) }),
    ...(ramps && {
      ramps: {
        file: names.ramps,
        size: ramps.size,
        shared: ramps.shared?.name ?? null,
        seats: ramps.seats.map(({ of, ramp, run, from, to }) => ({
          ...('part' in of ? of : { region: regions.find((r) => r.id === of.region)?.name ?? '' }),
          ramp: ramps.ramps.find((r) => r.id === ramp)?.name ?? '',
          run: run.kind,
          from,
          to,
        })),
      },
    }),
    settings,
  };
}
