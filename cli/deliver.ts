import { join } from 'node:path';
import {
  compositeDetail,
  detailReport,
  engineAtSize,
  finishAlbedo,
  flattenAlbedo,
  flattenSurface,
  hasDetails,
  inChannels,
  layeredPicture,
  nodesOf,
  readProjectFile,
  USUAL_CHANNELS,
  type Engine,
  type ProjectData,
} from '../core/engine';
import { encodePng, writeOpenRaster, writeUnlitGlb, type GlbDetail } from '../core/formats';
import { createWasmKernels } from '../core/kernels';
import { contentHash } from '../core/math';
import { RampSeats, rampPicture, sheetOfRamps, splitSeated } from '../core/ramps';
import { sizeOption, readBytes, readOptions, textOption, type Terminal } from './options';
import { makeFolder, writeOut } from './write-out';

/** Paints a project file again without a browser: the albedo of every sheet, and the model with them. */
export async function runDeliver(args: readonly string[], terminal: Terminal): Promise<void> {
  const { model: file, values } = readOptions(args, { out: { type: 'string' }, ora: { type: 'boolean' } });
  const out = textOption(values, 'out');
  const size = values['size'] === undefined ? null : sizeOption(values);
  const data = readProjectFile(await readBytes(file));
  const began = performance.now();
  let told = 0;
  const engine = engineAtSize(data, size, createWasmKernels(), (done) => {
    const percent = Math.floor(done * 10) * 10;
    if (percent > told) terminal.error(`painting again: ${percent} %\n`);
    told = Math.max(told, percent);
  });
  const { document, surface } = engine;
  const pictures = surface.sheets.map((sheet, k) =>
    flattenAlbedo(engine, { size: sheet.size, bleed: Infinity }, k),
  );
  const all = new Uint8Array(pictures.reduce((sum, p) => sum + p.rgba.length, 0));
  pictures.reduce((at, p) => {
    all.set(p.rgba, at);
    return at + p.rgba.length;
  }, 0);
  const pngs = pictures.map((p) => encodePng(p));
  const layered = values['ora'] ? surface.sheets.map((_, k) => layeredPicture(engine, k)) : [];
  const notes = [...new Set(layered.flatMap((image) => image.notes))];
  const detail = hasDetails(document.layers) ? detailOf(engine) : null;
  const report = {
    layers: [...nodesOf(document.layers)].length,
    strokes: [...data.strokes.values()].reduce((sum, list) => sum + list.length, 0),
    texelHash: contentHash(all),
    ...(detail && { detail: detail.says }),
    ...(layered.length > 0 && { flattened: notes }),
    seconds: Math.round(performance.now() - began) / 1000,
  };
  const ramps = rampsOf(data);
  const glb = await writeUnlitGlb(ramps?.own ?? data.mesh, document.name, pngs, {
    detail: detail ?? undefined,
    ramps: ramps && { mesh: ramps.onRamps, png: ramps.png },
  });
  await makeFolder(out);
  await writeOut(
    new Map<string, Uint8Array | string>([
      ...pngs.map((png, k): [string, Uint8Array] => [
        join(out, pngs.length > 1 ? `albedo-${k + 1}.png` : 'albedo.png'),
        png,
      ]),
      ...(detail?.pngs ?? []).map((png, k): [string, Uint8Array] => [
        join(out, pngs.length > 1 ? `detail-${k + 1}.png` : 'detail.png'),
        png,
      ]),
      ...(ramps ? ([[join(out, 'ramps.png'), ramps.png]] as const) : []),
      ...layered.map((image, k): [string, Uint8Array] => [
        join(out, layered.length > 1 ? `layers-${k + 1}.ora` : 'layers.ora'),
        writeOpenRaster(image),
      ]),
      [join(out, 'model.glb'), glb],
      [join(out, 'report.json'), `${JSON.stringify(report, null, 2)}\n`],
    ]),
  );
  terminal.out(`${JSON.stringify(report)}\n`);
}

/** The detail sheets as the application delivers them where nothing else is chosen. */
function detailOf(engine: Engine): GlbDetail {
  const { surface } = engine;
  const pngs = surface.sheets.map(({ size }, sheet) => {
    const rows = compositeDetail(engine, sheet);
    const whole = finishAlbedo(flattenSurface(surface, sheet), rows, { size, bleed: Infinity });
    return encodePng(inChannels(whole, USUAL_CHANNELS));
  });
  return { pngs, says: detailReport(USUAL_CHANNELS) };
}

/** What of the model lies on the ramp sheet, and the sheet. */
function rampsOf({ document, mesh }: ProjectData) {
  const { ramps, regions } = document;
  if (!ramps || ramps.seats.length === 0) return undefined;
  const facesOf = (id: number): readonly number[] => regions.find((r) => r.id === id)?.faces ?? [];
  const { own, onRamps } = splitSeated(mesh, new RampSeats(mesh).reckon(ramps, facesOf));
  return { own, onRamps, png: encodePng(rampPicture(sheetOfRamps(ramps), ramps.size)) };
}
