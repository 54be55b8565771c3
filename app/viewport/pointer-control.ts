import { newGesture } from '../shared/gesture';
import { IDENTITY_MOVE, sheetMove, type SheetMove } from '../../core/unwrap';
import type { BrushInput } from './brush-input';
import type { Hit } from './picker';
import type { PaneName, StageView } from './stage-view';

/** What the left button does. */
export type Tool = 'look' | 'paint' | 'part' | 'color' | 'light' | 'island' | 'seam';

export interface PointerActions {
  tool(): Tool;
  /** @returns false if no stroke can begin here now */
  startStroke(pane: PaneName, hit: Hit, at: { x: number; y: number; pressure: number }): boolean;
  pickPart(hit: Hit | null): void;
  pickFace(hit: Hit | null, add: boolean): void;
  /** Whether a place belongs to what is chosen, which a drag on the sheet moves. */
  isChosen(hit: Hit): boolean;
  /** @param du of the sheet's side, to the right @param dv upward */
  moveChosen(move: SheetMove): void;
  pickColor(hit: Hit): void;
  aimLight(hit: Hit, gesture: string): void;
  /** The pointer is over the picture; `hit` is left out while a stroke is drawn, which has found its own already. */
  hover(at: { pane: PaneName; x: number; y: number; hit?: Hit | null } | null): void;
  /** The camera came nearer by `factor` around a point of the model pane. */
  zoomed(x: number, y: number, factor: number): void;
  panned(dx: number, dy: number): void;
}

type Drag =
  | { kind: 'roll' | 'pan'; pane: PaneName; x: number; y: number }
  | { kind: 'stroke'; pane: PaneName }
  | { kind: 'light'; gesture: string }
  | { kind: 'islands'; fromX: number; fromY: number }
  | { kind: 'pinch'; distance: number; x: number; y: number };

/** Mouse, pen and touch on the picture. Left: the tool; right: turn; middle: move; wheel: nearer and farther. */
export class PointerControl {
  private readonly element: HTMLElement;
  private readonly view: StageView;
  private readonly brush: BrushInput;
  private readonly actions: PointerActions;
  private drag: Drag | null = null;
  /** The pointer that drags: no other one, as a hand that rests on the screen, has a part in it. */
  private owner: { readonly id: number; readonly type: string } | null = null;
  private readonly touches = new Map<number, { x: number; y: number }>();
  private readonly stop = new AbortController();

  constructor(element: HTMLElement, view: StageView, brush: BrushInput, actions: PointerActions) {
    this.element = element;
    this.view = view;
    this.brush = brush;
    this.actions = actions;
    const on = <K extends keyof HTMLElementEventMap>(
      type: K,
      listener: (event: HTMLElementEventMap[K]) => void,
      options: AddEventListenerOptions = {},
    ): void => element.addEventListener(type, listener, { ...options, signal: this.stop.signal });
    on('pointerdown', (e) => this.down(e));
    on('pointermove', (e) => this.move(e));
    on('pointerup', (e) => this.up(e));
    on('pointercancel', (e) => this.abandon(e));
    on('lostpointercapture', (e) => this.abandon(e));
    on('pointerleave', () => this.actions.hover(null));
    on('wheel', (e) => this.wheel(e), { passive: false });
    on('contextmenu', (e) => e.preventDefault());
  }

  dispose(): void {
    this.stop.abort();
  }

  /** Takes back what is being dragged. @returns true if there was something */
  cancel(): boolean {
    const was = this.drag !== null;
    if (this.drag?.kind === 'stroke') this.brush.cancel();
    if (this.drag?.kind === 'islands') this.view.moveChosen(IDENTITY_MOVE);
    this.drag = this.owner = null;
    return was;
  }

  private at(e: MouseEvent): { x: number; y: number } {
    const box = this.element.getBoundingClientRect();
    return { x: e.clientX - box.left, y: e.clientY - box.top };
  }

  private down(e: PointerEvent): void {
    const { x, y } = this.at(e);
    // Its end was missed, as when a window comes between.
    if (e.pointerId === this.owner?.id) this.cancel();
    const { owner } = this;
    // A pen has the right of way: a hand that lies beside it does nothing, whichever of them came first.
    if (owner && owner.type !== 'touch') return;
    if (owner && e.pointerType !== 'touch') {
      this.cancel();
      this.touches.clear();
    }
    if (e.pointerType === 'touch') {
      this.touches.set(e.pointerId, { x, y });
      if (this.touches.size === 2) {
        this.cancel();
        this.owner = { id: e.pointerId, type: 'touch' };
        this.drag = { kind: 'pinch', ...this.pinch() };
        return;
      }
    }
    if (this.drag) return;
    this.owner = { id: e.pointerId, type: e.pointerType };
    this.element.setPointerCapture(e.pointerId);
    const place = this.view.locate(x, y);
    if (e.button === 1 || (e.button === 2 && (e.shiftKey || place.pane === 'flat'))) {
      this.drag = { kind: 'pan', pane: place.pane, x, y };
    } else if (e.button === 2) this.drag = { kind: 'roll', pane: place.pane, x, y };
    else this.useTool(e, place);
  }

  private useTool(e: PointerEvent, place: { pane: PaneName; x: number; y: number }): void {
    const { x, y } = this.at(e);
    const hit = this.view.pick(place.pane, place.x, place.y);
    const tool = e.altKey ? 'color' : this.actions.tool();
    if (tool === 'color') {
      if (hit) this.actions.pickColor(hit);
      return;
    }
    if (tool === 'island' && place.pane === 'flat' && hit && !e.shiftKey && this.actions.isChosen(hit)) {
      this.drag = { kind: 'islands', fromX: x, fromY: y };
      return;
    }
    if (tool === 'island' || tool === 'seam') this.actions.pickFace(hit, e.shiftKey);
    if (tool === 'seam' && hit) return;
    if (tool === 'part') this.actions.pickPart(hit);
    if (tool === 'light' && hit && place.pane === 'model') {
      const gesture = newGesture();
      this.drag = { kind: 'light', gesture };
      this.actions.aimLight(hit, gesture);
      return;
    }
    if (tool === 'paint' && hit) {
      const pressure = pressureOf(e);
      if (this.actions.startStroke(place.pane, hit, { x: place.x, y: place.y, pressure })) {
        this.drag = { kind: 'stroke', pane: place.pane };
      }
      return;
    }
    this.drag = { kind: place.pane === 'model' ? 'roll' : 'pan', pane: place.pane, x, y };
  }

  private move(e: PointerEvent): void {
    const { x, y } = this.at(e);
    if (this.touches.has(e.pointerId)) this.touches.set(e.pointerId, { x, y });
    const { drag } = this;
    if (drag?.kind === 'pinch') {
      this.movePinch(drag);
      return;
    }
    if (drag && e.pointerId !== this.owner?.id) return;
    if (drag?.kind === 'stroke') {
      this.moveStroke(e, drag.pane);
      this.actions.hover({ pane: drag.pane, x, y });
      return;
    }
    if (drag?.kind === 'islands') {
      this.view.moveChosen(this.islandMove(e, drag));
      return;
    }
    const place = this.view.locate(x, y);
    const hit =
      drag?.kind === 'roll' || drag?.kind === 'pan' ? null : this.view.pick(place.pane, place.x, place.y);
    this.actions.hover({ pane: place.pane, x, y, hit });
    if (drag?.kind === 'light' && hit) this.actions.aimLight(hit, drag.gesture);
    if (drag?.kind === 'roll') {
      this.view.rig.roll(drag.x, drag.y, x, y);
      this.view.cameraMoved();
    }
    if (drag?.kind === 'pan') this.pan(drag.pane, x - drag.x, y - drag.y);
    if (drag && 'x' in drag) {
      drag.x = x;
      drag.y = y;
    }
  }

  private moveStroke(e: PointerEvent, pane: PaneName): void {
    const offset = pane === 'flat' ? (this.view.pane('flat')?.x ?? 0) : 0;
    const events = e.getCoalescedEvents?.() ?? [];
    for (const step of events.length ? events : [e]) {
      const p = this.at(step);
      this.brush.move({ x: p.x - offset, y: p.y, pressure: pressureOf(step) });
    }
  }

  private pan(pane: PaneName, dx: number, dy: number): void {
    if (pane === 'flat') this.view.panSheet(dx, dy);
    else {
      this.view.rig.pan(dx, dy);
      this.view.cameraMoved();
      this.actions.panned(dx, dy);
    }
  }

  private up(e: PointerEvent): void {
    this.touches.delete(e.pointerId);
    if (!this.hasPart(e)) return;
    if (this.drag?.kind === 'stroke') this.brush.end();
    if (this.drag?.kind === 'islands') this.dropIslands(e, this.drag);
    if (this.touches.size === 0) this.drag = this.owner = null;
  }

  private dropIslands(e: PointerEvent, drag: { fromX: number; fromY: number }): void {
    const { x, y } = this.at(e);
    this.view.moveChosen(IDENTITY_MOVE);
    if (Math.hypot(x - drag.fromX, y - drag.fromY) >= 2) this.actions.moveChosen(this.islandMove(e, drag));
  }

  /** With Shift by whole texels. */
  private islandMove(e: PointerEvent, drag: { fromX: number; fromY: number }): SheetMove {
    const { x, y } = this.at(e);
    const { sheetPixels, sheetSize } = this.view;
    const by = (pixels: number): number => {
      const moved = pixels / sheetPixels;
      return e.shiftKey ? Math.round(moved * sheetSize) / sheetSize : moved;
    };
    return sheetMove([0, 0], { moveU: by(x - drag.fromX), moveV: by(drag.fromY - y) });
  }

  private abandon(e: PointerEvent): void {
    this.touches.delete(e.pointerId);
    if (this.hasPart(e)) this.cancel();
  }

  /** Whether a pointer is the one that drags, or one of two fingers. */
  private hasPart(e: PointerEvent): boolean {
    return this.drag?.kind === 'pinch' ? e.pointerType === 'touch' : e.pointerId === this.owner?.id;
  }

  private wheel(e: WheelEvent): void {
    e.preventDefault();
    const { x, y } = this.at(e);
    // A notch of 100 makes a sixth; a touch pad sends many small ones.
    const factor = Math.exp(Math.max(-400, Math.min(400, e.deltaY)) * 0.0016);
    this.zoom(x, y, factor);
  }

  private zoom(x: number, y: number, factor: number): void {
    const place = this.view.locate(x, y);
    if (place.pane === 'flat') {
      this.view.zoomSheet(place.x, place.y, 1 / factor);
      return;
    }
    this.view.rig.zoomAt(place.x, place.y, factor);
    this.view.cameraMoved();
    this.actions.zoomed(place.x, place.y, 1 / factor);
  }

  private pinch(): { distance: number; x: number; y: number } {
    const [a, b] = [...this.touches.values()] as [{ x: number; y: number }, { x: number; y: number }];
    return { distance: Math.hypot(a.x - b.x, a.y - b.y), x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
  }

  private movePinch(drag: Extract<Drag, { kind: 'pinch' }>): void {
    if (this.touches.size < 2) return;
    const now = this.pinch();
    this.zoom(now.x, now.y, drag.distance / Math.max(1, now.distance));
    this.pan(this.view.locate(now.x, now.y).pane, now.x - drag.x, now.y - drag.y);
    Object.assign(drag, now);
  }
}

/** A mouse has no pressure and presses fully; a pen's is 0..1. */
function pressureOf(e: PointerEvent): number {
  return e.pointerType === 'pen' ? Math.max(0.02, e.pressure) : 1;
}
