import type { PanePoint, StageView } from '../view/stage-view';
import { pinchOf, type Navigation, type Navigator, type Point } from './navigator';
import type { Gesture, PointerAt, Tool } from './tool';

type Drag =
  | { kind: 'navigate'; how: Navigation; pane: PanePoint['pane']; at: Point; from: Point; opensMenu: boolean }
  | { kind: 'gesture'; gesture: Gesture; pane: PanePoint['pane']; last: PointerAt }
  | { kind: 'pinch'; at: ReturnType<typeof pinchOf> };

/** The pen's other end, among the buttons that are down (W3C Pointer Events). */
const ERASER = 32;

/** A press of the right button that moves less than this opens a menu, pixels. */
const STILL = 4;

interface Host {
  /** A finger only turns and moves the view. */
  fingerLooks(): boolean;
  /** The tool in hand; with Alt the one that picks colours. */
  tool(alt: boolean): Tool;
  /** The pointer moved over the picture, or left it. */
  hover(at: (PanePoint & { screenX: number; screenY: number }) | null, isDragging: boolean): void;
  menu(at: PointerAt): void;
}

/**
 * Mouse, pen and touch on the picture. Left, the tip or, if that is set, a finger: the tool. Right turns, middle moves, the wheel nears. With Space held,
 * any of them moves, with Shift it turns, with Ctrl it nears. Two fingers move, near and roll.
 */
export class PointerControl {
  private readonly element: HTMLElement;
  private readonly view: StageView;
  private readonly navigator: Navigator;
  private readonly host: Host;
  private drag: Drag | null = null;
  /** The pointer that drags: no other one, as a hand that rests on the screen, has a part in it. */
  private owner: { readonly id: number; readonly type: string } | null = null;
  private readonly touches = new Map<number, Point>();
  private readonly stop = new AbortController();
  private isOver = false;
  private holdsSpace = false;
  /** Where the pointer went down last, in the picture or outside. */
  private clicked: EventTarget | null = null;

  constructor(element: HTMLElement, view: StageView, navigator: Navigator, host: Host) {
    this.element = element;
    this.view = view;
    this.navigator = navigator;
    this.host = host;
    const { signal } = this.stop;
    const on = <K extends keyof HTMLElementEventMap>(
      type: K,
      listener: (event: HTMLElementEventMap[K]) => void,
    ): void => element.addEventListener(type, listener, { passive: false, signal });
    on('pointerdown', (e) => this.down(e));
    on('pointermove', (e) => this.move(e));
    on('pointerup', (e) => this.up(e));
    on('pointercancel', (e) => this.abandon(e));
    on('lostpointercapture', (e) => this.abandon(e));
    on('pointerenter', () => (this.isOver = true));
    on('pointerleave', () => {
      this.isOver = false;
      this.host.hover(null, this.drag !== null);
    });
    on('wheel', (e) => {
      e.preventDefault();
      this.navigator.wheel(this.at(e), e.deltaY);
    });
    on('contextmenu', (e) => e.preventDefault());
    window.addEventListener('pointerdown', (e) => (this.clicked = e.target), { signal, capture: true });
    window.addEventListener('keydown', (e) => this.space(e, true), { signal });
    window.addEventListener('keyup', (e) => this.space(e, false), { signal });
    window.addEventListener('blur', () => (this.holdsSpace = false), { signal });
    // What is under way when another tab comes before this one won't be ended by its pointer.
    document.addEventListener('visibilitychange', () => document.hidden && this.finish(), { signal });
  }

  dispose(): void {
    this.cancel();
    this.stop.abort();
  }

  /** Takes back what is being dragged. @returns true if there was something */
  cancel(): boolean {
    const { drag } = this;
    this.drag = this.owner = null;
    if (drag?.kind === 'gesture') drag.gesture.cancel();
    return drag !== null;
  }

  /** Space belongs to the picture while the pointer is over it, and to what is typed otherwise. */
  private space(e: KeyboardEvent, isDown: boolean): void {
    if (e.key !== ' ') return;
    if (!isDown) {
      // What was clicked before would be pressed again.
      if (this.holdsSpace) e.preventDefault();
      this.holdsSpace = false;
    } else if (this.isOver && !this.belongsToFocus(e.target)) {
      this.holdsSpace = true;
      e.preventDefault();
    }
  }

  /** Whether Space is typed, or presses what was reached by key: what was only clicked before has no claim to it. */
  private belongsToFocus(target: EventTarget | null): boolean {
    if (!(target instanceof Element) || target === this.element || target === document.body) return false;
    if (target.matches('textarea, input:not([type="range"])')) return true;
    return !(this.clicked instanceof Node && target.contains(this.clicked));
  }

  private at(e: MouseEvent): Point {
    const box = this.element.getBoundingClientRect();
    return { x: e.clientX - box.left, y: e.clientY - box.top };
  }

  private pointerAt(e: PointerEvent, pane?: PanePoint['pane']): PointerAt {
    const { x, y } = this.at(e);
    // A gesture stays in the pane in which it began.
    const place = pane ? { pane, x: x - (this.view.pane(pane)?.x ?? 0), y } : this.view.locate(x, y);
    return {
      ...place,
      screenX: x,
      screenY: y,
      pressure: pressureOf(e),
      ...leanOf(e),
      time: e.timeStamp,
      shift: e.shiftKey,
      eraser: (e.buttons & ERASER) !== 0,
    };
  }

  private down(e: PointerEvent): void {
    const at = this.at(e);
    // Its end was missed, as when a window comes between.
    if (e.pointerId === this.owner?.id) this.finish();
    const { owner } = this;
    // A pen has the right of way: a hand that lies beside it does nothing, whichever of them came first.
    if (owner && owner.type !== 'touch') return;
    if (owner && e.pointerType !== 'touch') {
      this.cancel();
      this.touches.clear();
    }
    if (e.pointerType === 'touch') {
      this.touches.set(e.pointerId, at);
      const [a, b] = [...this.touches.values()];
      if (a && b && this.touches.size === 2) {
        this.cancel();
        this.owner = { id: e.pointerId, type: 'touch' };
        this.drag = { kind: 'pinch', at: pinchOf(a, b) };
        return;
      }
    }
    if (this.drag) return;
    this.owner = { id: e.pointerId, type: e.pointerType };
    this.element.setPointerCapture(e.pointerId);
    const looks = e.pointerType === 'touch' && this.host.fingerLooks();
    const how = looks ? 'turn' : this.navigationOf(e);
    if (how) this.navigate(how, at, e.button === 2);
    else this.useTool(e, at);
  }

  /** How a press moves the view, whatever tool is in hand. */
  private navigationOf(e: PointerEvent): Navigation | null {
    if (this.holdsSpace) return e.shiftKey ? 'turn' : e.ctrlKey || e.metaKey ? 'near' : 'move';
    if (e.button === 1) return 'move';
    if (e.button === 2) return e.shiftKey ? 'move' : 'turn';
    return null;
  }

  private navigate(how: Navigation, at: Point, opensMenu: boolean): void {
    const { pane } = this.view.locate(at.x, at.y);
    this.drag = { kind: 'navigate', how, pane, at, from: at, opensMenu };
  }

  private useTool(e: PointerEvent, at: Point): void {
    const place = this.pointerAt(e);
    const became = this.host.tool(e.altKey).press?.(place, this.view.pick(place)) ?? null;
    if (became === 'done') return;
    if (became) this.drag = { kind: 'gesture', gesture: became, pane: place.pane, last: place };
    else this.navigate('turn', at, false);
  }

  private move(e: PointerEvent): void {
    const at = this.at(e);
    if (this.touches.has(e.pointerId)) this.touches.set(e.pointerId, at);
    const { drag } = this;
    if (drag?.kind === 'pinch') {
      const [a, b] = [...this.touches.values()];
      if (!a || !b) return;
      const next = pinchOf(a, b);
      this.navigator.pinch(drag.at, next);
      drag.at = next;
      return;
    }
    if (drag && e.pointerId !== this.owner?.id) return;
    if (drag?.kind === 'gesture') {
      // A mouse that was let go outside, behind another window.
      if (e.pointerType === 'mouse' && e.buttons === 0) return this.finish();
      const events = drag.gesture.isFine ? (e.getCoalescedEvents?.() ?? []) : [];
      for (const step of events.length ? events : [e]) {
        drag.last = this.pointerAt(step, drag.pane);
        drag.gesture.move(drag.last);
      }
    }
    if (drag?.kind === 'navigate') this.moveNavigation(drag, at);
    this.host.hover({ ...this.view.locate(at.x, at.y), screenX: at.x, screenY: at.y }, drag !== null);
  }

  private moveNavigation(drag: Extract<Drag, { kind: 'navigate' }>, at: Point): void {
    // The right button turns only once it is clear that it isn't a click.
    if (drag.opensMenu && Math.hypot(at.x - drag.from.x, at.y - drag.from.y) < STILL) return;
    drag.opensMenu = false;
    this.navigator.drag(drag.how, drag.pane, drag.at, at);
    drag.at = at;
  }

  private up(e: PointerEvent): void {
    this.touches.delete(e.pointerId);
    if (!this.hasPart(e)) return;
    const { drag } = this;
    if (this.touches.size === 0) this.drag = this.owner = null;
    if (drag?.kind === 'gesture') drag.gesture.end(this.pointerAt(e, drag.pane));
    if (drag?.kind === 'navigate' && drag.opensMenu) this.host.menu(this.pointerAt(e));
  }

  /** The browser has taken the pointer away: a finger that was a palm leaves nothing, what a pen or a mouse made stays. */
  private abandon(e: PointerEvent): void {
    this.touches.delete(e.pointerId);
    if (!this.hasPart(e)) return;
    if (e.pointerType === 'touch') this.cancel();
    else this.finish();
  }

  /** Ends what is being dragged where it was last. */
  private finish(): void {
    const { drag } = this;
    this.drag = this.owner = null;
    if (drag?.kind === 'gesture') drag.gesture.end(drag.last);
  }

  /** Whether a pointer is the one that drags, or one of two fingers. */
  private hasPart(e: PointerEvent): boolean {
    return this.drag?.kind === 'pinch' ? e.pointerType === 'touch' : e.pointerId === this.owner?.id;
  }
}

/** A mouse stands upright. */
function leanOf({ pointerType, altitudeAngle, azimuthAngle }: PointerEvent): {
  tilt: number;
  azimuth: number;
} {
  // Some drivers tell nothing of a pen's lean, or nonsense.
  if (pointerType !== 'pen' || !Number.isFinite(altitudeAngle) || !Number.isFinite(azimuthAngle)) {
    return { tilt: 0, azimuth: 0 };
  }
  // The event tells it from the right, with the clock.
  return { tilt: 1 - altitudeAngle / (Math.PI / 2), azimuth: -azimuthAngle - Math.PI / 2 };
}

/** A mouse has no pressure and presses fully, as does a pen that tells none; a pen's is 0..1. */
function pressureOf(e: PointerEvent): number {
  if (e.pointerType !== 'pen' || !Number.isFinite(e.pressure)) return 1;
  return Math.min(1, Math.max(0.02, e.pressure));
}
