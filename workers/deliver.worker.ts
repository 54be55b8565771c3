import { checkDelivery, type SheetToCheck } from '../core/checks';
import { encodeTexture, hullOf, layerFiles, plainPicture, zipOf } from '../core/delivery';
import { broughtBack, finishAlbedo, inChannels } from '../core/engine';
import {
  decodeKtx2,
  encodeApng,
  encodeKtx2,
  encodePng,
  layoutPicture,
  writeMtl,
  writeObj,
  writeOpenRasterBeside,
  writeUnlitGlb,
  type Picture,
} from '../core/formats';
import { pieceOnSheet } from '../core/mesh';
import { splitSeated } from '../core/ramps';
import { flatColors } from '../core/set';
import { decodePicture } from './decode-picture';
import type { DeliverMethods } from './deliver-protocol';
import { handOver, serve } from './rpc';

serve<DeliverMethods, { progress: number }>(self, (emit) => ({
  albedo: async ({ surface, rows, size, bleed, alpha, how }) => {
    // Halvings take as long again as all before them.
    const share = how.format === 'ktx2' ? 0.2 : 1;
    const options = { size, bleed, alpha, onProgress: (done: number) => emit('progress', done * share) };
    const picture =
      rows instanceof Uint16Array
        ? finishAlbedo(surface, rows, options)
        : finishAlbedo(surface, rows, options);
    const onProgress = (done: number): void => emit('progress', share + done * (1 - share));
    return handOver(await encodeTexture(picture, { ...how, isColor: true, onProgress }));
  },
  detailPng: ({ surface, rows, size, bleed, channels }) => {
    const how = { size, bleed, onProgress: (done: number) => emit('progress', done) };
    return handOver(encodePng(inChannels(finishAlbedo(surface, rows as Uint8Array, how), channels)));
  },
  openRaster: async ({ image }) =>
    handOver(await writeOpenRasterBeside(image, (done) => emit('progress', done))),
  layerPictures: ({ image, name }) => layerFiles(image, name, (done) => emit('progress', done)),
  unlitGlb: async ({ mesh, name, textures, detail, ramps, hull: outline }) => {
    const hull =
      outline &&
      hullOf(mesh, {
        ...outline,
        ...(outline.details.length > 0 && { widths: outline.details.map(lineWidths) }),
      });
    if (!ramps) return handOver(await writeUnlitGlb(mesh, name, textures, { detail, hull }));
    const { own, onRamps } = splitSeated(mesh, ramps.seated);
    const png = encodePng(ramps.sheet);
    return handOver(
      await writeUnlitGlb(own, name, textures, { detail, hull, ramps: { mesh: onRamps, png } }),
    );
  },
  obj: ({ mesh, name, library, pictures }) => ({
    obj: writeObj(mesh, name, library),
    mtl: writeMtl(name, pictures),
  }),
  layout: ({ mesh, size, sheet }) => {
    const { mesh: own } = pieceOnSheet(mesh, sheet);
    return handOver(encodePng(layoutPicture(own, { size, lines: true, fill: true, colors: new Map() })));
  },
  decodeKtx2: ({ bytes }) => decodeKtx2(bytes),
  encodePng: ({ picture }) => handOver(encodePng(picture)),
  apng: async ({ frames, delay }) => handOver(await encodeApng(frames, delay)),
  flatColors: ({ document, mesh, size, sheet }) => flatColors(document, mesh, size, sheet),
  zip: ({ files }) => handOver(zipOf(files)),
  check: async ({ mesh, sheets, alpha, how, settings, ramps }) => {
    const ready: SheetToCheck[] = [];
    for (const { surface, rows, size, bleed } of sheets) {
      const options = { size, bleed, alpha };
      const finished =
        rows instanceof Uint16Array
          ? finishAlbedo(surface, rows, options)
          : finishAlbedo(surface, rows, options);
      const picture = plainPicture(finished, settings.format);
      emit('progress', (0.3 * (ready.length + 1)) / sheets.length);
      ready.push({ picture, readBack: await readBack(picture, settings) });
    }
    const onProgress = (done: number): void => emit('progress', 0.5 + 0.5 * done);
    return checkDelivery(mesh, ready, how, { onProgress, ramps });
  },
  broughtBack: (options) => broughtBack(options),
}));

/** The outline's width out of the detail sheet, as a grey picture. */
function lineWidths({ size, rows }: { size: number; rows: Uint8Array }) {
  const channels = { r: 'line', g: 'line', b: 'line', a: null } as const;
  return inChannels({ width: size, height: size, rgba: rows }, channels);
}

/** A picture as it is read from the file that it leaves as; left out where nothing is lost. */
async function readBack(
  picture: Picture,
  how: DeliverMethods['check']['params']['settings'],
): Promise<Picture | undefined> {
  if (how.format !== 'ktx2' && how.format !== 'webp-small') return undefined;
  // The halvings tell nothing more.
  if (how.format === 'ktx2')
    return decodeKtx2(await encodeKtx2([picture], { isSrgb: true, effort: how.effort }));
  return (await decodePicture(await encodeTexture(picture, { ...how, isColor: true }))) ?? undefined;
}
