import { broughtBack, finishAlbedo, inChannels } from '../core/engine';
import { encodePng, writeOpenRaster, writeUnlitGlb } from '../core/formats';
import { splitSeated } from '../core/ramps';
import type { DeliverMethods } from './deliver-protocol';
import { handOver, serve } from './rpc';

serve<DeliverMethods, { progress: number }>(self, (emit) => ({
  albedoPng: ({ surface, rows, size, bleed, alpha }) =>
    handOver(
      encodePng(
        finishAlbedo(surface, rows, { size, bleed, alpha, onProgress: (done) => emit('progress', done) }),
      ),
    ),
  detailPng: ({ surface, rows, size, bleed, channels }) => {
    const how = { size, bleed, onProgress: (done: number) => emit('progress', done) };
    return handOver(encodePng(inChannels(finishAlbedo(surface, rows, how), channels)));
  },
  openRaster: ({ image }) => handOver(writeOpenRaster(image, (done) => emit('progress', done))),
  unlitGlb: async ({ mesh, name, pngs, detail, ramps }) => {
    if (!ramps) return handOver(await writeUnlitGlb(mesh, name, pngs, { detail }));
    const { own, onRamps } = splitSeated(mesh, ramps.seated);
    const png = encodePng(ramps.sheet);
    return handOver(await writeUnlitGlb(own, name, pngs, { detail, ramps: { mesh: onRamps, png } }));
  },
  encodePng: ({ picture }) => handOver(encodePng(picture)),
  broughtBack: (options) => broughtBack(options),
}));
