import { strToU8, zipSync, type Zippable } from 'fflate';
import type { Picture } from '../picture';
import { encodePng, encodePngBeside } from './png';

/**
 * How a layer or stack is laid on what lies below (OpenRaster 0.0.5, "Compositing and blending": names of SVG Compositing). Those of the W3C's
 * sixteen modes are all there but exclusion.
 */
export const ORA_OPERATIONS = [
  'svg:src-over',
  'svg:multiply',
  'svg:screen',
  'svg:overlay',
  'svg:darken',
  'svg:lighten',
  'svg:color-dodge',
  'svg:color-burn',
  'svg:hard-light',
  'svg:soft-light',
  'svg:difference',
  'svg:hue',
  'svg:saturation',
  'svg:color',
  'svg:luminosity',
  'svg:plus',
  'svg:dst-in',
  'svg:dst-out',
  'svg:src-atop',
  'svg:dst-atop',
] as const;
export type OraOperation = (typeof ORA_OPERATIONS)[number];

interface OraBase {
  readonly name: string;
  /** 0..1 */
  readonly opacity: number;
  readonly visible: boolean;
  readonly operation: OraOperation;
}

export interface OraLayer extends OraBase {
  readonly kind: 'layer';
  /** Its upper left corner on the image. */
  readonly x: number;
  readonly y: number;
  readonly picture: Picture;
}

export interface OraStack extends OraBase {
  readonly kind: 'stack';
  /** Its layers are composited by themselves first; if not, they blend with what lies below the stack. */
  readonly isolated: boolean;
  /** From the ground up. */
  readonly nodes: readonly OraNode[];
}

export type OraNode = OraLayer | OraStack;

/** Every layer, from the ground up, whatever stack it is in. */
export const layersIn = (nodes: readonly OraNode[]): OraLayer[] =>
  nodes.flatMap((node) => (node.kind === 'layer' ? [node] : layersIn(node.nodes)));

/** A picture of layers as an OpenRaster file holds it. */
export interface OraImage {
  readonly width: number;
  readonly height: number;
  /** From the ground up. */
  readonly nodes: readonly OraNode[];
  /** All of it, as large as the image. */
  readonly merged: Picture;
  /** Merged, no side longer than 256. */
  readonly thumbnail: Picture;
  /** What somebody who opens the file should know of it; kept in the file. */
  readonly notes: readonly string[];
}

const MIMETYPE = 'image/openraster';

/** The earliest time that a zip can tell: the same picture gives the same file. */
const TIME = '1980-01-01T00:00:00';

/**
 * An OpenRaster file (freedesktop.org, OpenRaster 0.0.5): a zip that begins with its type as plain text, `stack.xml` (the topmost layer
 * first), a PNG a layer, the merged picture and a thumbnail; and `notes.txt` if there is something to tell.
 */
export const writeOpenRaster = (image: OraImage): Uint8Array => fileOf(image, encodePng);

/**
 * The same, its pictures deflated beside this thread: see `encodePngBeside`.
 *
 * @param onProgress 0..1
 */
export async function writeOpenRasterBeside(
  image: OraImage,
  onProgress: (done: number) => void = () => undefined,
): Promise<Uint8Array> {
  const pictures = new Set([
    ...layersIn(image.nodes).map((layer) => layer.picture),
    image.thumbnail,
    image.merged,
  ]);
  const pngs = new Map<Picture, Uint8Array>();
  const line = [...pictures];
  // One is deflated while the next is filtered.
  const work = async (): Promise<void> => {
    for (let picture = line.shift(); picture; picture = line.shift()) {
      pngs.set(picture, await encodePngBeside(picture, true));
      onProgress(pngs.size / pictures.size);
    }
  };
  await Promise.all([work(), work()]);
  return fileOf(image, (picture) => pngs.get(picture)!);
}

function fileOf(image: OraImage, pngOf: (picture: Picture) => Uint8Array): Uint8Array {
  const files: Zippable = { mimetype: [strToU8(MIMETYPE), { level: 0 }] };
  let count = 0;
  const picture = (layer: OraLayer): string => {
    const name = `data/layer${String(count++).padStart(3, '0')}.png`;
    files[name] = [pngOf(layer.picture), { level: 0 }];
    return name;
  };
  const stack = nodesXml(image.nodes, picture, '  ');
  const xml = [
    "<?xml version='1.0' encoding='UTF-8'?>",
    `<image version="0.0.5" w="${image.width}" h="${image.height}">`,
    ...image.notes.map((note) => ` <!-- ${note.replaceAll('--', '–')} -->`),
    ' <stack>',
    ...stack,
    ' </stack>',
    '</image>',
    '',
  ].join('\n');
  files['stack.xml'] = strToU8(xml);
  if (image.notes.length > 0) files['notes.txt'] = strToU8(`${image.notes.join('\n')}\n`);
  files['Thumbnails/thumbnail.png'] = [pngOf(image.thumbnail), { level: 0 }];
  files['mergedimage.png'] = [pngOf(image.merged), { level: 0 }];
  return zipSync(files, { level: 6, mtime: TIME });
}

function nodesXml(nodes: readonly OraNode[], picture: (layer: OraLayer) => string, indent: string): string[] {
  return nodes.toReversed().flatMap((node): string[] => {
    const common = [
      attribute('name', node.name),
      attribute('opacity', Number(node.opacity.toFixed(6))),
      attribute('visibility', node.visible ? 'visible' : 'hidden'),
      attribute('composite-op', node.operation),
    ];
    if (node.kind === 'layer') {
      const own = [attribute('src', picture(node)), attribute('x', node.x), attribute('y', node.y)];
      return [`${indent}<layer ${[...common, ...own].join(' ')}/>`];
    }
    const isolation = attribute('isolation', node.isolated ? 'isolate' : 'auto');
    return [
      `${indent}<stack ${[...common, isolation].join(' ')}>`,
      ...nodesXml(node.nodes, picture, `${indent} `),
      `${indent}</stack>`,
    ];
  });
}

const ESCAPES: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };

/** XML 1.0, section 2.2: control characters can't be written at all. */
const attribute = (name: string, value: string | number): string =>
  `${name}="${String(value)
    .replace(/[&<>"]/g, (c) => ESCAPES[c]!)
    .replace(/[\u0000-\u001f\ufffe\uffff]/g, ' ')}"`;
