import { detailReport } from '../../compositor';
import { flattenSurface } from '../../engine';
import { hasDetails, type ProjectDocument } from '../../document';
import { CoreError } from '../../errors';
import { paletteTokens, type KeptFile, type OraImage } from '../../formats';
import type { UvMesh } from '../../mesh';
import { rampPicture, sheetOfRamps, type Assigned } from '../../ramps';
import type { SurfaceMap } from '../../surface';
import { deliveredNames, type DeliveredNames } from '../export-names';
import {
  deliveredSize,
  isDeep,
  PARCELS,
  suitableSize,
  textureEnding,
  type DeliverySettings,
  type ExportItem,
} from '../settings';
import { deliveryReport } from './report';
import type { DoWork, NamedFile } from './works';

/** The project that is delivered: its engine, here or in a worker. */
export interface DeliverySource {
  readonly document: ProjectDocument;
  readonly mesh: UvMesh;
  /** What lies on the ramp sheet; null where nothing does. */
  readonly seated: Assigned | null;
  /** What came as a file; null if there is none of that id. */
  file(id: number): Promise<Uint8Array | null>;
  surface(): SurfaceMap;
  /** A sheet's albedo, rows from the top; of 16 bit a channel. */
  rows(sheet: number): Promise<Uint8Array>;
  deepRows(sheet: number): Promise<Uint16Array>;
  detailRows(sheet: number): Promise<Uint8Array>;
  layered(sheet: number): Promise<OraImage>;
  projectFile(): Promise<Uint8Array>;
  recipe(): Promise<object>;
}

/** What can leave a project: some things it may not have. */
export const exportsOf = (
  { layers, ramps, palette }: ProjectDocument,
  { outline }: Pick<DeliverySettings, 'outline'>,
): ExportItem[] => {
  const isThere: Partial<Record<ExportItem, boolean>> = {
    detail: hasDetails(layers),
    'toon-model': hasDetails(layers) || (outline !== null && outline.width > 0),
    ramps: ramps !== null,
    'palette-strip': palette.length > 0,
    'palette-tokens': palette.length > 0,
  };
  return PARCELS.filter((exportItem) => isThere[exportItem] !== false);
};

/**
 * Makes what leaves a project: each thing once, however many files it goes into. The application, the command line and the server all deliver by
 * it, so that the same settings give the same files.
 */
export class ExportMaker {
  readonly names: DeliveredNames;
  /** As they are meant for this project: its size is told. */
  readonly settings: DeliverySettings;
  /** What the standard of layered pictures couldn't hold, by the sheet. */
  readonly notes = new Map<number, readonly string[]>();
  private readonly source: DeliverySource;
  private readonly run: DoWork;
  private readonly made = new Map<string, Promise<unknown>>();

  /** @param names other ones than the settings' pattern gives */
  constructor(source: DeliverySource, settings: DeliverySettings, run: DoWork, names?: DeliveredNames) {
    const { document } = source;
    this.source = source;
    this.run = run;
    this.settings = { ...settings, size: settings.size ?? suitableSize(document.sheets) };
    this.names = names ?? deliveredNames(document, this.settings);
  }

  /**
   * The files of a parcel.
   *
   * @param only the number of one sheet; left out: all of them
   * @throws CoreError `bad-argument` if the project hasn't got it, and as the source and the work do
   */
  async exportItem(exportItem: ExportItem, only?: number): Promise<readonly NamedFile[]> {
    const { names, source } = this;
    const { document } = source;
    const sheets = only === undefined ? [...document.sheets.keys()] : [only];
    const ofSheets = async (
      titles: readonly string[],
      make: (sheet: number) => Promise<Uint8Array>,
    ): Promise<NamedFile[]> => {
      const files: NamedFile[] = [];
      for (const sheet of sheets) files.push([titles[sheet]!, await make(sheet)]);
      return files;
    };
    switch (exportItem) {
      case 'albedo':
        return ofSheets(names.albedo, (sheet) => this.albedo(sheet));
      case 'detail':
        return ofSheets(names.detail, (sheet) => this.detail(sheet));
      case 'layers':
        return ofSheets(names.layers, (sheet) => this.openRaster(sheet));
      case 'layer-pictures': {
        const files: NamedFile[] = [];
        for (const sheet of sheets) {
          const image = await this.layered(sheet);
          files.push(...(await this.run('layerPictures', { image, name: names.layerPictures[sheet]! })));
        }
        return files;
      }
      case 'layout':
        return ofSheets(names.layout, (sheet) =>
          this.run('layout', { mesh: source.mesh, size: this.sizeOf(sheet), sheet }),
        );
      case 'ramps':
        return [[names.ramps, await this.run('encodePng', { picture: this.rampSheet() })]];
      case 'model':
        return [[names.model, await this.model(false)]];
      case 'toon-model':
        return [[names.toon, await this.model(true)]];
      case 'obj':
        return this.obj();
      case 'palette-strip':
        return [[names.strip, await this.run('paletteStrip', { colors: document.palette })]];
      case 'palette-tokens':
        return [[names.tokens, paletteTokens(document.name, document.palette)]];
      case 'project':
        return [[names.project, await source.projectFile()]];
      case 'recipe':
        return [[names.recipe, asJson(await source.recipe())]];
      case 'report':
        return [[names.report, asJson(deliveryReport(document, names, this.settings))]];
    }
  }

  /** The model's file, with all that a toon shader wants or without. */
  async model(isToon: boolean): Promise<Uint8Array> {
    const { source, settings } = this;
    const { document, seated } = source;
    const hasDetail = isToon && hasDetails(document.layers);
    const textures = await this.everySheet((sheet) => this.albedo(sheet));
    const detail = hasDetail
      ? { pngs: await this.everySheet((sheet) => this.detail(sheet)), says: detailReport(settings.channels) }
      : undefined;
    return this.run('glb', {
      mesh: await this.litMesh(),
      name: document.name,
      textures,
      file: await this.keptFile(),
      material: settings.material,
      detail,
      ramps: document.ramps && seated ? { seated, sheet: this.rampSheet() } : undefined,
      hull: isToon ? await this.hull(hasDetail) : undefined,
    });
  }

  /** The file that the model came in; null where none is kept or wanted. */
  private async keptFile(): Promise<KeptFile | null> {
    const { modelFile } = this.source.document;
    if (!modelFile || this.settings.plain) return null;
    const bytes = await this.source.file(modelFile.id);
    return bytes && { bytes, placing: modelFile.placing };
  }

  /** A sheet as it is finished for what leaves. */
  async toFinish(sheet: number, format = this.settings.format) {
    const { source, settings } = this;
    return {
      surface: flattenSurface(source.surface(), sheet),
      size: this.sizeOf(sheet),
      bleed: settings.bleed ?? Infinity,
      rows: await (isDeep(format) ? source.deepRows(sheet) : source.rows(sheet)),
    };
  }

  /** What is the same for several files is made once. */
  private once<T>(key: string, make: () => Promise<T>): Promise<T> {
    let known = this.made.get(key) as Promise<T> | undefined;
    if (!known) this.made.set(key, (known = make()));
    return known;
  }

  private sizeOf(sheet: number): number {
    return deliveredSize(this.source.document.sheets, this.settings, sheet);
  }

  private async everySheet<T>(make: (sheet: number) => Promise<T>): Promise<T[]> {
    const out: T[] = [];
    for (const sheet of this.source.document.sheets.keys()) out.push(await make(sheet));
    return out;
  }

  /** @param format as it is set where it is left out */
  private albedo(sheet: number, format = this.settings.format): Promise<Uint8Array> {
    return this.once(`albedo ${sheet} ${format}`, async () => {
      const { settings } = this;
      const finish = await this.toFinish(sheet, format);
      return this.run('albedo', { ...finish, alpha: settings.alpha, how: { ...settings, format } });
    });
  }

  private detailRows(sheet: number): Promise<Uint8Array> {
    return this.once(`detail rows ${sheet}`, () => this.source.detailRows(sheet));
  }

  private detail(sheet: number): Promise<Uint8Array> {
    return this.once(`detail ${sheet}`, async () => {
      const { source, settings } = this;
      return this.run('detailPng', {
        surface: flattenSurface(source.surface(), sheet),
        size: this.sizeOf(sheet),
        bleed: settings.bleed ?? Infinity,
        rows: await this.detailRows(sheet),
        channels: settings.channels,
      });
    });
  }

  private layered(sheet: number): Promise<OraImage> {
    return this.once(`layered ${sheet}`, () => this.source.layered(sheet));
  }

  private async openRaster(sheet: number): Promise<Uint8Array> {
    const image = await this.layered(sheet);
    this.notes.set(sheet, image.notes);
    return this.run('openRaster', { image });
  }

  /** The model with the normals that a light plan lights it by, where that is wanted. */
  private litMesh(): Promise<UvMesh> {
    return this.once('mesh', async () => {
      const { mesh, document } = this.source;
      const plan = document.lights.find((l) => l.id === this.settings.normalsOf)?.plan;
      if (!plan) return mesh;
      return { ...mesh, normals: await this.run('litNormals', { mesh, plan, regions: document.regions }) };
    });
  }

  private async hull(hasDetail: boolean) {
    const { outline } = this.settings;
    if (!outline || outline.width <= 0) return undefined;
    const { sheets } = this.source.document;
    const details = hasDetail
      ? await this.everySheet(async (k) => ({ size: sheets[k]!.size, rows: await this.detailRows(k) }))
      : [];
    return { ...outline, details };
  }

  private async obj(): Promise<NamedFile[]> {
    const { names, source, settings } = this;
    // What reads an OBJ reads PNG.
    const format = textureEnding(settings.format) === '.png' ? settings.format : 'png';
    const pictures = names.albedo.map((file) => file.replace(/\.\w+$/, '.png'));
    const textures = await this.everySheet((sheet) => this.albedo(sheet, format));
    const made = await this.run('obj', {
      mesh: await this.litMesh(),
      name: source.document.name,
      library: names.mtl,
      pictures,
    });
    return [
      [names.obj, made.obj],
      [names.mtl, made.mtl],
      ...textures.map((png, k): NamedFile => [pictures[k]!, png]),
    ];
  }

  private rampSheet() {
    const { ramps } = this.source.document;
    if (!ramps) throw new CoreError('bad-argument', 'There is no ramp sheet yet. Make one at Block in.');
    return rampPicture(sheetOfRamps(ramps), ramps.size);
  }
}

const asJson = (value: unknown): string => `${JSON.stringify(value, null, 2)}\n`;
