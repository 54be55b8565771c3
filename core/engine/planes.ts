import type { ProjectDocument } from '../document';
import { baseOf, isBase } from '../layers';
import type { ChannelPaint } from '../model';
import { EMPTY_TILE, type Stroke } from '../paint';
import type { PixelStore, TileState } from '../pixels';

/**
 * Strokes of all planes, and what they lie on. A plane that the document names among its bases wasn't empty when its strokes from
 * number `strokes` on began: its base has what differs from it now, tile by tile.
 */
export class Channels {
  private readonly pixels: PixelStore;
  private readonly strokes = new Map<number, readonly Stroke[]>();

  constructor(pixels: PixelStore, strokes: ReadonlyMap<number, readonly Stroke[]>) {
    this.pixels = pixels;
    for (const [plane, list] of strokes) this.strokes.set(plane, list);
  }

  /** Strokes of a plane, oldest first. */
  strokesOf(plane: number): readonly Stroke[] {
    return this.strokes.get(plane) ?? [];
  }

  /** Sets all strokes of a plane, oldest first. */
  setStrokes(plane: number, strokes: readonly Stroke[]): void {
    if (strokes.length) this.strokes.set(plane, strokes);
    else this.strokes.delete(plane);
  }

  /** Every plane that has pixels or strokes. */
  numbers(): readonly number[] {
    return [...new Set([...this.pixels.planeNumbers().filter((p) => !isBase(p)), ...this.strokes.keys()])];
  }

  /**
   * What has to be kept of a plane's base when a stroke comes onto it.
   *
   * @param touched the stroke's tiles as they were before it
   */
  baseBefore(document: ProjectDocument, plane: number, touched: readonly TileState[]): TileState[] {
    const base = document.bases.find((b) => b.plane === plane);
    if (!base) return [];
    const number = baseOf(plane);
    const fresh = this.strokesOf(plane).length <= base.strokes;
    // With no stroke on it yet the plane is its base: what is still kept of an earlier one is void.
    const states = new Map<number, TileState>();
    if (fresh)
      for (const tile of this.pixels.tiles(number)) states.set(tile, { plane: number, tile, bytes: null });
    for (const { tile, bytes } of touched) {
      if (fresh || !this.pixels.has(number, tile)) {
        states.set(tile, { plane: number, tile, bytes: bytes ?? EMPTY_TILE });
      }
    }
    return [...states.values()];
  }

  /** What makes a plane's present pixels its base. */
  baseIsNow(plane: number): TileState[] {
    const number = baseOf(plane);
    return this.pixels.tiles(number).map((tile) => ({ plane: number, tile, bytes: null }));
  }

  /** A plane with all that carrying it elsewhere needs. */
  paintOf(document: ProjectDocument, plane: number): ChannelPaint {
    const tiles = new Map([...this.pixels.states(plane)].map(({ tile, bytes }) => [tile, bytes]));
    const all = this.strokesOf(plane);
    const base = document.bases.find((b) => b.plane === plane);
    const since = base ? all.slice(base.strokes) : all;
    return {
      plane,
      tiles,
      base: base ? this.wholeBase(plane, tiles, since.length > 0) : null,
      strokes: since,
      allStrokes: all.length,
    };
  }

  private wholeBase(
    plane: number,
    tiles: ReadonlyMap<number, Uint8Array>,
    painted: boolean,
  ): Map<number, Uint8Array> {
    const out = new Map(tiles);
    if (!painted) return out;
    for (const { tile, bytes } of this.pixels.states(baseOf(plane))) {
      if (bytes.every((b) => b === 0)) out.delete(tile);
      else out.set(tile, bytes);
    }
    return out;
  }
}
