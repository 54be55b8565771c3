import {
  alignedPixels,
  differenceAt,
  differenceField,
  heatColors,
  labRows,
  localShifts,
  pixelsOfSheet,
  putHeat,
  type AssignedPaint,
  type Difference,
  type PreparedMatch,
  type SeenModel,
} from '../core/match';
import { sheetOfFace } from '../core/mesh';
import { TILE, sheetOfTile, tilesAcross } from '../core/surface';
import type { HeatPatch } from './match-protocol';
import type { MatchModel } from './match-model';

/** Differences on a sheet are told for no more texels a side than this. */
const HEAT_SIDE = 512;

/** What is seen of each texel, for differences on the sheet. */
interface SheetPixels {
  readonly sides: readonly number[];
  /** For each sheet the pixel that shows a texel of its small picture. */
  readonly pixels: readonly Int32Array[];
}

/** Differences that follow the brush. */
interface LiveField {
  readonly of: Difference;
  /** A pixel. */
  readonly field: Float32Array;
  readonly tileOf: Int32Array;
}

/** What differences are told from. */
interface HeatInputs {
  model(): MatchModel;
  /** @throws CoreError `bad-argument` while the camera isn't known */
  prepare(): PreparedMatch;
  /** Colours of what is seen, RGBA a pixel. */
  colors(seen: SeenModel): Uint8Array;
  /** What has its colours from a ramp sheet. */
  assigned(): AssignedPaint | null;
}

/** Differences from the reference on the picture and on all sheets, which follow the brush. */
export class LiveHeat {
  /** Which are looked at; null: none. */
  of: Difference | null = null;
  /** How pixels were aligned last: while one paints, that holds. */
  aligned: Int32Array | null = null;
  private readonly inputs: HeatInputs;
  private sheetPixels: SheetPixels | null = null;
  private live: LiveField | null = null;

  constructor(inputs: HeatInputs) {
    this.inputs = inputs;
  }

  /** What is compared is another. */
  forget(): void {
    this.sheetPixels = null;
    this.aligned = null;
    this.live = null;
  }

  /** All of the paint may have changed. */
  repainted(): void {
    this.live = null;
  }

  /** @param touched tiles whose texels have changed; null: all are told */
  patch(touched: ReadonlySet<number> | null): HeatPatch {
    const prepared = this.inputs.prepare();
    const of = this.of ?? 'all';
    const { width, height } = prepared.camera;
    const way = of === 'all' ? 'oneWay' : 'bothWays';
    const live = touched && this.live?.of === of ? this.live : this.beginLive(prepared, of);
    if (touched) this.refresh(prepared, live, touched);
    const tiles = touched ? [...touched] : this.allTiles();
    const { spans } = this.inputs.model();
    const { sides, pixels } = this.pixelsOnSheets(prepared);
    const block = Math.max(...spans.map(({ size }, s) => (sides[s]! * TILE) / size));
    const out = new Uint8Array(tiles.length * block * block * 4);
    tiles.forEach((tile, k) => {
      const sheet = sheetOfTile(spans, tile);
      const { size, firstTile } = spans[sheet]!;
      const across = tilesAcross(size);
      const side = sides[sheet]!;
      const own = (side * TILE) / size;
      const [x0, y0] = [((tile - firstTile) % across) * own, Math.floor((tile - firstTile) / across) * own];
      for (let y = 0; y < block; y++) {
        for (let x = 0; x < block; x++) {
          const texel = (y0 + Math.floor((y * own) / block)) * side + x0 + Math.floor((x * own) / block);
          const pixel = pixels[sheet]![texel]!;
          putHeat(pixel < 0 ? NaN : live.field[pixel]!, way, out, (k * block * block + y * block + x) * 4);
        }
      }
    });
    return { of, picture: heatColors(live.field, way), width, height, block, tiles, pixels: out };
  }

  /** Tells all differences once; from then on only those of tiles that are painted on. */
  private beginLive({ seen, referenceLab, camera }: PreparedMatch, of: Difference): LiveField {
    const { width, height } = camera;
    const painted = this.inputs.colors(seen);
    const lab = labRows(painted);
    // While the brush moves, what lies where stays as it was.
    const aligned = (this.aligned ??= alignedPixels(
      localShifts(referenceLab, lab, width, height),
      referenceLab,
      width,
      height,
    ));
    const field = differenceField(referenceLab, lab, aligned, of);
    this.live = { of, field, tileOf: this.live?.tileOf ?? this.tilesSeen() };
    return this.live;
  }

  private refresh(
    { seen, referenceLab }: PreparedMatch,
    live: LiveField,
    touched: ReadonlySet<number>,
  ): void {
    const fresh: number[] = [];
    live.tileOf.forEach((tile, i) => {
      if (tile >= 0 && touched.has(tile)) fresh.push(i);
    });
    const some = {
      width: fresh.length,
      height: 1,
      faces: Int32Array.from(fresh, (i) => seen.faces[i]!),
      shares: Float32Array.from(fresh.flatMap((i) => [seen.shares[i * 2]!, seen.shares[i * 2 + 1]!])),
    };
    const lab = labRows(this.inputs.colors(some));
    const aligned = this.aligned!;
    fresh.forEach((i, k) => {
      live.field[i] = differenceAt(referenceLab, lab, aligned[i]!, k, live.of);
    });
  }

  /** The tile that each pixel shows a texel of; -1: none. */
  private tilesSeen(): Int32Array {
    const { mesh, seen } = this.inputs.prepare();
    const { spans } = this.inputs.model();
    const { indices, uvs } = mesh;
    const assigned = this.inputs.assigned();
    return Int32Array.from(seen.faces, (f, i) => {
      if (f < 0 || (assigned && assigned.seatOf[f]! >= 0)) return -1;
      const [sb, sc] = [seen.shares[i * 2]!, seen.shares[i * 2 + 1]!];
      const at = (k: 0 | 1): number => {
        const x =
          uvs[indices[f * 3]! * 2 + k]! * (1 - sb - sc) +
          uvs[indices[f * 3 + 1]! * 2 + k]! * sb +
          uvs[indices[f * 3 + 2]! * 2 + k]! * sc;
        return x - Math.floor(x);
      };
      const { size, firstTile } = spans[sheetOfFace(mesh, f)]!;
      const across = tilesAcross(size);
      const column = Math.min(across - 1, Math.floor((at(0) * size) / TILE));
      const row = Math.min(across - 1, Math.floor(((1 - at(1)) * size) / TILE));
      return firstTile + row * across + column;
    });
  }

  private allTiles(): number[] {
    const last = this.inputs.model().spans.at(-1)!;
    return Array.from({ length: last.firstTile + tilesAcross(last.size) ** 2 }, (_, t) => t);
  }

  private pixelsOnSheets({ mesh, camera, seen }: PreparedMatch): SheetPixels {
    if (this.sheetPixels) return this.sheetPixels;
    const sides = this.inputs.model().spans.map(({ size }) => Math.min(size, HEAT_SIDE));
    const pixels = sides.map((side, sheet) => pixelsOfSheet(mesh, camera, seen, sheet, side));
    this.sheetPixels = { sides, pixels };
    return this.sheetPixels;
  }
}
