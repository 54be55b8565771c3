import { commandLabel, paintedChannel, type GuardWish } from '../../commands';
import { checkDocument, requireNode, type ProjectDocument } from '../../document';
import { CoreError } from '../../errors';
import { readPngHeader, type Picture } from '../../formats';
import type { Vec3 } from '../../math';
import type { Channel } from '../../layers';
import { copiesOf, LiveStroke, PICTURE_TIP, type Stroke, type StrokeStyle } from '../../paint';
import { readPattern } from '../../pattern';
import { isEmptyTile, type TileState } from '../../pixels';
import { regionShape, type RegionShape } from '../../region';
import { TILE_TEXELS, type SurfaceMap } from '../../surface';
import type { Holds } from './reach-map';
import type { Deed } from '../commit';
import { prepareStroke, type StrokeRefs } from './prepare-stroke';
import type { ProjectState } from '../project-state';

/** How a stroke is made, beside its style. */
export interface StrokeHow {
  readonly guard?: GuardWish | null;
  readonly channel?: Channel;
  /** What of the user's it belongs to. */
  readonly deed?: Deed | null;
  /** Only what is painted already is changed. */
  readonly keepAlpha?: boolean;
  /** Only what is like the layer at a texel, by its number among all; `tolerance`: how much colours may differ, CIEDE2000. */
  readonly like?: { readonly texel: number; readonly tolerance: number } | null;
  /** The picture that the brush's tip is, a PNG: the project keeps one of each. */
  readonly tip?: { readonly name: string; readonly png: Uint8Array } | null;
}

/** What a tip adds to the project. */
interface NewTip {
  readonly id: number;
  readonly png: Uint8Array;
  readonly picture: Picture;
}

/** A stroke in hand. */
interface Hand {
  readonly layer: number;
  readonly channel: Channel;
  readonly plane: number;
  readonly keepAlpha: boolean;
  readonly live: LiveStroke;
  readonly style: StrokeStyle;
  readonly prepared: ReturnType<typeof prepareStroke>;
  readonly newTip: NewTip | null;
  readonly deed: Deed | null;
}

/** Makes strokes: one at a time is in hand, seen as it grows, and becomes a step when it ends. */
export class StrokeMaker {
  private readonly state: ProjectState;
  private hand: Hand | null = null;
  private readonly shapes = new WeakMap<object, { surface: SurfaceMap; shape: RegionShape }>();

  constructor(state: ProjectState) {
    this.state = state;
  }

  get inHand(): boolean {
    return this.hand !== null;
  }

  /** See `Engine.beginStroke`. */
  begin(layer: number, wish: StrokeStyle, how: StrokeHow): void {
    this.cancel();
    const { document, surface, desks, kernels, history, picture } = this.state;
    const { channel = 'pixels', guard = null, like = null, tip = null } = how;
    const plane = paintedChannel(document, layer, channel);
    const withTip = tip ? this.tipPattern(document, tip) : null;
    const prepared = prepareStroke(withTip?.document ?? document, surface.mesh, guard, () =>
      this.strokesInUse(),
    );
    const isLocked = requireNode(document.layers, layer).lock === 'transparent';
    const keepAlpha = how.keepAlpha === true || (channel === 'pixels' && isLocked);
    const newTip = withTip?.newTip ?? null;
    const style: StrokeStyle = {
      ...wish,
      ...(like && { like: { rgba: this.rgbaAt(plane, like.texel), tolerance: like.tolerance } }),
    };
    if (withTip && 'brush' in style) {
      Object.assign(style, { brush: { ...style.brush, tip: PICTURE_TIP, picture: withTip.id } });
    }
    const rasterizer = desks.of(style.pose);
    const live = new LiveStroke({
      style,
      keepAlpha,
      guard: this.shapeOf(prepared.guard),
      rasterizer,
      kernels,
      plane: { get: (tile) => this.state.pixels.get(plane, tile) },
      picture: (id) => (id === newTip?.id ? newTip.picture : this.state.tiles.pattern(id)),
    });
    this.hand = { layer, channel, plane, keepAlpha, live, style, prepared, newTip, deed: how.deed ?? null };
    history.endGesture();
    picture.hold(layer);
    this.show(this.hand, live.begin());
  }

  /**
   * What a stroke that begins on a surface facing so may change.
   *
   * @throws CoreError as `begin`
   */
  holds(layer: number, wish: StrokeStyle, how: StrokeHow, normal: Vec3): Holds {
    const { document, surface, desks, pixels } = this.state;
    const { channel = 'pixels', guard = null, like = null } = how;
    const plane = paintedChannel(document, layer, channel);
    const prepared = prepareStroke(document, surface.mesh, guard, () => this.strokesInUse());
    const tiles = { get: (tile: number) => pixels.get(plane, tile) };
    const reach = desks.of(wish.pose).reaches.of(
      { ...wish, ...(like && { like: { rgba: this.rgbaAt(plane, like.texel), tolerance: like.tolerance } }) },
      {
        guard: this.shapeOf(prepared.guard),
        copies: copiesOf('symmetry' in wish ? wish.symmetry : undefined),
        plane: tiles,
      },
    );
    const isLocked = requireNode(document.layers, layer).lock === 'transparent';
    const onPainted = how.keepAlpha === true || (channel === 'pixels' && isLocked);
    const nearSide = 'nearSide' in wish && wish.nearSide && !('symmetry' in wish && wish.symmetry);
    return { reach, facing: nearSide ? normal : null, painted: onPainted ? tiles : null };
  }

  /** What a plane has at a texel, straight-alpha RGBA8. */
  private rgbaAt(plane: number, texel: number): number[] {
    const bytes = this.state.pixels.get(plane, Math.floor(texel / TILE_TEXELS));
    const o = (texel % TILE_TEXELS) * 4;
    return bytes ? [...bytes.subarray(o, o + 4)] : [0, 0, 0, 0];
  }

  /** The project's picture that is the same as a tip, or the document with it in it. */
  private tipPattern(
    document: ProjectDocument,
    { name, png }: NonNullable<StrokeHow['tip']>,
  ): { readonly id: number; readonly document: ProjectDocument; readonly newTip: NewTip | null } {
    const { files } = this.state;
    const known = document.patterns.find((p) => !p.listed && sameFile(files.get(p.id), png));
    if (known) return { id: known.id, document, newTip: null };
    const picture = readPattern(png);
    if (!picture) {
      throw new CoreError(
        'file-not-a-picture',
        `The tip of “${name}” can’t be read as a PNG. Choose its picture again in the brush’s settings.`,
      );
    }
    const { width, height } = readPngHeader(png);
    const id = document.nextId;
    const pattern = { id, name: name.slice(0, 80) || 'Tip', width, height, listed: false };
    const next = { ...document, patterns: [...document.patterns, pattern], nextId: id + 1 };
    return { id, document: checkDocument(next, document), newTip: { id, png, picture } };
  }

  /** Goes on with the stroke in hand. @param samples SAMPLE_STRIDE numbers each; @param lift begins a new run */
  extend(samples: ArrayLike<number>, lift: boolean): void {
    const { hand } = this;
    if (!hand) return;
    this.show(hand, hand.live.extend(samples, lift));
  }

  private show(hand: Hand, touchedSubs: Iterable<number>): void {
    const { pixels } = this.state;
    const subs = new Map<number, number>();
    for (const sub of touchedSubs) {
      subs.set(sub >> 2, (subs.get(sub >> 2) ?? 0) | (1 << (sub & 3)));
    }
    for (const [tile, touched] of subs) {
      const bytes = hand.live.paint(tile, pixels.get(hand.plane, tile));
      this.state.put({ plane: hand.plane, tile, bytes }, touched);
    }
  }

  /** Finishes the stroke in hand; one that touched nothing leaves no step. */
  end(): void {
    const { hand } = this;
    if (!hand) return;
    this.show(hand, hand.live.lift());
    const { pixels, planes, document } = this.state;
    const { plane, live, style, prepared, keepAlpha, layer, channel, newTip, deed } = hand;
    const previous = [...live.before].map(([tile, bytes]): TileState => ({ plane, tile, bytes }));
    const next = this.state
      .present(previous)
      .map((state): TileState =>
        state.bytes && isEmptyTile(state.bytes) ? { ...state, bytes: null } : state,
      );
    this.letGo();
    if (previous.length === 0) return;
    previous.forEach((state) => pixels.put(state));
    const { within, frame } = prepared;
    const stroke: Stroke = { ...style, keepAlpha, within, frame, runs: live.runs };
    const wish = { ...style, runs: [] };
    this.state.record({
      label: commandLabel({ do: 'stroke', layer, channel, guard: null, keepAlpha, stroke: wish }, document),
      kind: 'stroke',
      after: prepared.document,
      tiles: next,
      baseTiles: planes.baseBefore(document, plane, previous),
      stroke: { plane, stroke },
      deed,
      ...(newTip && { files: new Map([[newTip.id, newTip.png]]) }),
    });
  }

  /** Takes the stroke in hand back as if it had not been begun. @returns whether there was one */
  cancel(): boolean {
    const { hand } = this;
    if (!hand) return false;
    const { plane } = hand;
    hand.live.before.forEach((bytes, tile) => this.state.put({ plane, tile, bytes }));
    this.letGo();
    return true;
  }

  private letGo(): void {
    this.hand?.live.end();
    this.hand = null;
    this.state.picture.hold(null);
  }

  /** A guard over the surface; the same object as long as both are, so that reach that was reckoned for it holds. */
  private shapeOf(guard: ReturnType<typeof prepareStroke>['guard']): RegionShape | null {
    if (!guard) return null;
    const { surface } = this.state;
    const known = this.shapes.get(guard);
    if (known?.surface === surface) return known.shape;
    const shape = regionShape(surface, { faces: { runs: guard.faces }, cuts: guard.cuts });
    this.shapes.set(guard, { surface, shape });
    return shape;
  }

  /** All strokes that may be made again, those that undo would bring back among them. */
  private *strokesInUse(): Iterable<StrokeRefs> {
    const { planes, history } = this.state;
    for (const plane of planes.numbers()) yield* planes.strokesOf(plane);
    for (const { stroke, edit } of history.data.steps) {
      if (stroke) yield stroke.stroke;
      yield* [...(edit?.before ?? []), ...(edit?.after ?? [])];
    }
  }
}

function sameFile(a: Uint8Array | undefined, b: Uint8Array): boolean {
  return a === b || (a?.length === b.length && a.every((x, i) => x === b[i]));
}
