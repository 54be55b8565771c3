import { readFileSync } from 'node:fs';
import { PNG } from 'pngjs';
import { checkDelivery, USUAL_CHECK } from '../core/delivery';
import { compositeSheet, Engine, finishAlbedo, flattenSurface, layeredPicture } from '../core/engine';
import { newDocument } from '../core/document';
import { NODE_DEFAULTS } from '../core/layers';
import { readProjectFile } from '../core/project-file';
import { encodePngBeside, writeOpenRasterBeside, writeUnlitGlb, type Picture } from '../core/formats';
import { createWasmKernels } from '../core/kernels';
import { measureSurface } from '../core/surface';
import { limitRow, type Row } from './clock';
import { paintPixels } from './made-project';

const SIZE = 2048;
const LAYERS = 12;

/** The demo's otter with layers painted all over its sheet. */
function painted(): Engine {
  const { mesh } = readProjectFile(new Uint8Array(readFileSync('app/public/demo/otter-cook.zip')));
  const ids = Array.from({ length: LAYERS }, (_, i) => 1 + i);
  return new Engine({
    surface: measureSurface(mesh, SIZE),
    kernels: createWasmKernels(),
    document: {
      ...newDocument('Otter', SIZE),
      layers: ids.map((id) => ({
        ...NODE_DEFAULTS,
        mask: [],
        kind: 'paint' as const,
        id,
        name: `Paint ${id}`,
      })),
      nextId: 100,
    },
    pixels: paintPixels(SIZE, ids),
  });
}

function timed<T>(work: () => T): [made: T, ms: number] {
  const start = performance.now();
  const made = work();
  return [made, performance.now() - start];
}

/** A delivery with all checks, its layers as OpenRaster, and how small its PNG is. */
export async function benchDelivery(): Promise<Row[]> {
  const engine = painted();
  const { mesh } = engine.surface;
  const [albedo, flatten] = timed(() =>
    finishAlbedo(flattenSurface(engine.surface, 0), compositeSheet(engine, 0), {
      size: SIZE,
      bleed: Infinity,
    }),
  );
  const [, check] = timed(() => checkDelivery(mesh, [{ picture: albedo }], USUAL_CHECK));
  const first = performance.now();
  const png = await encodePngBeside(albedo);
  const encode = performance.now() - first;
  const begun = performance.now();
  await writeUnlitGlb(mesh, 'Otter', [png]);
  const write = performance.now() - begun;
  const [image, layers] = timed(() => layeredPicture(engine, 0));
  const second = performance.now();
  await writeOpenRasterBeside(image);
  const ora = performance.now() - second;
  return [
    limitRow(
      `delivery of ${LAYERS} layers at ${SIZE} with all checks (flatten ${flatten.toFixed(0)}, check ${check.toFixed(0)}, PNG ${encode.toFixed(0)} ms)`,
      flatten + check + encode + write,
      6000,
    ),
    limitRow(
      `the same as OpenRaster (layers ${layers.toFixed(0)}, file ${ora.toFixed(0)} ms)`,
      layers + ora,
      4000,
    ),
    ...sizes('painted sheet', albedo, png),
    ...(await demoSizes()),
  ];
}

/** The demo's albedo: what artists deliver is flatter than a bench's gradients. */
async function demoSizes(): Promise<Row[]> {
  const data = readProjectFile(new Uint8Array(readFileSync('app/public/demo/lantern.zip')));
  const surface = measureSurface(
    data.mesh,
    data.document.sheets.map((s) => s.size),
  );
  const engine = new Engine({ ...data, surface, kernels: createWasmKernels() });
  const size = surface.sheets[0]!.size;
  const picture = finishAlbedo(flattenSurface(surface, 0), compositeSheet(engine, 0), {
    size,
    bleed: Infinity,
  });
  return sizes('lantern', picture, await encodePngBeside(picture));
}

/** A PNG beside the smaller of two encoders’ files. */
function sizes(what: string, { rgba, width, height }: Picture, ours: Uint8Array): Row[] {
  const other = new PNG({ width, height });
  other.data = Buffer.from(rgba);
  const pngjs = PNG.sync.write(other, { colorType: 2, deflateLevel: 9 }).length;
  const smallest = Math.min(ours.length, pngjs);
  const kb = (bytes: number): string => `${(bytes / 1000).toFixed(0)} kB`;
  return [
    {
      what: `PNG of the ${what}, beside 1.1 of the smaller of two encoders (pngjs ${kb(pngjs)})`,
      ours: kb(ours.length),
      peer: kb(smallest * 1.1),
      ratio: (smallest * 1.1) / ours.length,
    },
  ];
}
