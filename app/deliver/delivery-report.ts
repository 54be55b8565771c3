import type { DeliveredNames, DeliverySettings } from '../../core/delivery';
import { detailReport, hasDetails, type ProjectDocument } from '../../core/engine';
import { suitableSize, useDelivery } from './delivery-settings';

/** What is delivered and how it is to be read. `settings` may be given to the command line as they are. */
export function deliveryReport(document: ProjectDocument, names: DeliveredNames, settings: DeliverySettings) {
  const { normalsOf, channels } = useDelivery.getState();
  const { size, bleed, alpha } = settings;
  const wanted = size ?? suitableSize(document.sheets);
  return {
    project: document.name,
    sheets: document.sheets.map((sheet, k) => ({
      name: sheet.name,
      size: wanted || sheet.size,
      albedo: names.albedo[k],
      ...(hasDetails(document.layers) && { detail: names.detail[k] }),
    })),
    bleed: bleed ?? 'whole sheet',
    alpha,
    colors: 'sRGB-encoded',
    normals: document.lights.find((l) => l.id === normalsOf)?.name ?? 'the model’s own',
    ...(hasDetails(document.layers) && { detail: detailReport(channels) }),
    ...(document.ramps && {
      ramps: {
        file: names.ramps,
        size: document.ramps.size,
        shared: document.ramps.shared?.name ?? null,
        seats: document.ramps.seats.map(({ of, ramp, run, from, to }) => ({
          ...('part' in of ? of : { region: document.regions.find((r) => r.id === of.region)?.name ?? '' }),
          ramp: document.ramps!.ramps.find((r) => r.id === ramp)?.name ?? '',
          run: run.kind,
          from,
          to,
        })),
      },
    }),
    settings,
  };
}
