import { strFromU8, unzipSync } from 'fflate';
import { JSDOM } from 'jsdom';
import { PNG } from 'pngjs';

/**
 * An OpenRaster file opened and composited by nothing of this project: a zip reader, a browser's XML parser, pngjs, and the formulas of W3C
 * Compositing and Blending Level 1, written down here once more.
 */
export interface RebuiltOra {
  readonly names: readonly string[];
  readonly files: Readonly<Record<string, Uint8Array>>;
  readonly root: Element;
  readonly merged: PNG;
  /** All layers on one another, straight RGBA 0..255, not rounded. */
  readonly rebuilt: Float64Array;
}

const png = (bytes: Uint8Array): PNG => PNG.sync.read(Buffer.from(bytes));

export function rebuildOra(bytes: Uint8Array): RebuiltOra {
  const files = unzipSync(bytes);
  const { document } = new JSDOM(strFromU8(files['stack.xml']!), { contentType: 'text/xml' }).window;
  const root = document.documentElement;
  const [w, h] = [Number(root.getAttribute('w')), Number(root.getAttribute('h'))];
  const below = new Float64Array(w * h * 4);
  layStack(root.querySelector('stack')!, below, files, w);
  const rebuilt = below.map((x, i) => {
    const alpha = below[i - (i % 4) + 3]!;
    return i % 4 === 3 ? x * 255 : alpha > 0 ? (x / alpha) * 255 : 0;
  });
  return { names: Object.keys(files), files, root, merged: png(files['mergedimage.png']!), rebuilt };
}

/** What a file's pixels differ from what its layers come to, in 1/255, where there is anything. */
export function worstDifference({ merged, rebuilt }: RebuiltOra): number {
  let worst = 0;
  rebuilt.forEach((x, i) => {
    const alpha = merged.data[i - (i % 4) + 3]!;
    if (i % 4 === 3 || alpha > 0) worst = Math.max(worst, Math.abs(x - merged.data[i]!));
  });
  return worst;
}

/** @param below premultiplied, 0..1 */
function layStack(stack: Element, below: Float64Array, files: RebuiltOra['files'], w: number): void {
  for (const node of [...stack.children].reverse()) {
    if (node.getAttribute('visibility') === 'hidden') continue;
    const opacity = Number(node.getAttribute('opacity') ?? 1);
    const operation = node.getAttribute('composite-op') ?? 'svg:src-over';
    if (node.tagName === 'layer') {
      lay(below, pixelsOf(node, files, below.length, w), opacity, operation);
      continue;
    }
    const isAuto = node.getAttribute('isolation') === 'auto' && opacity === 1 && operation === 'svg:src-over';
    if (isAuto) layStack(node, below, files, w);
    else {
      const own = new Float64Array(below.length);
      layStack(node, own, files, w);
      lay(below, own, opacity, operation);
    }
  }
}

function pixelsOf(node: Element, files: RebuiltOra['files'], length: number, w: number): Float64Array {
  const out = new Float64Array(length);
  const { width, height, data } = png(files[node.getAttribute('src')!]!);
  const [x, y] = [Number(node.getAttribute('x') ?? 0), Number(node.getAttribute('y') ?? 0)];
  for (let row = 0; row < height; row++) {
    for (let column = 0; column < width; column++) {
      const [from, to] = [(row * width + column) * 4, ((y + row) * w + x + column) * 4];
      const alpha = data[from + 3]! / 255;
      for (let k = 0; k < 3; k++) out[to + k] = (data[from + k]! / 255) * alpha;
      out[to + 3] = alpha;
    }
  }
  return out;
}

/** Sections 5 (Porter and Duff) and 10 (blending), on premultiplied colours. */
function lay(below: Float64Array, above: Float64Array, opacity: number, operation: string): void {
  const mode = operation.replace('svg:', '');
  for (let i = 0; i < below.length; i += 4) {
    const [as, ab] = [above[i + 3]! * opacity, below[i + 3]!];
    const source = [0, 1, 2].map((k) => above[i + k]! * opacity);
    if (mode === 'dst-in') {
      for (let k = 0; k < 4; k++) below[i + k]! *= as;
      continue;
    }
    const straight = (c: readonly number[], a: number): number[] => c.map((x) => (a > 0 ? x / a : 0));
    const mixed = blended(mode, straight([...below.subarray(i, i + 3)], ab), straight(source, as));
    const isAtop = mode === 'src-atop';
    for (let k = 0; k < 3; k++) {
      const own = isAtop ? source[k]! * ab : source[k]! * (1 - ab) + as * ab * mixed[k]!;
      below[i + k] = own + below[i + k]! * (1 - as);
    }
    below[i + 3] = isAtop ? ab : as + ab * (1 - as);
  }
}

function blended(mode: string, cb: number[], cs: number[]): number[] {
  switch (mode) {
    case 'hue':
      return withLum(withSat(cs, sat(cb)), lum(cb));
    case 'saturation':
      return withLum(withSat(cb, sat(cs)), lum(cb));
    case 'color':
      return withLum(cs, lum(cb));
    case 'luminosity':
      return withLum(cb, lum(cs));
    default:
      return cs.map((s, k) => channel(mode, cb[k]!, s));
  }
}

function channel(mode: string, b: number, s: number): number {
  const hard = (under: number, over: number): number =>
    over <= 0.5 ? under * 2 * over : under + 2 * over - 1 - under * (2 * over - 1);
  switch (mode) {
    case 'multiply':
      return b * s;
    case 'screen':
      return b + s - b * s;
    case 'overlay':
      return hard(s, b);
    case 'darken':
      return Math.min(b, s);
    case 'lighten':
      return Math.max(b, s);
    case 'color-dodge':
      return b === 0 ? 0 : s === 1 ? 1 : Math.min(1, b / (1 - s));
    case 'color-burn':
      return b === 1 ? 1 : s === 0 ? 0 : 1 - Math.min(1, (1 - b) / s);
    case 'hard-light':
      return hard(b, s);
    case 'soft-light': {
      if (s <= 0.5) return b - (1 - 2 * s) * b * (1 - b);
      const d = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b);
      return b + (2 * s - 1) * (d - b);
    }
    case 'difference':
      return Math.abs(b - s);
    case 'src-over':
      return s;
    case 'src-atop':
      return s;
    default:
      throw new Error(`An operation that no reader of the standard knows: ${mode}`);
  }
}

const lum = (c: readonly number[]): number => 0.3 * c[0]! + 0.59 * c[1]! + 0.11 * c[2]!;
const sat = (c: readonly number[]): number => Math.max(...c) - Math.min(...c);

function withLum(c: readonly number[], l: number): number[] {
  const d = l - lum(c);
  const out = c.map((x) => x + d);
  const own = lum(out);
  const [n, x] = [Math.min(...out), Math.max(...out)];
  if (n < 0) return out.map((v) => own + ((v - own) * own) / (own - n));
  if (x > 1) return out.map((v) => own + ((v - own) * (1 - own)) / (x - own));
  return out;
}

function withSat(c: readonly number[], s: number): number[] {
  const [least, most] = [Math.min(...c), Math.max(...c)];
  return c.map((x) => (most > least ? ((x - least) * s) / (most - least) : 0));
}
