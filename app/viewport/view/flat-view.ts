import type { Pane } from '../../shared/panes';
import type { SheetPlace } from '../gl/sheet-pass';

/** Free space around the sheet when it is fitted, pixels. */
const AIR = 14;

const LEAST_SCALE = 0.05;
const MOST_SCALE = 64;

/** What the flat view asks of the picture that it is part of. */
export interface FlatHost {
  /** Where the sheet is shown; null if it isn't. */
  pane(): Pane | null;
  /** Texels a side of the sheet that is shown. */
  size(): number;
  changed(): void;
}

/** How the sheet lies in its pane: fitted, moved, brought nearer. */
export class FlatView {
  /** Its upper left corner in the pane, CSS pixels, and CSS pixels a texel. */
  readonly place: SheetPlace = { x: 0, y: 0, scale: 1 };
  private readonly host: FlatHost;

  constructor(host: FlatHost) {
    this.host = host;
  }

  /** CSS pixels a side of the sheet. */
  get pixels(): number {
    return this.place.scale * this.host.size();
  }

  /** The whole sheet, in the middle of its pane. */
  fit(): void {
    const pane = this.host.pane();
    if (!pane) return;
    const { place } = this;
    place.scale = Math.max(16, Math.min(pane.width, pane.height) - 2 * AIR) / this.host.size();
    place.x = (pane.width - this.pixels) / 2;
    place.y = (pane.height - this.pixels) / 2;
    this.host.changed();
  }

  /** @param x, y what stays where it is, CSS pixels of the pane */
  zoom(x: number, y: number, factor: number): void {
    const { place } = this;
    const scale = Math.min(MOST_SCALE, Math.max(LEAST_SCALE, place.scale * factor));
    place.x = x - ((x - place.x) * scale) / place.scale;
    place.y = y - ((y - place.y) * scale) / place.scale;
    place.scale = scale;
    this.host.changed();
  }

  pan(dx: number, dy: number): void {
    this.place.x += dx;
    this.place.y += dy;
    this.host.changed();
  }

  /** Where a point of the pane lies on the sheet, u from the left, v from the bottom. */
  toSheet(x: number, y: number): readonly [u: number, v: number] {
    return [(x - this.place.x) / this.pixels, 1 - (y - this.place.y) / this.pixels];
  }
}
