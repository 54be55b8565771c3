import type { Dab, StrokePaint } from '../paint';
import type { BlendMode } from '../stack';
import type { SurfaceMap } from '../surface';

/** The part of a surface map that painting reads. */
export type PaintSurface = Pick<SurfaceMap, 'px' | 'py' | 'pz' | 'nx' | 'ny' | 'nz' | 'part' | 'subBounds'>;

/** A surface in the kernels' own memory, with room for the coverage of a stroke. */
export interface PaintDesk extends PaintSurface {
  /** Coverage of the stroke in hand, 0..1 a texel. */
  readonly mask: Float32Array;
  /** Numbers of the sub-tiles that the last dab changed. */
  readonly dirty: Int32Array;
}

/** The hot loops of painting, as WebAssembly or as plain TypeScript. */
export interface Kernels {
  /** Copies a surface to where the kernels can reach it. */
  desk(surface: PaintSurface): PaintDesk;
  /** Lays one dab into the desk's coverage. @returns how many entries of `desk.dirty` are filled */
  dab(desk: PaintDesk, dab: Dab): number;
  /** One tile: `out` is `before` with the stroke laid on it. @param tile the tile's number, for its coverage */
  stroke(desk: PaintDesk, tile: number, before: Uint8Array, out: Uint8Array, paint: StrokePaint): void;
  /** Lays tiles on one another, the lowest first, and writes the result as straight-alpha RGBA8. */
  composite(layers: readonly LayerTile[], out: Uint8Array): void;
}

/** One layer's part in a composite. */
export interface LayerTile {
  /** Straight-alpha RGBA8 in tile order. */
  readonly tile: Uint8Array;
  readonly mode: BlendMode;
  readonly opacity: number;
}
