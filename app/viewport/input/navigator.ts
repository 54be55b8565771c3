import type { PanePoint, StageView } from '../view/stage-view';
import type { ZoomLink } from '../view/zoom-link';

export interface Point {
  readonly x: number;
  readonly y: number;
}

/** Two fingers on the picture. */
interface Pinch extends Point {
  readonly distance: number;
  readonly angle: number;
}

export type Navigation = 'turn' | 'move' | 'near';

/** Turns, moves and nears what is seen. Points are pixels of the whole picture. */
export class Navigator {
  private readonly view: StageView;
  private readonly link: ZoomLink;

  constructor(view: StageView, link: ZoomLink) {
    this.view = view;
    this.link = link;
  }

  /** One step of a drag. */
  drag(how: Navigation, pane: PanePoint['pane'], from: Point, to: Point): void {
    const [dx, dy] = [to.x - from.x, to.y - from.y];
    if (how === 'near') this.zoom(this.middle(pane), Math.exp(dy * 0.01));
    else if (pane === 'sheet') this.view.flat.pan(dx, dy);
    else if (how === 'move') this.pan(pane, dx, dy);
    else {
      const left = this.view.pane('model')?.x ?? 0;
      this.view.rig.roll(from.x - left, from.y, to.x - left, to.y);
      this.view.cameraMoved();
    }
  }

  private middle(pane: PanePoint['pane']): Point {
    const { x, y, width, height } = this.view.pane(pane)!;
    return { x: x + width / 2, y: y + height / 2 };
  }

  private pan(pane: PanePoint['pane'], dx: number, dy: number): void {
    if (pane === 'sheet') {
      this.view.flat.pan(dx, dy);
      return;
    }
    this.view.rig.pan(dx, dy);
    this.view.cameraMoved();
    this.link.panFromModel({ dx, dy });
  }

  /** @param factor below 1: nearer, so that what is under the point stays there */
  zoom(at: Point, factor: number): void {
    const { pane, x, y } = this.view.locate(at.x, at.y);
    if (pane === 'sheet') {
      this.view.flat.zoom(x, y, 1 / factor);
      return;
    }
    this.view.rig.zoomAt(x, y, factor);
    this.view.cameraMoved();
    this.link.fromModel({ x, y, factor: 1 / factor });
  }

  wheel(at: Point, deltaY: number): void {
    // A notch of 100 makes a sixth; a touch pad sends many small ones.
    this.zoom(at, Math.exp(Math.max(-400, Math.min(400, deltaY)) * 0.0016));
  }

  /** Two fingers move, near and roll at once. */
  pinch(from: Pinch, to: Pinch): void {
    const { pane } = this.view.locate(to.x, to.y);
    this.zoom(to, from.distance / Math.max(1, to.distance));
    this.pan(pane, to.x - from.x, to.y - from.y);
    if (pane === 'model') {
      // Across the half turn it jumps by a whole one.
      const turned = to.angle - from.angle;
      this.view.rig.spin(Math.atan2(Math.sin(turned), Math.cos(turned)));
      this.view.cameraMoved();
    }
  }
}

export const pinchOf = (a: Point, b: Point): Pinch => ({
  distance: Math.hypot(a.x - b.x, a.y - b.y),
  angle: Math.atan2(b.y - a.y, b.x - a.x),
  x: (a.x + b.x) / 2,
  y: (a.y + b.y) / 2,
});
