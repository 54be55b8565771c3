import { ALL_SUBS, type CompositeStep, type Snapshot, type TileSource } from '../composite';
import {
  findNode,
  nodesFor,
  nodesOf,
  type Detail,
  type LayerNode,
  type ProjectDocument,
  isGroup,
  isBoundless,
} from '../document';
import { kindOf, ownerOfChannel, type Layer } from '../layers';
import type { Kernels } from '../kernels';
import { codesOfTile, filledTiles, TILE_BYTES, type SurfaceMap } from '../surface';
import { putChannel } from './detail-values';
import { differingSteps, planOf, type PlanStep } from './build-plan';
import type { LayerTiles, MaskTile, ChannelPixels } from './layer-tiles';
import { type BuildUpView, WHOLE_BUILD_UP } from './build-up-view';

/** Results kept of what lies under the layer in hand: 64 KB and more each. */
const MOST_SNAPSHOTS = 400;

/** Composites the build-up tile by tile and knows which tiles are out of date. */
export class Picture {
  private readonly kernels: Kernels;
  private readonly tiles: LayerTiles;
  private readonly pixels: ChannelPixels;
  private surface: SurfaceMap;
  private document: ProjectDocument;
  private plan: readonly PlanStep[];
  private other: { readonly detail: Detail | null; readonly plan: readonly PlanStep[] } | null = null;
  private view_ = WHOLE_BUILD_UP;
  /** Tiles out of date, and which of their sub-tiles, bit k for sub-tile k. */
  private readonly stale = new Map<number, number>();
  /** The node that a stroke is being made on. */
  private hand: number | null = null;
  private readonly snapshots = new Map<number, Snapshot>();
  private readonly opaque = new WeakMap<Uint8Array, boolean>();

  constructor(
    kernels: Kernels,
    tiles: LayerTiles,
    pixels: ChannelPixels,
    surface: SurfaceMap,
    document: ProjectDocument,
  ) {
    this.kernels = kernels;
    this.tiles = tiles;
    this.pixels = pixels;
    this.surface = surface;
    this.document = document;
    this.plan = this.planNow();
    this.markAll();
  }

  /** Takes another surface in hand: all of its tiles are out of date. */
  useSurface(surface: SurfaceMap): void {
    this.surface = surface;
    this.stale.clear();
    this.markAll();
  }

  /** Takes a document of which `LayerTiles` has been told; only what looks different afterwards is out of date. */
  useDocument(document: ProjectDocument): void {
    const before = this.plan;
    this.document = document;
    this.plan = this.planNow();
    const differing = differingSteps(before, this.plan);
    if (differing.length === 0) return;
    this.snapshots.clear();
    const reach = this.reachOf(differing);
    if (reach === 'all') this.markAll();
    else for (const tile of reach) this.mark(tile);
  }

  /** A cue has come or changed everywhere: what is made from it is out of date. */
  refresh(): void {
    const before = this.plan;
    this.plan = this.planNow();
    if (differingSteps(before, this.plan).length === 0) return;
    this.snapshots.clear();
    this.markAll();
  }

  get view(): BuildUpView {
    return this.view_;
  }

  /** What is shown: the build-up, a node alone, or a mask. */
  setView(view: BuildUpView): void {
    const { alone, maskOf, detail } = this.view_;
    if (view.alone === alone && view.maskOf === maskOf && view.detail === detail) return;
    this.view_ = view;
    if (view.detail !== detail) {
      this.plan = this.planNow();
      this.snapshots.clear();
    }
    this.markAll();
  }

  /** A stroke is about to be made on a node, or none any more: what lies under it is remembered. */
  hold(node: number | null): void {
    this.hand = node;
    this.snapshots.clear();
  }

  /** Pixels of a plane have changed. @param subs which sub-tiles, bit k for sub-tile k */
  touch(plane: number, tile: number, subs = ALL_SUBS): void {
    const { layer, channel } = ownerOfChannel(plane);
    if (channel === 'mask')
      for (const node of this.tiles.nodesWithMask(layer)) this.tiles.forgetMask(node, tile);
    // What was changed under or over the layer in hand isn't what was remembered.
    if (layer !== this.hand) this.snapshots.delete(tile);
    this.mark(tile, subs);
  }

  /** A tile is out of date. @param subs which sub-tiles, bit k for sub-tile k */
  mark(tile: number, subs = ALL_SUBS): void {
    if (this.surface.slotOfTile[tile]! >= 0) this.stale.set(tile, (this.stale.get(tile) ?? 0) | subs);
  }

  /** Everything is out of date. */
  markAll(): void {
    for (const tile of filledTiles(this.surface)) this.stale.set(tile, ALL_SUBS);
  }

  /** Tiles whose picture is out of date, in the order in which they became so. */
  dirty(): readonly number[] {
    return [...this.stale.keys()];
  }

  /**
   * Brings a tile as it is to be shown up to date: straight-alpha RGBA8 in tile order.
   *
   * @param out where sub-tiles that are still good are left as they are
   * @returns which sub-tiles were written, bit k for sub-tile k
   */
  render(tile: number, out: Uint8Array): number {
    const subs = this.stale.get(tile) ?? ALL_SUBS;
    this.stale.delete(tile);
    const { alone, maskOf, detail } = this.view_;
    const node = findNode(this.document.layers, maskOf ?? alone ?? -1);
    if (node && maskOf !== null) this.renderMask(node, tile, out);
    else if (node) this.kernels.composite(this.stepsOf(tile, this.planAlone(node)).steps, out);
    else {
      this.renderWhole(tile, out, subs);
      if (detail !== null) this.turnGrey(detail, tile, out);
      return detail === null ? subs : ALL_SUBS;
    }
    return ALL_SUBS;
  }

  /** What is out of date of a tile was seen to otherwise. */
  freshen(tile: number): void {
    this.stale.delete(tile);
  }

  /**
   * One tile of all that goes into the albedo, or into a mask of the detail sheet, whatever is shown: what is delivered.
   *
   * @param detail left out: what is shown
   */
  composite(tile: number, out: Uint8Array | Uint16Array, detail = this.view_.detail): void {
    const plan = detail === this.view_.detail ? this.plan : this.otherPlan(detail);
    this.kernels.composite(this.stepsOf(tile, plan).steps, out);
  }

  /** The plan of what isn't shown, kept until the document is another one. */
  private otherPlan(detail: Detail | null): readonly PlanStep[] {
    if (this.other?.detail !== detail) this.other = { detail, plan: this.planFor(detail) };
    return this.other.plan;
  }

  /** A mask of the detail sheet as values that are seen everywhere on the surface. */
  private turnGrey(detail: Detail, tile: number, out: Uint8Array): void {
    const codes = codesOfTile(this.surface, tile);
    putChannel(out, detail, out, 0);
    for (let i = 0; i < TILE_BYTES; i += 4) {
      const isOn = codes !== null && codes[i >> 2]! >= 0;
      out.fill(isOn ? out[i]! : 0, i, i + 3);
      out[i + 3] = isOn ? 255 : 0;
    }
  }

  /** One tile of one node alone, as it would be laid at full opacity. */
  compositeNode(node: LayerNode, tile: number, out: Uint8Array): void {
    this.kernels.composite(this.stepsOf(tile, this.planAlone(node)).steps, out);
  }

  /** One tile of some nodes as if nothing else was there. */
  compositeNodes(nodes: readonly LayerNode[], tile: number, out: Uint8Array): void {
    const plan = planOf(nodes, (n) => this.tiles.signature(n));
    this.kernels.composite(this.stepsOf(tile, plan).steps, out);
  }

  /** What a layer has on a tile by itself, without its mask. */
  sourceTile(layer: Layer, tile: number, out: Uint8Array): void {
    const source = this.tiles.source(layer, tile);
    const how = { mode: 'normal', opacity: 1, mask: null, clip: false } as const;
    this.kernels.composite(source ? [{ do: 'lay', source, ...how }] : [], out);
  }

  /** What a node's mask comes to on a tile. */
  maskTile(node: LayerNode, tile: number): MaskTile {
    return this.tiles.mask(node, tile);
  }

  private planNow(): PlanStep[] {
    this.other = null;
    return this.planFor(this.view_.detail);
  }

  private planFor(detail: Detail | null): PlanStep[] {
    return planOf(nodesFor(this.document.layers, detail), (node) => this.tiles.signature(node));
  }

  private planAlone(node: LayerNode): PlanStep[] {
    const full = { ...node, visible: true, opacity: 1, blend: 'normal', clip: false } as const;
    return planOf([full], (n) => this.tiles.signature(n));
  }

  private renderWhole(tile: number, out: Uint8Array, subs: number): void {
    const { steps, handAt } = this.stepsOf(tile, this.plan);
    if (this.hand === null || handAt === null || handAt === 0) {
      this.kernels.composite(steps, out, { subs });
      return;
    }
    const known = this.snapshots.get(tile);
    if (known && known.steps === handAt && (known.subs & subs) === subs) {
      this.kernels.composite(steps, out, { subs, from: known });
      return;
    }
    const snapshot = this.kernels.composite(steps, out, {
      subs: subs | (known?.subs ?? 0),
      keepAfter: handAt,
    });
    if (!snapshot) return;
    this.snapshots.set(tile, snapshot);
    const [oldest] = this.snapshots.keys();
    if (this.snapshots.size > MOST_SNAPSHOTS && oldest !== undefined) this.snapshots.delete(oldest);
  }

  private renderMask(node: LayerNode, tile: number, out: Uint8Array): void {
    const codes = codesOfTile(this.surface, tile);
    const hasMask = node.mask.length > 0 || isBoundless(node);
    const mask = hasMask ? this.tiles.mask(node, tile) : null;
    if (!hasMask) this.compositeNode(node, tile, out);
    for (let i = 0; i < TILE_BYTES / 4; i++) {
      const value = !hasMask
        ? out[i * 4 + 3]!
        : mask === 'none'
          ? 0
          : mask
            ? Math.floor(mask[i]! / 257 + 0.5)
            : 255;
      out.fill(value, i * 4, i * 4 + 3);
      out[i * 4 + 3] = codes && codes[i]! >= 0 ? 255 : 0;
    }
  }

  /** A plan's steps on one tile. What has nothing there is left out, and so is all that something opaque covers. */
  private stepsOf(
    tile: number,
    plan: readonly PlanStep[],
  ): { readonly steps: CompositeStep[]; readonly handAt: number | null } {
    const steps: CompositeStep[] = [];
    const opened: number[] = [];
    let handAt: number | null = null;
    for (const step of plan) {
      if (step.do === 'push') {
        opened.push(steps.length);
        steps.push({ do: 'push', through: step.through });
        continue;
      }
      if (step.do === 'pop') {
        const begun = opened.pop()!;
        const mask = step.group ? this.tiles.mask(step.group, tile) : null;
        if (step.group?.id === this.hand) handAt = begun;
        if (steps.length === begun + 1 || mask === 'none') steps.length = begun;
        else steps.push({ do: 'pop', through: step.through, ...step.how, mask });
        continue;
      }
      const { layer, how } = step;
      if (layer.id === this.hand) handAt = steps.length;
      const mask = this.tiles.mask(layer, tile);
      if (mask === 'none') continue;
      const adjust = this.tiles.adjuster(layer);
      if (adjust) {
        steps.push({ do: 'adjust', adjust, ...how, mask });
        continue;
      }
      const source = this.tiles.source(layer, tile);
      if (!source) continue;
      if (opened.length === 0 && mask === null && this.hides(source, how)) {
        steps.length = 0;
        if (layer.id !== this.hand) handAt = null;
        else handAt = 0;
      }
      steps.push({ do: 'lay', source, ...how, mask });
    }
    return { steps, handAt };
  }

  /** Whether nothing of what lies below can be seen. */
  private hides(
    source: TileSource,
    { mode, opacity, clip }: { mode: string; opacity: number; clip: boolean },
  ): boolean {
    if (mode !== 'normal' || opacity < 1 || clip) return false;
    if (source.form === 'color') return true;
    if (source.form === 'rgba16') return false;
    let known = this.opaque.get(source.bytes);
    if (known === undefined) {
      known = true;
      for (let i = 3; i < TILE_BYTES && known; i += 4) known = source.bytes[i] === 255;
      this.opaque.set(source.bytes, known);
    }
    return known;
  }

  /** The tiles on which steps can be seen. */
  private reachOf(steps: readonly PlanStep[]): ReadonlySet<number> | 'all' {
    const out = new Set<number>();
    const add = (tiles: Iterable<number> | 'all'): boolean => {
      if (tiles === 'all') return false;
      for (const tile of tiles) out.add(tile);
      return true;
    };
    const reach = (node: Layer): Iterable<number> | 'all' =>
      kindOf(node).form === 'pixels' ? this.pixels.tiles(node.id) : this.tiles.reach(node);
    /** States of layers that are laid, before and after. */
    const laid = new Map<number, LayStep[]>();
    for (const step of steps) {
      if (step.do === 'lay') laid.set(step.layer.id, [...(laid.get(step.layer.id) ?? []), step]);
      else if (step.do === 'pop' && step.group) {
        for (const { node } of nodesOf([step.group])) if (!isGroup(node) && !add(reach(node))) return 'all';
      }
    }
    for (const [before, after] of laid.values()) {
      const isOnlyOther =
        after &&
        before!.layer.mask === after.layer.mask &&
        sameLaid(before!.how, after.how) &&
        kindOf(after.layer).form !== 'pixels';
      const found = isOnlyOther
        ? [this.tiles.differing(after.layer)]
        : [before!, ...(after ? [after] : [])].map((step) => reach(step.layer));
      if (!found.every(add)) return 'all';
    }
    return out;
  }
}

type LayStep = Extract<PlanStep, { do: 'lay' }>;

const sameLaid = (a: LayStep['how'], b: LayStep['how']): boolean =>
  a.mode === b.mode && a.opacity === b.opacity && a.clip === b.clip;
