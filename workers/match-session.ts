import { paletteOf } from '../core/color';
import { CoreError } from '../core/errors';
import type { Picture } from '../core/formats';
import {
  alignedPixels,
  comparedPicture,
  contourOf,
  differenceAt,
  differenceField,
  findEitherWay,
  fitCamera,
  heatColors,
  labRows,
  localShifts,
  pictureMask,
  pictureRamps,
  pixelsOfSheet,
  prepareMatch,
  putHeat,
  refineBySilhouette,
  reportOn,
  scaledCamera,
  seeModel,
  seenColors,
  simplified,
  type Difference,
  type FittedCamera,
  type MatchCamera,
  type Matched,
  type MatchReport,
  type PictureMask,
  type PictureMatch,
  type PictureRamp,
  type PreparedMatch,
  type Rows,
  type AssignedPaint,
  type SeenModel,
  type SilhouetteFit,
  type Simplified,
} from '../core/match';
import type { Vec3 } from '../core/math';
import { subjectOf, sheetOfFace, type UvMesh } from '../core/mesh';
import { SUB, TILE, TILE_BYTES, sheetOfTile, sheetSpans, tilesAcross, type SheetSpan } from '../core/surface';
import type {
  HeatPatch,
  LookPictures,
  MatchMethods,
  MatchReference,
  MatchTiles,
  PartColors,
  ReferenceRead,
} from './match-protocol';

/** Differences on a sheet are told for no more texels a side than this. */
const HEAT_SIDE = 512;

interface Model {
  readonly mesh: UvMesh;
  readonly spans: readonly SheetSpan[];
  /** RGBA rows a sheet. */
  readonly pictures: readonly Uint8Array[];
}

interface Reference {
  readonly rows: Rows;
  readonly scale: number;
  readonly match: PictureMatch;
  readonly told: PictureMask;
  readonly regions: MatchReference['regions'];
}

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

/** Compares the paint in hand with one reference. All that was reckoned is kept until something of it changes. */
export class MatchSession {
  private model: Model | null = null;
  private file: Rows | null = null;
  private fileScale = 1;
  private reference: Reference | null = null;
  private prepared: PreparedMatch | null = null;
  private matched: Matched | null = null;
  private sheetPixels: SheetPixels | null = null;
  /** How pixels were aligned last: while one paints, that holds. */
  private aligned: Int32Array | null = null;
  private heatOf: Difference | null = null;
  private live: LiveField | null = null;
  private seated: AssignedPaint | null = null;

  setModel({ mesh, sizes, pictures }: MatchMethods['setModel']['params']): void {
    // Flat backdrops are no part of what is compared.
    this.model = { mesh: subjectOf(mesh), spans: sheetSpans(sizes), pictures };
    this.modelChanged();
  }

  /** What of the model has its colours from a ramp sheet; null: nothing. @returns differences, where they are looked at */
  setRamps(seated: AssignedPaint | null): HeatPatch | null {
    this.seated = seated;
    this.matched = null;
    this.live = null;
    return this.heatOf && this.prepared ? this.heatIn(null) : null;
  }

  /** @returns what of the differences has changed, where they are looked at */
  setTiles(fresh: MatchTiles): HeatPatch | null {
    if (!this.model) return null;
    for (const [i, tile] of fresh.tiles.entries())
      copyTile(this.model, tile, fresh.subs[i]!, fresh.pixels, i);
    this.matched = null;
    return this.heatOf && this.prepared ? this.heatIn(new Set(fresh.tiles)) : null;
  }

  setReference(picture: Picture, { match, regions }: Omit<MatchReference, 'file'>): ReferenceRead {
    this.file = picture;
    return this.setMatch({ match, regions });
  }

  setMatch({ match, regions }: Omit<MatchReference, 'file'>): ReferenceRead {
    const { file, model } = this;
    if (!file) throw noReference();
    const rows = comparedPicture(file, match.mirror);
    this.fileScale = rows.width / file.width;
    const camera = match.camera && scaledCamera(match.camera, rows.width, rows.height);
    const covered =
      model && camera ? Uint8Array.from(seeModel(model.mesh, camera).faces, (f) => (f >= 0 ? 1 : 0)) : null;
    const told = pictureMask(rows, match, model?.mesh.parts ?? [], this.fileScale, covered);
    this.reference = { rows, scale: this.fileScale, match, told, regions };
    this.forget();
    return {
      width: rows.width,
      height: rows.height,
      scale: this.fileScale,
      problem: told.problem,
      mask: told.mask.map((m) => m * 255),
    };
  }

  /** @throws CoreError `bad-argument` while the camera isn't known */
  report(): MatchReport {
    return this.match().report;
  }

  look(how: Simplified): LookPictures {
    const prepared = this.prepare();
    const { width, height } = prepared.camera;
    const painted = this.matched?.painted ?? this.colors(prepared.seen);
    const [theirs, own] = [
      contourOf(prepared.mask, width, height),
      contourOf(
        Uint8Array.from(prepared.seen.faces, (f) => (f >= 0 ? 1 : 0)),
        width,
        height,
      ),
    ];
    return {
      width,
      height,
      reference: simplified(prepared.picture, how).slice(),
      painted: simplified({ rgba: painted, width, height }, how).slice(),
      outlines: theirs.map((t, i) => t + own[i]! * 2),
    };
  }

  /** Differences on the picture and on all sheets; from then on they follow the paint. */
  heat(of: Difference | null): HeatPatch | null {
    this.heatOf = of;
    if (!of) return null;
    this.prepare();
    return this.heatIn(null);
  }

  fitPairs({ pairs, how, lens, shifted }: MatchMethods['fitPairs']['params']): FittedCamera {
    const { file } = this;
    if (!file) throw noReference();
    return fitCamera(pairs, { width: file.width, height: file.height, how, lens, shifted });
  }

  refine(
    { camera, how }: MatchMethods['refine']['params'],
    onProgress: (done: number) => void,
  ): SilhouetteFit {
    const { mesh, rows, told, file } = this.figure();
    const start = scaledCamera(camera, rows.width, rows.height);
    const fit = refineBySilhouette(mesh, start, told.mask, { how }, onProgress);
    return { ...fit, camera: scaledCamera(fit.camera, file.width, file.height) };
  }

  find({ how }: MatchMethods['find']['params'], onProgress: (done: number) => void): SilhouetteFit {
    const { mesh, rows, told, file } = this.figure();
    const { width, height } = rows;
    const lab = labRows(rows.rgba, told.mask);
    // Of sides that look alike in outline, that one whose paint is nearer.
    const prefer = (camera: MatchCamera): number => {
      const seen = seeModel(mesh, scaledCamera(camera, width, height));
      const painted = labRows(this.colors(seen));
      let [sum, count] = [0, 0];
      for (let i = 0; i < seen.faces.length; i += 7) {
        const d = differenceAt(lab, painted, i, i);
        if (Number.isNaN(d)) continue;
        sum += d;
        count++;
      }
      return count > 0 ? -sum / count / 100 : 0;
    };
    const fit = findEitherWay(mesh, told.mask, { how, width, height }, prefer, onProgress);
    return { ...fit, camera: scaledCamera(fit.camera, file.width, file.height) };
  }

  ramps(toward: Vec3): PictureRamp[] {
    const { aligned } = this.match();
    return pictureRamps(this.prepare(), toward, aligned);
  }

  palettes({ parts, count }: MatchMethods['palettes']['params']): PartColors[] {
    const { mesh, seen, reference } = this.prepare();
    const { aligned } = this.match();
    return parts.flatMap((part): PartColors[] => {
      const number = mesh.parts.indexOf(part);
      const pixels: number[] = [];
      seen.faces.forEach((f, i) => {
        if (f < 0 || mesh.faceParts[f] !== number) return;
        const j = aligned[i]! * 4;
        if (reference[j + 3]! > 0) pixels.push(...reference.subarray(j, j + 4));
      });
      return pixels.length > 0 ? [{ part, palette: paletteOf(Uint8Array.from(pixels), count) }] : [];
    });
  }

  // ---- what is kept ----------------------------------------------------------------------------------------------------

  private modelChanged(): void {
    const { reference } = this;
    if (reference && this.file) this.setMatch(reference);
    this.forget();
  }

  private forget(): void {
    this.prepared = null;
    this.matched = null;
    this.sheetPixels = null;
    this.aligned = null;
    this.live = null;
  }

  private figure() {
    const { model, reference, file } = this;
    if (!model || !reference || !file) throw noReference();
    if (reference.told.problem && reference.match.mask.length === 0) {
      throw new CoreError(
        'bad-argument',
        `${reference.told.problem.split('. ')[0]}. Paint over the figure with the mask brush, or set pairs of places instead.`,
      );
    }
    return { mesh: model.mesh, rows: reference.rows, told: reference.told, file };
  }

  /** @throws CoreError `bad-argument` */
  private prepare(): PreparedMatch {
    if (this.prepared) return this.prepared;
    const { model, reference } = this;
    if (!model || !reference) throw noReference();
    const { rows, match, told, scale } = reference;
    if (!match.camera) {
      throw new CoreError(
        'bad-argument',
        'Where the reference was drawn from isn’t known yet. Let its camera be found, or set pairs of places.',
      );
    }
    if (!told.mask.includes(1)) {
      throw new CoreError(
        'bad-argument',
        'The reference’s mask holds nothing. Paint over what belongs to the model.',
      );
    }
    const camera = scaledCamera(match.camera, rows.width, rows.height);
    const pixel = ([x, y]: readonly [number, number]): [number, number] => [x * scale, y * scale];
    this.prepared = prepareMatch({
      mesh: model.mesh,
      camera,
      picture: rows,
      mask: told.mask,
      within: told.within,
      partMask: told.partMask.some((p) => p >= 0) ? told.partMask : null,
      regions: reference.regions.map(({ name, faces }) => {
        const has = new Uint8Array(model.mesh.faceParts.length);
        for (const f of faces) has[f] = 1;
        return { name, faces: has };
      }),
      spans: match.spans.map((s) => ({ ...s, picture: [pixel(s.picture[0]), pixel(s.picture[1])] })),
      drawn:
        match.how === 'drawn'
          ? match.pairs.map((p) => ({ model: p.model, picture: pixel(p.picture) }))
          : null,
    });
    return this.prepared;
  }

  private albedos() {
    const { model } = this;
    if (!model) throw noReference();
    return model.pictures.map((rgba, i) => ({
      width: model.spans[i]!.size,
      height: model.spans[i]!.size,
      rgba,
    }));
  }

  private colors(seen: SeenModel): Uint8Array {
    return seenColors(this.model!.mesh, seen, this.albedos(), this.seated);
  }

  private match(): Matched {
    this.matched ??= reportOn(this.prepare(), this.albedos(), this.seated);
    this.aligned = this.matched.aligned;
    return this.matched;
  }

  // ---- differences -----------------------------------------------------------------------------------------------------

  /** @param touched tiles whose texels have changed; null: all are told */
  private heatIn(touched: ReadonlySet<number> | null): HeatPatch {
    const prepared = this.prepare();
    const of = this.heatOf ?? 'all';
    const { width, height } = prepared.camera;
    const way = of === 'all' ? 'oneWay' : 'bothWays';
    const live = touched && this.live?.of === of ? this.live : this.beginLive(prepared, of);
    if (touched) this.refresh(prepared, live, touched);
    const tiles = touched ? [...touched] : this.allTiles();
    const { spans } = this.model!;
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
    const painted = this.colors(seen);
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
    const lab = labRows(this.colors(some));
    const aligned = this.aligned!;
    fresh.forEach((i, k) => {
      live.field[i] = differenceAt(referenceLab, lab, aligned[i]!, k, live.of);
    });
  }

  /** The tile that each pixel shows a texel of; -1: none. */
  private tilesSeen(): Int32Array {
    const { mesh, seen } = this.prepare();
    const { spans } = this.model!;
    const { indices, uvs } = mesh;
    return Int32Array.from(seen.faces, (f, i) => {
      if (f < 0 || (this.seated && this.seated.seatOf[f]! >= 0)) return -1;
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
    const last = this.model!.spans.at(-1)!;
    return Array.from({ length: last.firstTile + tilesAcross(last.size) ** 2 }, (_, t) => t);
  }

  private pixelsOnSheets({ mesh, camera, seen }: PreparedMatch): SheetPixels {
    if (this.sheetPixels) return this.sheetPixels;
    const sides = this.model!.spans.map(({ size }) => Math.min(size, HEAT_SIDE));
    const pixels = sides.map((side, sheet) => pixelsOfSheet(mesh, camera, seen, sheet, side));
    this.sheetPixels = { sides, pixels };
    return this.sheetPixels;
  }
}

const noReference = (): CoreError =>
  new CoreError('bad-argument', 'There is no reference to compare with. Add one on the easel.');

function copyTile(
  { spans, pictures }: Model,
  number: number,
  subs: number,
  pixels: Uint8Array,
  index: number,
): void {
  const sheet = sheetOfTile(spans, number);
  const { size, firstTile } = spans[sheet]!;
  const across = tilesAcross(size);
  const tile = number - firstTile;
  const [x, y] = [(tile % across) * TILE, Math.floor(tile / across) * TILE];
  for (let row = 0; row < TILE; row++) {
    for (let half = 0; half < 2; half++) {
      if (!(subs & (1 << ((row >> 5) * 2 + half)))) continue;
      const from = index * TILE_BYTES + (row * TILE + half * SUB) * 4;
      pictures[sheet]!.set(pixels.subarray(from, from + SUB * 4), ((y + row) * size + x + half * SUB) * 4);
    }
  }
}
