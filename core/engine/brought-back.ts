import { CoreError } from '../errors';
import {
  decodePng,
  encodePng,
  layersIn,
  pictureKind,
  readOpenRaster,
  type OraImage,
  type OraLayer,
  type Picture,
} from '../formats';
import type { BlendMode } from '../composite';

/** One layer of a file that came back from another program. */
export interface BroughtLayer {
  readonly name: string;
  /** `same`: texel for texel what it was; `changed`: a layer of that name is otherwise here; `new`: there is none of that name. */
  readonly state: 'same' | 'changed' | 'new';
  /** The paint layer that it would take the place of; null if there is none. */
  readonly onto: number | null;
  /** Its pixels as a PNG, and where their upper left corner lies on the sheet. */
  readonly png: Uint8Array;
  readonly x: number;
  readonly y: number;
  readonly opacity: number;
  readonly blend: BlendMode;
}

export interface BroughtBack {
  /** From the ground up. */
  readonly layers: readonly BroughtLayer[];
  readonly notes: readonly string[];
}

export interface BackOptions {
  readonly file: Uint8Array;
  /** Of the file, without its ending. */
  readonly name: string;
  /** The sheet as it would be written now. */
  readonly now: OraImage;
  /** Paint layers that can be replaced: id and name, from the ground up. */
  readonly paint: readonly (readonly [id: number, name: string])[];
}

/**
 * What a file that came back holds, beside what it was written from: an OpenRaster file layer by layer, a PNG as one.
 *
 * @throws CoreError `file-not-a-picture` if it is neither, `file-unsupported` if it isn't as large as the sheet
 */
export function broughtBack({ file, name, now, paint }: BackOptions): BroughtBack {
  const ids = new NamedOnce(paint.map(([id, own]) => [own, id] as const));
  if (pictureKind(file) === 'PNG') {
    const picture = decodePng(file);
    requireSize(picture, now);
    const layer = {
      name,
      opacity: 1,
      visible: true,
      operation: 'svg:src-over',
      kind: 'layer',
      x: 0,
      y: 0,
      picture,
    } as const;
    const onto = ids.take(name);
    return { layers: [brought(layer, onto === null ? 'new' : 'changed', onto)], notes: [] };
  }
  const back = readOpenRaster(file);
  requireSize(back, now);
  const before = new NamedOnce(layersIn(now.nodes).map((layer) => [layer.name, layer] as const));
  const notes = [...back.notes];
  const layers = layersIn(back.nodes).flatMap((layer): BroughtLayer[] => {
    const was = before.take(layer.name);
    const onto = ids.take(layer.name);
    const isSame = was !== null && looksSame(was, layer, now);
    if (layer.operation !== 'svg:dst-in')
      return [brought(layer, isSame ? 'same' : was ? 'changed' : 'new', onto)];
    if (!isSame) notes.push(`“${layer.name}” was changed: masks aren’t brought back.`);
    return [];
  });
  return { layers, notes };
}

function requireSize(found: { readonly width: number; readonly height: number }, now: OraImage): void {
  if (found.width === now.width && found.height === now.height) return;
  throw new CoreError(
    'file-unsupported',
    `The picture is ${found.width} x ${found.height}, but the sheet is ${now.width} x ${now.height}. Save it at the sheet’s size, or change the sheet’s size first.`,
  );
}

/** Things by name; of several with one name each is taken once, in their order. */
class NamedOnce<T> {
  private readonly lists = new Map<string, T[]>();

  constructor(pairs: readonly (readonly [string, T])[]) {
    for (const [name, value] of pairs) this.lists.set(name, [...(this.lists.get(name) ?? []), value]);
  }

  take(name: string): T | null {
    return this.lists.get(name)?.shift() ?? null;
  }
}

function brought(layer: OraLayer, state: BroughtLayer['state'], onto: number | null): BroughtLayer {
  const { name, x, y, opacity, operation } = layer;
  const mode = operation.replace('svg:', '');
  const isMode = !['src-over', 'plus', 'dst-in', 'dst-out', 'src-atop', 'dst-atop'].includes(mode);
  return {
    name: name.slice(0, 80),
    state,
    onto,
    png: encodePng(layer.picture),
    x,
    y,
    opacity,
    blend: isMode ? (mode as BlendMode) : 'normal',
  };
}

/** Whether two layers show the same wherever they show anything on the sheet, however they are cropped. */
function looksSame(a: OraLayer, b: OraLayer, { width, height }: OraImage): boolean {
  const [left, top] = [Math.max(0, Math.min(a.x, b.x)), Math.max(0, Math.min(a.y, b.y))];
  const right = Math.min(width, Math.max(a.x + a.picture.width, b.x + b.picture.width));
  const bottom = Math.min(height, Math.max(a.y + a.picture.height, b.y + b.picture.height));
  for (let y = top; y < bottom; y++)
    for (let x = left; x < right; x++) if (wordAt(a, x, y) !== wordAt(b, x, y)) return false;
  return true;
}

/** A pixel's four channels as one number; 0 where it is transparent, whatever its colour. */
function wordAt(
  { x: left, y: top, picture }: { x: number; y: number; picture: Picture },
  x: number,
  y: number,
): number {
  const [column, row] = [x - left, y - top];
  if (column < 0 || row < 0 || column >= picture.width || row >= picture.height) return 0;
  const o = (row * picture.width + column) * 4;
  const { rgba } = picture;
  return rgba[o + 3] === 0
    ? 0
    : ((rgba[o]! << 24) | (rgba[o + 1]! << 16) | (rgba[o + 2]! << 8) | rgba[o + 3]!) >>> 0;
}
