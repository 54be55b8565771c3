import { XMLParser } from 'fast-xml-parser';
import { strFromU8 } from 'fflate';
import { z } from 'zod';
import { CoreError } from '../errors';
import { ORA_OPERATIONS, type OraNode, type OraOperation } from './openraster';
import { decodePng, MAX_PICTURE_SIDE, readPngHeader } from './png-read';
import { readZip } from './zip-read';

/** What an OpenRaster file holds. */
export interface ReadOra {
  readonly width: number;
  readonly height: number;
  /** From the ground up. */
  readonly nodes: readonly OraNode[];
  /** What was found that is taken otherwise than it says, a sentence each. */
  readonly notes: readonly string[];
}

const ORA = { code: 'file-not-a-picture', name: 'OpenRaster file' } as const;

/** Bytes of the list of layers, of a picture, and of all that is read. */
const [LARGEST_XML, LARGEST_PICTURE, LARGEST_TOTAL] = [4e6, 512e6, 2e9];

/** Pixels of all layers together: 1 GB once they are unpacked. */
const MOST_PIXELS = 268e6;

/** Stacks in stacks, and layers, that are read at the most. */
const [DEEPEST, MOST_LAYERS] = [32, 2000];

const number = z.coerce.number();
const imageSchema = z.object({
  w: number.int().min(1).max(MAX_PICTURE_SIDE),
  h: number.int().min(1).max(MAX_PICTURE_SIDE),
});
const offset = number.int().min(-65_536).max(65_536).catch(0);
const nodeSchema = z.object({
  name: z.string().catch(''),
  opacity: number.min(0).max(1).catch(1),
  visibility: z.string().catch('visible'),
  'composite-op': z.string().catch('svg:src-over'),
  isolation: z.string().catch('auto'),
  src: z.string().catch(''),
  x: offset,
  y: offset,
});

/** One element as the parser gives it: its name with its children, and its attributes. */
type XmlNode = Readonly<Record<string, unknown>>;

const ATTRIBUTES = ':@';

/**
 * Reads an OpenRaster file, also one that another program wrote.
 *
 * @throws CoreError `file-not-a-picture` if it is none, or not whole; `file-unsupported` if it is larger than can be read
 */
export function readOpenRaster(bytes: Uint8Array): ReadOra {
  const files = readZip(
    bytes,
    {
      entry: (name) =>
        name === 'stack.xml' || name === 'mimetype'
          ? LARGEST_XML
          : name.endsWith('.png')
            ? LARGEST_PICTURE
            : 0,
      total: LARGEST_TOTAL,
    },
    ORA,
  );
  const xml = files.get('stack.xml');
  if (!xml)
    throw new CoreError(
      ORA.code,
      'The OpenRaster file has no list of its layers (stack.xml). Export it again.',
    );
  const image = parsed(strFromU8(xml));
  const size = imageSchema.safeParse(image[ATTRIBUTES] ?? {});
  if (!size.success)
    throw new CoreError(
      'file-unsupported',
      `The OpenRaster file doesn’t say how large it is, or is larger than ${MAX_PICTURE_SIDE} a side.`,
      { cause: size.error },
    );
  const reader = new StackReader(files);
  const nodes = reader.children(childrenOf(image, 'image').find((node) => 'stack' in node) ?? {}, 'stack', 0);
  return { width: size.data.w, height: size.data.h, nodes, notes: [...reader.notes] };
}

function parsed(text: string): XmlNode {
  const broken = (cause?: unknown): CoreError =>
    new CoreError(ORA.code, 'The list of layers in the OpenRaster file can’t be read. Export it again.', {
      cause,
    });
  // Entities of one's own can make a small file endlessly large.
  if (/<!(DOCTYPE|ENTITY)/i.test(text)) throw broken();
  try {
    const parser = new XMLParser({
      preserveOrder: true,
      ignoreAttributes: false,
      attributeNamePrefix: '',
      parseAttributeValue: false,
    });
    const root = (parser.parse(text, true) as XmlNode[]).find((node) => 'image' in node);
    if (root) return root;
  } catch (cause) {
    throw broken(cause);
  }
  throw broken();
}

const childrenOf = (node: XmlNode, tag: string): readonly XmlNode[] =>
  Array.isArray(node[tag]) ? (node[tag] as XmlNode[]) : [];

class StackReader {
  readonly notes = new Set<string>();
  private readonly files: ReadonlyMap<string, Uint8Array>;
  private count = 0;
  private pixels = 0;

  constructor(files: ReadonlyMap<string, Uint8Array>) {
    this.files = files;
  }

  /** What lies in a stack, from the ground up. */
  children(node: XmlNode, tag: string, depth: number): OraNode[] {
    if (depth > DEEPEST)
      throw new CoreError(
        'file-unsupported',
        `The OpenRaster file has stacks in more than ${DEEPEST} stacks. Flatten some.`,
      );
    return childrenOf(node, tag)
      .toReversed()
      .flatMap((child): OraNode[] => {
        const own = nodeSchema.parse(child[ATTRIBUTES] ?? {});
        const how = {
          name: own.name || 'Layer',
          opacity: own.opacity,
          visible: own.visibility !== 'hidden',
          operation: this.operation(own.name, own['composite-op']),
        };
        if ('stack' in child) {
          const isolated = own.isolation === 'isolate' || how.opacity < 1 || how.operation !== 'svg:src-over';
          return [{ ...how, kind: 'stack', isolated, nodes: this.children(child, 'stack', depth + 1) }];
        }
        if (!('layer' in child)) {
          if ('text' in child) this.notes.add(`“${how.name}” is text, which isn’t read.`);
          return [];
        }
        if (++this.count > MOST_LAYERS)
          throw new CoreError(
            'file-unsupported',
            `The OpenRaster file has more than ${MOST_LAYERS} layers. Merge some.`,
          );
        return [{ ...how, kind: 'layer', x: own.x, y: own.y, picture: this.picture(how.name, own.src) }];
      });
  }

  private operation(name: string, found: string): OraOperation {
    const known = ORA_OPERATIONS.find((op) => op === found);
    if (!known)
      this.notes.add(
        `“${name}” is laid as “${found}”, which isn’t known here: it is taken as laid normally.`,
      );
    return known ?? 'svg:src-over';
  }

  private picture(name: string, src: string) {
    const file = this.files.get(src);
    if (!file)
      throw new CoreError(
        ORA.code,
        `The OpenRaster file lacks the pixels of “${name}” (${src || 'no file named'}). Export it again.`,
      );
    const { width, height, depth } = readPngHeader(file);
    this.pixels += width * height;
    if (this.pixels > MOST_PIXELS)
      throw new CoreError(
        'file-unsupported',
        `The layers of the OpenRaster file come to more than ${MOST_PIXELS / 1e6} million pixels. Crop or merge some.`,
      );
    if (depth === 16) this.notes.add(`“${name}” has 16 bits a channel: it is rounded to 8.`);
    return decodePng(file);
  }
}
