import { commandLabel, requireNode, type GuardWish } from '../document';
import type { Channel } from '../layers';
import { LiveStroke, type Stroke, type StrokeStyle } from '../paint';
import { isEmptyTile, type TileState } from '../pixels';
import { regionShape, type RegionShape } from '../region';
import type { SurfaceMap } from '../surface';
import { paintedPlane } from './pixel-work';
import { prepareStroke } from './prepare-stroke';
import type { ProjectState } from './project-state';

/** A stroke in hand. */
interface Hand {
  readonly layer: number;
  readonly channel: Channel;
  readonly plane: number;
  readonly keepAlpha: boolean;
  readonly live: LiveStroke;
  readonly style: StrokeStyle;
  readonly prepared: ReturnType<typeof prepareStroke>;
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

  /** @throws CoreError `layer-missing`, or `bad-argument` if nothing can be painted there */
  begin(
    layer: number,
    style: StrokeStyle,
    guard: GuardWish | null,
    channel: Channel,
    onPainted: boolean,
  ): void {
    this.cancel();
    const { document, surface, desk, kernels, history, picture } = this.state;
    const plane = paintedPlane(document, layer, channel);
    const prepared = prepareStroke(document, surface.mesh, guard, () => this.guardsInUse());
    const isLocked = requireNode(document.layers, layer).lock === 'transparent';
    const keepAlpha = onPainted || (channel === 'pixels' && isLocked);
    const live = new LiveStroke({
      style,
      keepAlpha,
      guard: this.shapeOf(prepared.guard),
      desk,
      kernels,
      plane: { get: (tile) => this.state.pixels.get(plane, tile) },
      picture: (id) => this.state.tiles.pattern(id),
    });
    this.hand = { layer, channel, plane, keepAlpha, live, style, prepared };
    history.endGesture();
    picture.hold(layer);
    this.show(this.hand, live.begin());
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
    const { plane, live, style, prepared, keepAlpha, layer, channel } = hand;
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

  private *guardsInUse(): Iterable<number> {
    const { planes, history } = this.state;
    for (const plane of planes.numbers()) {
      for (const { within } of planes.strokesOf(plane)) if (within !== null) yield within;
    }
    for (const { stroke, edit } of history.data.steps) {
      if (stroke && stroke.stroke.within !== null) yield stroke.stroke.within;
      for (const { within } of [...(edit?.before ?? []), ...(edit?.after ?? [])]) {
        if (within !== null) yield within;
      }
    }
  }
}
