import type { BlendMode } from '../../composite';
import {
  clipRuns,
  isBoundless,
  isChange,
  isGroup,
  nodesFor,
  type ClipRun,
  type Group,
  type LayerNode,
} from '../../document';
import type { OraImage, OraLayer, OraNode, OraOperation, Picture } from '../../formats';
import type { Layer } from '../../layers';
import { TILE_TEXELS } from '../../surface';
import type { Engine } from '../engine';
import { sheetRows } from './flatten';
import { resamplePicture } from '../../picture';

/** No side of a thumbnail is longer. */
const THUMBNAIL = 256;

/** What of a build-up is to be written. */
export interface LayeredOptions {
  readonly onProgress?: (done: number) => void;
}

/**
 * One sheet of a build-up as OpenRaster can hold it: every layer with its own pixels, groups, masks, modes and opacities. A mask becomes a layer
 * that keeps what lies under it within its alpha (`svg:dst-in`), in a stack of its own; what is clipped keeps to what it is clipped to
 * (`svg:src-atop`). What the standard hasn't is flattened together with what lies under it, and told in the notes; the layers that went
 * into it stay in the file, hidden.
 */
export function layeredPicture(engine: Engine, sheet: number, options: LayeredOptions = {}): OraImage {
  const { size } = engine.surface.sheets[sheet]!;
  const writer = new LayerWriter(engine, sheet, options.onProgress);
  const nodes = writer.level(nodesFor(engine.document.layers, null));
  const merged = writer.rows((tile, out) => engine.compositeTile(tile, out));
  const thumbnail = size > THUMBNAIL ? resamplePicture(merged, THUMBNAIL) : merged;
  return { width: size, height: size, nodes, merged, thumbnail, notes: writer.notes };
}

/** The standard's name for a mode; null if it has none. */
const operationOf = (mode: BlendMode): OraOperation | null =>
  mode === 'normal' ? 'svg:src-over' : mode === 'exclusion' ? null : `svg:${mode}`;

const shows = (node: LayerNode): boolean => node.visible && node.opacity > 0;

/** Whether all that a group holds is laid as paint is: then it may be composited by itself first, and comes to the same. */
const isPlain = (nodes: readonly LayerNode[]): boolean =>
  nodes
    .filter(shows)
    .every(
      (node) =>
        !isChange(node) &&
        node.blend === 'normal' &&
        (!isGroup(node) || node.isolated || isPlain(node.layers)),
    );

class LayerWriter {
  readonly notes: string[] = [];
  private readonly engine: Engine;
  private readonly sheet: number;
  private readonly onProgress: ((done: number) => void) | undefined;
  private made = 0;
  /** Within what is hidden nothing more is told. */
  private isHidden = false;

  constructor(engine: Engine, sheet: number, onProgress?: (done: number) => void) {
    this.engine = engine;
    this.sheet = sheet;
    this.onProgress = onProgress;
  }

  rows(make: (tile: number, out: Uint8Array) => void): Picture {
    const { size } = this.engine.surface.sheets[this.sheet]!;
    return { width: size, height: size, rgba: sheetRows(this.engine, this.sheet, make) };
  }

  /** Nodes that are laid on one another, from the ground up. */
  level(nodes: readonly LayerNode[]): OraNode[] {
    const parts = clipRuns(nodes);
    const last = parts.findLastIndex((part) => shows(part.base) && this.reasonOf(part) !== null);
    if (last < 0 || this.isHidden) return parts.flatMap((part) => this.part(part));
    const under = parts.slice(0, last + 1);
    const flat = under.flatMap(({ base, clipped }) => [base, ...clipped]);
    const top = parts[last]!;
    this.notes.push(
      `${this.reasonOf(top)!} It and what lies under it (${under.length} in all) are flattened into one layer here; the layers themselves are below, hidden.`,
    );
    this.isHidden = true;
    const kept = under.flatMap((part) => this.part(part));
    this.isHidden = false;
    return [
      ...(kept.length > 0
        ? [
            {
              ...PLAIN,
              kind: 'stack',
              name: `Under “${top.base.name}”`,
              visible: false,
              isolated: true,
              nodes: kept,
            } as const,
          ]
        : []),
      ...this.layer(`Up to “${top.base.name}”, flattened`, (tile, out) =>
        this.engine.compositeNodes(flat, tile, out),
      ),
      ...parts.slice(last + 1).flatMap((part) => this.part(part)),
    ];
  }

  /** Why the standard can't hold something as it is; null if it can. */
  private reasonOf({ base, clipped }: ClipRun): string | null {
    if (isChange(base))
      return `“${base.name}” changes the colours under it, and OpenRaster has no layers that do.`;
    if (operationOf(base.blend) === null)
      return `“${base.name}” is laid as ${base.blend}, which OpenRaster hasn’t.`;
    if (!isGroup(base)) return null;
    const isThrough = !base.isolated && base.blend === 'normal' && clipped.length === 0;
    if (!isThrough || isPlain(base.layers)) return null;
    if (base.opacity < 1 || base.mask.length > 0)
      return `“${base.name}” lets what lies under it through with ${base.mask.length > 0 ? 'a mask' : 'less than full opacity'}, which OpenRaster can’t.`;
    const inner = clipRuns(base.layers).find((part) => shows(part.base) && this.reasonOf(part) !== null);
    return inner ? this.reasonOf(inner) : null;
  }

  private part({ base, clipped }: ClipRun): OraNode[] {
    const operation = operationOf(base.blend) ?? 'svg:src-over';
    const how = { opacity: base.opacity, visible: base.visible, operation };
    if (clipped.length === 0) return this.node(base, how);
    const plain = { opacity: 1, visible: true, operation: 'svg:src-over' } as const;
    // Of a mode and of keeping to what lies below the standard has one at a time.
    const last = clipped.findLastIndex((node) => shows(node) && (node.blend !== 'normal' || isChange(node)));
    const flat = clipped.slice(0, last + 1);
    if (flat.length > 0 && !this.isHidden)
      this.notes.push(
        `${flat.map((node) => `“${node.name}”`).join(', ')} ${flat.length > 1 ? 'are' : 'is'} clipped to “${base.name}” and laid in a mode of its own, which OpenRaster can’t: ${flat.length > 1 ? 'they are' : 'it is'} flattened into that.`,
      );
    const ground =
      flat.length > 0
        ? this.layer(base.name, (tile, out) =>
            this.engine.compositeNodes([{ ...base, blend: 'normal', opacity: 1 }, ...flat], tile, out),
          )
        : this.node(base, plain);
    const over = clipped
      .slice(last + 1)
      .flatMap((node) =>
        this.node(node, { opacity: node.opacity, visible: node.visible, operation: 'svg:src-atop' }),
      );
    return [{ kind: 'stack', name: base.name, ...how, isolated: true, nodes: [...ground, ...over] }];
  }

  private node(node: LayerNode, how: Pick<OraNode, 'opacity' | 'visible' | 'operation'>): OraNode[] {
    if (isChange(node)) return [];
    if (isGroup(node)) return this.group(node, how);
    const isWhole = isBoundless(node) || node.mask.length === 0;
    const [own] = this.layer(node.name, (tile, out) =>
      isWhole
        ? this.engine.compositeNodes([plainly(node)], tile, out)
        : this.engine.sourceTile(node, tile, out),
    );
    if (!own) return [];
    if (isWhole) return [{ ...own, ...how }];
    return [{ kind: 'stack', name: node.name, ...how, isolated: true, nodes: [own, ...this.mask(node)] }];
  }

  private group(group: Group, how: Pick<OraNode, 'opacity' | 'visible' | 'operation'>): OraNode[] {
    const nodes = this.level(group.layers);
    if (nodes.length === 0) return [];
    const isThrough = !group.isolated && how.operation === 'svg:src-over';
    const isolated = !isThrough || how.opacity < 1 || group.mask.length > 0 || isPlain(group.layers);
    const masks = group.mask.length > 0 ? this.mask(group) : [];
    return [{ kind: 'stack', name: group.name, ...how, isolated, nodes: [...nodes, ...masks] }];
  }

  /** A mask as a layer of which only the alpha counts. */
  private mask(node: LayerNode): OraNode[] {
    const picture = this.rows((tile, out) => {
      const mask = this.engine.maskTile(node, tile);
      for (let i = 0; i < TILE_TEXELS; i++) {
        const value = mask === null ? 255 : mask === 'none' ? 0 : Math.floor(mask[i]! / 257 + 0.5);
        if (value > 0) out.fill(255, i * 4, i * 4 + 3);
        else out.fill(0, i * 4, i * 4 + 3);
        out[i * 4 + 3] = value;
      }
    });
    // A mask that hides all is there all the same.
    const cut = cropped(picture) ?? { x: 0, y: 0, picture: empty() };
    return [{ ...PLAIN, kind: 'layer', name: `Mask of “${node.name}”`, operation: 'svg:dst-in', ...cut }];
  }

  /** Pixels as a layer; none if there are none. */
  private layer(name: string, make: (tile: number, out: Uint8Array) => void): OraLayer[] {
    const cut = cropped(this.rows(make));
    this.onProgress?.(++this.made);
    return [{ ...PLAIN, kind: 'layer', name, ...(cut ?? { x: 0, y: 0, picture: empty() }) }];
  }
}

const PLAIN = { opacity: 1, visible: true, operation: 'svg:src-over' } as const;

/** A PNG has one pixel at the least. */
const empty = (): Picture => ({ width: 1, height: 1, rgba: new Uint8Array(4) });

const plainly = (node: Layer): Layer => ({
  ...node,
  visible: true,
  opacity: 1,
  blend: 'normal',
  clip: false,
});

/** What of a picture isn't transparent; null if all of it is. */
function cropped({ width, height, rgba }: Picture): { x: number; y: number; picture: Picture } | null {
  const words = new Uint32Array(rgba.buffer, rgba.byteOffset, width * height);
  let [left, right, top, bottom] = [width, -1, height, -1];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (words[y * width + x] === 0) continue;
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      bottom = y;
    }
  }
  if (right < 0) return null;
  const [w, h] = [right - left + 1, bottom - top + 1];
  const out = new Uint8Array(w * h * 4);
  for (let y = 0; y < h; y++) {
    const start = ((top + y) * width + left) * 4;
    out.set(rgba.subarray(start, start + w * 4), y * w * 4);
  }
  return { x: left, y: top, picture: { width: w, height: h, rgba: out } };
}
