import { strToU8, zipSync, type Zippable } from 'fflate';
import { encodePng, layersIn, type OraImage, type OraLayer } from '../formats';
import { plainName } from './names';

/** Endings of what is packed already. */
const PACKED = /\.(png|webp|zip|ora)$/i;

/** Files as one zip. What is packed already is only stored. */
export function zipOf(files: readonly (readonly [name: string, bytes: Uint8Array | string])[]): Uint8Array {
  const entries: Zippable = {};
  for (const [name, bytes] of files) {
    entries[name] = [
      typeof bytes === 'string' ? strToU8(bytes) : bytes,
      { level: PACKED.test(name) ? 0 : 6 },
    ];
  }
  return zipSync(entries, { mtime: FIRST_DAY });
}

/** The same files make the same zip: the earliest day that a zip can tell. */
const FIRST_DAY = '1980-01-01T12:00:00';

/**
 * Every layer of a sheet as a PNG of the sheet's size, numbered from the ground up, without its mode and opacity.
 *
 * @param name what stands before the number and the layer's own name
 */
export function layerFiles(
  image: OraImage,
  name: string,
  onProgress?: (done: number) => void,
): [name: string, png: Uint8Array][] {
  const layers = layersIn(image.nodes);
  return layers.map((layer, i) => {
    const whole = { width: image.width, height: image.height, rgba: onWhole(image, layer) };
    const file = `${name}-${String(i + 1).padStart(2, '0')}-${plainName(layer.name).slice(0, 40) || 'layer'}.png`;
    const png = encodePng(whole);
    onProgress?.((i + 1) / layers.length);
    return [file, png];
  });
}

function onWhole({ width, height }: OraImage, { x, y, picture }: OraLayer): Uint8Array {
  const rgba = new Uint8Array(width * height * 4);
  const left = Math.max(0, x);
  const right = Math.min(width, x + picture.width);
  for (let row = Math.max(0, y); row < Math.min(height, y + picture.height); row++) {
    if (right <= left) break;
    const from = ((row - y) * picture.width + left - x) * 4;
    rgba.set(picture.rgba.subarray(from, from + (right - left) * 4), (row * width + left) * 4);
  }
  return rgba;
}
