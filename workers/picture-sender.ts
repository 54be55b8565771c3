import type { Engine } from '../core/engine';
import { TILE_BYTES, tileToRows } from '../core/surface';
import type { PaintEvents } from './paint-protocol';
import type { Emit } from './rpc';

/** How long the picture is worked on before messages are looked at again. */
const SLICE_MS = 7;

/** While a control is dragged, so many tiles or more are shown coarsely at first. */
const MANY_TILES = 64;

/** A control has come to rest when it has changed nothing for so long; only then the full picture is worked on. */
const REST_MS = 120;

/** All four sub-tiles of a tile. */
const ALL_SUBS = 15;

/** How often it is told how much is still to be composited. */
const TELL_MS = 200;

/** Tiles that are sent together at the most. */
const TILES_A_MESSAGE = 64;

/** Composites what is out of date in slices, so that a newer command is never kept waiting, and sends it. */
export class PictureSender {
  private readonly emit: Emit<PaintEvents>;
  private readonly engine: Engine;
  private timer: ReturnType<typeof setTimeout> | null = null;
  /** When that timer is to fire. */
  private dueAt = 0;
  /** The coarse picture is shown until the full one is done. */
  private isCoarse = false;
  /** When a dragged control will have come to rest. */
  private restsAt = 0;
  /** When it was told last how much is still to be composited; null if all is. */
  private pendingTold: number | null = null;
  private readonly onDone: () => void;

  /** @param onDone called when the albedo is up to date */
  constructor(emit: Emit<PaintEvents>, engine: Engine, onDone: () => void) {
    this.emit = emit;
    this.engine = engine;
    this.onDone = onDone;
  }

  /**
   * Something was changed that may be changed again at once, and is to be seen at once.
   *
   * @param isSlow its picture takes long: a first look with few texels comes before it
   */
  dragged(isDrag: boolean, isSlow = false): void {
    this.restsAt = isDrag ? performance.now() + REST_MS : 0;
    if ((isDrag || isSlow) && this.engine.dirty().length >= MANY_TILES && this.engine.coarse)
      this.isCoarse = true;
  }

  schedule(wait = 0): void {
    const left = this.engine.dirty().length;
    // Told before the work begins: a first coarse look can take longer than an answer.
    if (left > 0 && this.pendingTold === null) this.tellPending(left);
    // One that comes no later stays: were it put off by every message, a quick hand would never be answered.
    const due = performance.now() + wait;
    if (this.timer !== null && this.dueAt <= due) return;
    this.stop();
    this.dueAt = due;
    this.timer = setTimeout(() => {
      this.timer = null;
      this.sendNext();
    }, wait);
  }

  stop(): void {
    if (this.timer !== null) clearTimeout(this.timer);
    this.timer = null;
  }

  private sendNext(): void {
    const { engine } = this;
    const dirty = engine.dirty();
    if (dirty.length === 0) return this.sendDetail();
    if (this.isCoarse) {
      this.sendCoarse();
      const wait = this.restsAt - performance.now();
      if (wait > 0) return this.schedule(wait);
    }
    const { end, left } = this.sendSlice('tiles', dirty, (t, out) => engine.renderTile(t, out));
    if (left === 0 || end > (this.pendingTold ?? 0) + TELL_MS) this.tellPending(left);
    if (left) return this.schedule();
    this.isCoarse = false;
    if (engine.detail?.dirty().length) this.schedule();
    this.onDone();
  }

  /** A slice of the detail sheet, when the albedo is done. */
  private sendDetail(): void {
    const { detail } = this.engine;
    const dirty = detail?.dirty() ?? [];
    if (!detail || dirty.length === 0) return;
    const { left } = this.sendSlice('detail', dirty, (t, out) => {
      detail.render(t, out);
      return ALL_SUBS;
    });
    if (left) this.schedule();
  }

  /** Sends as many tiles as one slice of time allows. @param render makes a tile and tells which of its sub-tiles changed */
  private sendSlice(
    event: 'tiles' | 'detail',
    dirty: readonly number[],
    render: (tile: number, out: Uint8Array) => number,
  ): { readonly end: number; readonly left: number } {
    const end = performance.now() + SLICE_MS;
    const tiles: number[] = [];
    const subs: number[] = [];
    const tile = new Uint8Array(TILE_BYTES);
    const pixels = new Uint8Array(Math.min(dirty.length, TILES_A_MESSAGE) * TILE_BYTES);
    for (const t of dirty) {
      if (tiles.length === TILES_A_MESSAGE || (tiles.length > 0 && performance.now() > end)) break;
      subs.push(render(t, tile));
      tileToRows(tile, pixels.subarray(tiles.length * TILE_BYTES, (tiles.length + 1) * TILE_BYTES));
      tiles.push(t);
    }
    const sent = pixels.slice(0, tiles.length * TILE_BYTES);
    const left = dirty.length - tiles.length;
    this.emit(event, { tiles, subs, pixels: sent, left }, [sent.buffer]);
    return { end, left };
  }

  private tellPending(left: number): void {
    this.pendingTold = left === 0 ? null : performance.now();
    this.emit('pending', left);
  }

  /** What of the coarse picture is out of date. */
  private sendCoarse(): void {
    const { coarse } = this.engine;
    const tiles = coarse?.dirty() ?? [];
    if (!coarse || tiles.length === 0) return;
    const numbers = [...tiles];
    const tile = new Uint8Array(TILE_BYTES);
    const pixels = new Uint8Array(numbers.length * TILE_BYTES);
    numbers.forEach((t, i) => {
      coarse.render(t, tile);
      tileToRows(tile, pixels.subarray(i * TILE_BYTES, (i + 1) * TILE_BYTES));
    });
    this.emit('coarse', { stride: coarse.stride, tiles: numbers, pixels }, [pixels.buffer]);
  }
}
