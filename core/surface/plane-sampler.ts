import { sheetOfFace, type SurfacePoint } from '../mesh';
import { codeOnIsland, texelOnSheet, type SurfaceMap } from './surface-map';
import { TILE_TEXELS } from './tiling';
import { wrap } from './triangle-on-sheet';

/** Straight-alpha RGBA8 by tile; undefined where it is empty. */
export interface ChannelTiles {
  get(tile: number): Uint8Array | undefined;
}

/** Reads a plane between its texels: bilinear, weighted by alpha, never across the border of an island. */
export class ChannelSampler {
  readonly rgba = new Uint8Array(4);
  private readonly surface: SurfaceMap;
  private readonly tiles: ChannelTiles;
  private r = 0;
  private g = 0;
  private b = 0;
  private a = 0;
  private weight = 0;

  constructor(surface: SurfaceMap, tiles: ChannelTiles) {
    this.surface = surface;
    this.tiles = tiles;
  }

  /** Begins another mean. */
  begin(): void {
    this.r = this.g = this.b = this.a = this.weight = 0;
  }

  /** Adds what lies at a place of the surface's mesh. */
  add({ face, w0, w1, w2 }: Pick<SurfacePoint, 'face' | 'w0' | 'w1' | 'w2'>): void {
    const { surface, tiles } = this;
    const { mesh } = surface;
    const sheet = surface.sheets[sheetOfFace(mesh, face)]!;
    const { size } = sheet;
    const i = mesh.indices[face * 3]! * 2;
    const j = mesh.indices[face * 3 + 1]! * 2;
    const k = mesh.indices[face * 3 + 2]! * 2;
    const uv = mesh.uvs;
    const x = (uv[i]! * w0 + uv[j]! * w1 + uv[k]! * w2) * size - 0.5;
    const y = (1 - (uv[i + 1]! * w0 + uv[j + 1]! * w1 + uv[k + 1]! * w2)) * size - 0.5;
    const island = surface.islandOfFace[face]!;
    const x0 = Math.floor(x);
    const y0 = Math.floor(y);
    for (let n = 0; n < 4; n++) {
      const tx = x0 + (n & 1);
      const ty = y0 + (n >> 1);
      const w = (n & 1 ? x - x0 : 1 - (x - x0)) * (n >> 1 ? y - y0 : 1 - (y - y0));
      const t = texelOnSheet(sheet, wrap(tx, size), wrap(ty, size));
      if (w === 0 || codeOnIsland(surface, t, island) < 0) continue;
      this.weight += w;
      const tile = tiles.get(Math.floor(t / TILE_TEXELS));
      if (!tile) continue;
      const o = (t % TILE_TEXELS) * 4;
      const alpha = tile[o + 3]! * w;
      this.a += alpha;
      this.r += tile[o]! * alpha;
      this.g += tile[o + 1]! * alpha;
      this.b += tile[o + 2]! * alpha;
    }
  }

  /** Leaves the mean in `rgba`. @returns false if it is empty */
  finish(): boolean {
    if (this.weight === 0 || this.a === 0) return false;
    const { rgba } = this;
    rgba[3] = Math.floor(this.a / this.weight + 0.5);
    if (rgba[3] === 0) return false;
    rgba[0] = Math.floor(this.r / this.a + 0.5);
    rgba[1] = Math.floor(this.g / this.a + 0.5);
    rgba[2] = Math.floor(this.b / this.a + 0.5);
    return true;
  }
}
