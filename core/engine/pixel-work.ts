import { hexToRgb } from '../color';
import { CoreError } from '../errors';
import {
  detailOf,
  findNode,
  goesInto,
  levelOf,
  placeOf,
  planesGone,
  planesOf,
  requireNode,
  type ProjectDocument,
  type SingleCommand,
} from '../document';
import { isPaintedMask, kindOf, planeOf, type Channel } from '../layers';
import { type PixelStore, type TileState, isEmptyTile } from '../pixels';
import {
  codesOfTile,
  filledTiles,
  texelIndex,
  TILE,
  TILE_BYTES,
  TILE_TEXELS,
  tileCount,
  tilesAcross,
  type SurfaceMap,
} from '../surface';
import { decodePng } from '../formats';
import { filledAlong } from './fill-along';
import { flooded, laidOver } from './flood';
import type { Picture } from './picture';

/** What a command does to pixels, as states of tiles after it, and the planes that aren't only their strokes from then on. */
export interface PixelWork {
  readonly tiles: readonly TileState[];
  readonly rebased: readonly number[];
}

export const NO_PIXEL_WORK: PixelWork = { tiles: [], rebased: [] };

interface Work {
  readonly before: ProjectDocument;
  readonly after: ProjectDocument;
  /** Ids that the command gave. */
  readonly ids: readonly number[];
  readonly pixels: PixelStore;
  readonly surface: SurfaceMap;
  readonly picture: Picture;
  /** What the command came with. */
  readonly files: readonly Uint8Array[];
}

/**
 * The pixel side of a command, reckoned before anything is changed.
 *
 * @throws CoreError `bad-argument` if it can't be done; the sentence says why
 */
export function pixelWork(command: SingleCommand, work: Work): PixelWork {
  const { before, after, ids, pixels } = work;
  switch (command.do) {
    case 'add-layer': {
      if (command.copyPixelsOf === undefined) return NO_PIXEL_WORK;
      const [from, to] = [planeOf(command.copyPixelsOf), planeOf(ids[0]!)];
      return { tiles: copies(pixels, from, to), rebased: [to] };
    }
    case 'duplicate-layers':
      return duplicates(work);
    case 'remove-layers':
    case 'patch-layer':
    case 'ungroup':
      return { tiles: planesGone(before, after).flatMap((plane) => emptied(pixels, plane)), rebased: [] };
    case 'fill':
      return fill(work, command);
    case 'flood': {
      const plane = paintedPlane(before, command.layer, command.channel);
      const keepAlpha =
        command.channel === 'pixels' && findNode(before.layers, command.layer)?.lock === 'transparent';
      const { tolerance, everywhere, except } = command;
      const rgbaOf = (tile: number): Uint8Array => {
        const bytes = new Uint8Array(TILE_BYTES);
        work.picture.composite(tile, bytes, detailOf(before.layers, command.layer));
        return bytes;
      };
      const area = flooded(work.surface, command.texel, { tolerance, everywhere, except, rgbaOf });
      const present = (tile: number): Uint8Array | undefined => pixels.get(plane, tile);
      return { tiles: laidOver(area, command.color, plane, present, keepAlpha), rebased: [plane] };
    }
    case 'fill-along': {
      const plane = paintedPlane(before, command.layer, 'pixels');
      const from = paintedPlane(before, command.from, 'pixels');
      return { tiles: filledAlong(work.surface, (tile) => pixels.get(from, tile), plane), rebased: [plane] };
    }
    case 'clear': {
      const plane = paintedPlane(before, command.layer, command.channel);
      return { tiles: emptied(pixels, plane), rebased: [plane] };
    }
    case 'put-picture': {
      const plane = command.onto === null ? planeOf(ids[0]!) : paintedPlane(before, command.onto, 'pixels');
      return { tiles: laidPicture(work, command, plane), rebased: [plane] };
    }
    case 'merge-down':
      return mergeDown(work, command.layer);
    case 'merge-visible':
      return { tiles: whole(work, planeOf(ids[0]!)), rebased: [planeOf(ids[0]!)] };
    case 'flatten': {
      const gone = planesGone(before, after).flatMap((plane) => emptied(pixels, plane));
      return { tiles: [...gone, ...whole(work, planeOf(ids[0]!))], rebased: [planeOf(ids[0]!)] };
    }
    default:
      return NO_PIXEL_WORK;
  }
}

/**
 * The plane that strokes on a layer's channel go to.
 *
 * @throws CoreError `layer-missing`, or `bad-argument` if nothing can be painted there
 */
export function paintedPlane(document: ProjectDocument, id: number, channel: Channel): number {
  const node = requireNode(document.layers, id);
  if (channel === 'mask') {
    if (!isPaintedMask(node.mask)) {
      throw new CoreError(
        'bad-argument',
        `The mask of “${node.name}” has no painted step. Add one to paint on it.`,
      );
    }
    return planeOf(id, 'mask');
  }
  if (node.kind === 'group' || kindOf(node).form !== 'pixels') {
    throw new CoreError(
      'bad-argument',
      `“${node.name}” is not a paint layer. Choose or add one to paint on.`,
    );
  }
  if (node.lock === 'pixels') {
    throw new CoreError(
      'bad-argument',
      `The pixels of “${node.name}” are locked. Unlock them to paint on it.`,
    );
  }
  return planeOf(id);
}

const emptied = (pixels: PixelStore, plane: number): TileState[] =>
  pixels.tiles(plane).map((tile) => ({ plane, tile, bytes: null }));

const copies = (pixels: PixelStore, from: number, to: number): TileState[] =>
  [...pixels.states(from)].map(({ tile, bytes }) => ({ plane: to, tile, bytes }));

function duplicates({ after, ids, pixels }: Work): PixelWork {
  const fresh = new Set(ids);
  const tiles: TileState[] = [];
  const rebased: number[] = [];
  for (const id of ids) {
    const original = originalOf(after, id, fresh);
    for (const channel of ['pixels', 'mask'] as const) {
      const states = copies(pixels, planeOf(original, channel), planeOf(id, channel));
      if (states.length === 0) continue;
      tiles.push(...states);
      rebased.push(planeOf(id, channel));
    }
  }
  return { tiles, rebased };
}

/** The node that a copy was made of: a copied tree stands right above the one that it was made of. */
function originalOf(after: ProjectDocument, id: number, fresh: ReadonlySet<number>): number {
  // Climb to the top of the copied tree, remembering the way.
  const way: number[] = [];
  let { into, at } = placeOf(after.layers, id);
  while (into !== null && fresh.has(into)) {
    way.unshift(at);
    ({ into, at } = placeOf(after.layers, into));
  }
  let node = levelOf(after.layers, into)[at - 1]!;
  for (const step of way) node = node.kind === 'group' ? node.layers[step]! : node;
  return node.id;
}

function fill(
  { before, pixels, surface }: Work,
  { layer, channel, color, region, except }: Extract<SingleCommand, { do: 'fill' }>,
): PixelWork {
  const plane = paintedPlane(before, layer, channel);
  const found = region === undefined ? null : before.regions.find((r) => r.id === region);
  if (found === undefined) throw new CoreError('bad-argument', 'That region is no longer there.');
  const inside = found && new Set(found.faces);
  const { parts, faceParts } = surface.mesh;
  const leaves = new Set(except.map((name) => parts.indexOf(name)));
  const { r, g, b } = hexToRgb(color);
  const word = (r | (g << 8) | (b << 16) | 0xff000000) >>> 0;
  const keepAlpha = findNode(before.layers, layer)?.lock === 'transparent' && channel === 'pixels';
  const tiles = filledTiles(surface).flatMap((tile): TileState[] => {
    const codes = codesOfTile(surface, tile)!;
    const present = pixels.get(plane, tile);
    if (keepAlpha && !present) return [];
    const out = present ? present.slice() : new Uint8Array(TILE_BYTES);
    const words = new Uint32Array(out.buffer);
    for (let i = 0; i < TILE_TEXELS; i++) {
      if (codes[i]! < 0 || (inside && !inside.has(codes[i]! >> 2))) continue;
      if (leaves.size > 0 && leaves.has(faceParts[codes[i]! >> 2]!)) continue;
      if (!keepAlpha) words[i] = word;
      else if (out[i * 4 + 3]! > 0) words[i] = ((word & 0xffffff) | (out[i * 4 + 3]! << 24)) >>> 0;
    }
    // Nothing of it may have been filled.
    return isEmptyTile(out) && !present ? [] : [{ plane, tile, bytes: out }];
  });
  return { tiles, rebased: [plane] };
}

/** A picture's texels on a sheet's tiles, as far as the surface covers them; tiles without any are empty afterwards. */
function laidPicture(
  { surface, pixels, files }: Work,
  { sheet, x, y, file: which }: Extract<SingleCommand, { do: 'put-picture' }>,
  plane: number,
): TileState[] {
  const own = surface.sheets[sheet];
  if (!own) throw new CoreError('bad-argument', 'That sheet is no longer there.');
  const file = files[which];
  if (!file) throw new CoreError('bad-argument', 'The picture is missing. Choose its file again.');
  const picture = decodePng(file);
  const from = new Uint32Array(picture.rgba.buffer, picture.rgba.byteOffset, picture.width * picture.height);
  const { size, firstTile } = own;
  return filledTiles(surface).flatMap((tile): TileState[] => {
    const t = tile - firstTile;
    if (t < 0 || t >= tileCount(size)) return [];
    const codes = codesOfTile(surface, tile)!;
    const out = new Uint8Array(TILE_BYTES);
    const words = new Uint32Array(out.buffer);
    for (let row = 0; row < TILE; row++) {
      const py = Math.floor(t / tilesAcross(size)) * TILE + row - y;
      if (py < 0 || py >= picture.height) continue;
      for (let column = 0; column < TILE; column++) {
        const px = (t % tilesAcross(size)) * TILE + column - x;
        if (px < 0 || px >= picture.width) continue;
        const i = texelIndex(TILE, column, row);
        const word = from[py * picture.width + px]!;
        // What is wholly transparent has no colour.
        if (codes[i]! >= 0 && word >>> 24 > 0) words[i] = word;
      }
    }
    const isEmpty = isEmptyTile(out);
    return isEmpty && !pixels.get(plane, tile) ? [] : [{ plane, tile, bytes: isEmpty ? null : out }];
  });
}

function mergeDown({ before, pixels, surface, picture }: Work, id: number): PixelWork {
  const top = requireNode(before.layers, id);
  const { into, at } = placeOf(before.layers, id);
  if (goesInto(top) !== null) {
    throw new CoreError(
      'bad-argument',
      `“${top.name}” goes into the detail sheet, so it can’t be merged into the albedo.`,
    );
  }
  const below = levelOf(before.layers, into)[at - 1];
  if (!below || below.kind === 'group' || kindOf(below).form !== 'pixels') {
    throw new CoreError(
      'bad-argument',
      `Under “${top.name}” there is no paint layer to merge into. Put one there, or use “Merge what shows”.`,
    );
  }
  if (below.lock !== 'none') {
    throw new CoreError('bad-argument', `“${below.name}” is locked. Unlock it to merge into it.`);
  }
  if (below.mask.length > 0 || below.opacity < 1 || below.blend !== 'normal' || !below.visible) {
    throw new CoreError(
      'bad-argument',
      `“${below.name}” would look different with “${top.name}” merged into it, since it has a mask, an opacity or a blend mode of its own. Use “Merge what shows” instead.`,
    );
  }
  const plane = planeOf(below.id);
  const pair = [below, { ...top, clip: top.clip }];
  const tiles = filledTiles(surface).flatMap((tile): TileState[] => {
    const out = new Uint8Array(TILE_BYTES);
    picture.compositeNodes(pair, tile, out);
    if (isEmptyTile(out) && !pixels.has(plane, tile)) return [];
    return [{ plane, tile, bytes: isEmptyTile(out) ? null : out }];
  });
  const gone = planesOf({ layers: [top] }).flatMap((p) => emptied(pixels, p));
  return { tiles: [...gone, ...tiles], rebased: [plane] };
}

/** The whole picture as a plane. */
function whole({ surface, picture }: Work, plane: number): TileState[] {
  return filledTiles(surface).flatMap((tile) => {
    const bytes = new Uint8Array(TILE_BYTES);
    picture.composite(tile, bytes, null);
    return isEmptyTile(bytes) ? [] : [{ plane, tile, bytes }];
  });
}
