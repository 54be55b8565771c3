import { smoothstep, type Vec3 } from '../../math';
import { FACING_FULL, FACING_NONE, type Reach } from '../../paint';
import {
  codeAt,
  layersOfTile,
  PlaceReader,
  texelOnSheet,
  TILE_TEXELS,
  type ChannelTiles,
  type SurfaceMap,
} from '../../surface';

/** Places a side that are looked at on each sheet at the most. */
const MOST_SIDE = 512;

/** How much of each sheet a stroke may change, coarsely. */
export interface ReachMap {
  /** Places a side. */
  readonly side: number;
  /** 0..255 a place, rows from the top, a sheet. */
  readonly sheets: readonly Uint8Array[];
}

/** What holds a stroke that begins somewhere. */
export interface Holds {
  /** Null: everywhere. */
  readonly reach: Reach | null;
  /** The surface there, where what faces away from it is left alone; null: it isn't. */
  readonly facing: Vec3 | null;
  /** The plane, where only what is painted is changed; null: all is. */
  readonly painted: ChannelTiles | null;
}

/** What a stroke may change, looked at in few places of each sheet. */
export function reachMap(surface: SurfaceMap, { reach, facing, painted }: Holds): ReachMap {
  const side = Math.min(MOST_SIDE, ...surface.sheets.map(({ size }) => size));
  const reader = new PlaceReader(surface);
  const sheets = surface.sheets.map((sheet) => {
    const out = new Uint8Array(side * side);
    const step = sheet.size / side;
    const at = (i: number): number => Math.floor((i + 0.5) * step);
    for (let y = 0; y < side; y++) {
      for (let x = 0; x < side; x++) {
        const texel = texelOnSheet(sheet, at(x), at(y));
        const pixels = Math.floor(texel / TILE_TEXELS);
        const i = texel % TILE_TEXELS;
        for (const tile of layersOfTile(surface, pixels)) {
          const code = codeAt(surface, tile * TILE_TEXELS + i);
          if (code < 0) continue;
          let value = reach ? reach.at(tile, i, code) : 255;
          if (value > 0 && painted) value *= (painted.get(pixels)?.[i * 4 + 3] ?? 0) / 255;
          if (value > 0 && facing) {
            const { nx, ny, nz } = reader.tile(tile)!;
            const cos = (nx[i]! * facing[0] + ny[i]! * facing[1] + nz[i]! * facing[2]) / 32767;
            value *= smoothstep(FACING_NONE, FACING_FULL, cos);
          }
          // Where several places share a texel it is painted from any.
          out[y * side + x] = Math.max(out[y * side + x]!, Math.round(value));
        }
      }
    }
    return out;
  });
  return { side, sheets };
}
