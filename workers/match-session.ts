import { paletteOf } from '../core/color';
import { CoreError } from '../core/errors';
import type { Picture } from '../core/formats';
import {
  comparedPicture,
  contourOf,
  differenceAt,
  findEitherWay,
  fitCamera,
  labRows,
  pictureMask,
  pictureRamps,
  prepareMatch,
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
import { subjectOf } from '../core/mesh';
import { sheetSpans } from '../core/surface';
import { LiveHeat } from './live-heat';
import { copyTile, type MatchModel } from './match-model';
import type {
  HeatPatch,
  LookPictures,
  MatchMethods,
  MatchReference,
  MatchTiles,
  PartColors,
  ReferenceRead,
} from './match-protocol';

interface Reference {
  readonly rows: Rows;
  readonly scale: number;
  readonly match: PictureMatch;
  readonly told: PictureMask;
  readonly regions: MatchReference['regions'];
}

/** Compares the paint in hand with one reference. All that was reckoned is kept until something of it changes. */
export class MatchSession {
  private model: MatchModel | null = null;
  private file: Rows | null = null;
  private fileScale = 1;
  private reference: Reference | null = null;
  private prepared: PreparedMatch | null = null;
  private matched: Matched | null = null;
  private seated: AssignedPaint | null = null;
  private readonly heatNow = new LiveHeat({
    model: () => this.model!,
    prepare: () => this.prepare(),
    colors: (seen) => this.colors(seen),
    assigned: () => this.seated,
  });

  setModel({ mesh, sizes, pictures }: MatchMethods['setModel']['params']): void {
    // Flat backdrops are no part of what is compared.
    this.model = { mesh: subjectOf(mesh), spans: sheetSpans(sizes), pictures };
    this.modelChanged();
  }

  /** What of the model has its colours from a ramp sheet; null: nothing. @returns differences, where they are looked at */
  setRamps(seated: AssignedPaint | null): HeatPatch | null {
    this.seated = seated;
    this.matched = null;
    this.heatNow.repainted();
    return this.heatNow.of && this.prepared ? this.heatNow.patch(null) : null;
  }

  /** @returns what of the differences has changed, where they are looked at */
  setTiles(fresh: MatchTiles): HeatPatch | null {
    if (!this.model) return null;
    for (const [i, tile] of fresh.tiles.entries())
      copyTile(this.model, tile, fresh.subs[i]!, fresh.pixels, i);
    this.matched = null;
    return this.heatNow.of && this.prepared ? this.heatNow.patch(new Set(fresh.tiles)) : null;
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
    this.heatNow.of = of;
    if (!of) return null;
    this.prepare();
    return this.heatNow.patch(null);
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
    this.heatNow.forget();
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
    this.heatNow.aligned = this.matched.aligned;
    return this.matched;
  }
}

const noReference = (): CoreError =>
  new CoreError('bad-argument', 'There is no reference to compare with. Add one on the easel.');
