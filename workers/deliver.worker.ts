import {
  checkDelivery,
  DELIVERY_WORKS,
  encodeTexture,
  finished,
  plainPicture,
  type DeliveryWorks,
  type SheetToCheck,
} from '../core/delivery';
import { broughtBack } from '../core/engine';
import { decodeKtx2, encodeApng, encodeKtx2, type Picture } from '../core/formats';
import { flatColors } from '../core/set';
import { decodePicture } from './decode-picture';
import type { DeliverMethods } from './deliver-protocol';
import { handOver, serve, type Handlers } from './rpc';
import './draco-module';

/** What a delivery consists of, done here. */
const works = (
  emit: (type: 'progress', done: number) => void,
): Handlers<Pick<DeliverMethods, keyof DeliveryWorks>> =>
  Object.fromEntries(
    Object.entries(DELIVERY_WORKS).map(([name, work]) => [
      name,
      async (params: unknown) => {
        const made = await (work as (params: unknown, progress: (done: number) => void) => unknown)(
          params,
          (done) => emit('progress', done),
        );
        return made instanceof Uint8Array ? handOver(made) : made;
      },
    ]),
  ) as never;

serve<DeliverMethods, { progress: number }>(self, (emit) => ({
  ...works(emit),
  decodeKtx2: ({ bytes }) => decodeKtx2(bytes),
  apng: async ({ frames, delay }) => handOver(encodeApng(frames, delay)),
  flatColors: ({ document, mesh, size, sheet }) => flatColors(document, mesh, size, sheet),
  check: async ({ mesh, sheets, alpha, how, settings, ramps }) => {
    const ready: SheetToCheck[] = [];
    for (const { surface, rows, size, bleed } of sheets) {
      const picture = plainPicture(finished({ surface, rows, size, bleed }, alpha), settings.format);
      emit('progress', (0.3 * (ready.length + 1)) / sheets.length);
      ready.push({ picture, readBack: await readBack(picture, settings) });
    }
    const onProgress = (done: number): void => emit('progress', 0.5 + 0.5 * done);
    return checkDelivery(mesh, ready, how, { onProgress, ramps });
  },
  broughtBack: (options) => broughtBack(options),
}));

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
