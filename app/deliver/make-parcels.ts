import {
  deliveredNames,
  isDeep,
  PARCELS,
  textureEnding,
  type DeliveredNames,
  type DeliverySettings,
  type Parcel,
} from '../../core/delivery';
import { detailReport, flattenSurface, hasDetails, type ProjectDocument } from '../../core/engine';
import { CoreError } from '../../core/errors';
import { paletteTokens } from '../../core/formats';
import type { UvMesh } from '../../core/mesh';
import { rampPicture, sheetOfRamps } from '../../core/ramps';
import type { NamedFile } from '../../workers';
import { seatedNow, useProject, type Session } from '../project';
import { deliverPool, jobPool } from '../shared/platform';
import { useUi } from '../shared/ui-store';
import { deliveryReport } from './delivery-report';
import { suitableSize, useDelivery } from './delivery-settings';

/** What can leave this project: some things it may not have. @param hasOutline whether one is wanted in the model for a toon shader */
export const parcelsOf = ({ layers, ramps, palette }: ProjectDocument, hasOutline: boolean): Parcel[] => {
  const isThere: Partial<Record<Parcel, boolean>> = {
    detail: hasDetails(layers),
    'toon-model': hasDetails(layers) || hasOutline,
    ramps: ramps !== null,
    'palette-strip': palette.length > 0,
    'palette-tokens': palette.length > 0,
  };
  return PARCELS.filter((parcel) => isThere[parcel] !== false);
};

/** Texels a side that a sheet leaves with. */
export const deliveredSize = (
  { sheets }: ProjectDocument,
  { size }: Pick<DeliverySettings, 'size'>,
  sheet: number,
): number => (size ?? suitableSize(sheets)) || sheets[sheet]!.size;

/**
 * How large a sheet leaves and how far it is bled, with the surface that tells where.
 *
 * @throws CoreError `bad-argument` while the surface is still being measured
 */
export function reachOf(document: ProjectDocument, settings: Pick<DeliverySettings, 'size' | 'bleed'>) {
  const { surface } = useProject.getState();
  if (!surface)
    throw new CoreError('bad-argument', 'The surface is still being measured. Try again in a moment.');
  return (sheet: number) => ({
    surface: flattenSurface(surface, sheet),
    size: deliveredSize(document, settings, sheet),
    bleed: settings.bleed ?? Infinity,
  });
}

export interface Making {
  readonly signal: AbortSignal;
  readonly onProgress: (done: number) => void;
}

/**
 * One delivery of the open project: makes each thing once, however many files it goes into.
 *
 * @throws CoreError `cancelled` if it is stopped or the project is closed meanwhile, and what the workers throw
 */
export class Delivering {
  readonly names: DeliveredNames;
  private readonly session: Session;
  private readonly document: ProjectDocument;
  private readonly settings: DeliverySettings;
  private readonly how: Making;
  private readonly made = new Map<string, Promise<unknown>>();

  constructor(session: Session, document: ProjectDocument, how: Making) {
    this.session = session;
    this.document = document;
    this.settings = settingsNow();
    this.names = deliveredNames(document, this.settings);
    this.how = how;
  }

  /** The files of a parcel. @param only the number of one sheet; left out: all of them */
  async parcel(parcel: Parcel, only?: number): Promise<NamedFile[]> {
    const { names, document } = this;
    const sheets = only === undefined ? [...document.sheets.keys()] : [only];
    const ofSheets = async (
      titles: readonly string[],
      make: (sheet: number) => Promise<Uint8Array>,
    ): Promise<NamedFile[]> => {
      const files: NamedFile[] = [];
      for (const sheet of sheets) files.push([titles[sheet]!, await make(sheet)]);
      return files;
    };
    switch (parcel) {
      case 'albedo':
        return ofSheets(names.albedo, (sheet) => this.albedo(sheet));
      case 'detail':
        return ofSheets(names.detail, (sheet) => this.detail(sheet));
      case 'layers':
        return ofSheets(names.layers, (sheet) => this.openRaster(sheet));
      case 'layer-pictures':
        return (await Promise.all(sheets.map((sheet) => this.layerPictures(sheet)))).flat();
      case 'layout':
        return ofSheets(names.layout, (sheet) => this.layout(sheet));
      case 'ramps':
        return [[names.ramps, await this.run('encodePng', { picture: this.ramps().sheet })]];
      case 'model':
        return [[names.model, await this.unlitModel()]];
      case 'toon-model':
        return [[names.toon, await this.toonModel()]];
      case 'obj':
        return this.obj();
      case 'palette-strip':
        return [[names.strip, await jobPool.run('palettePng', { colors: document.palette }, this.how)]];
      case 'palette-tokens':
        return [[names.tokens, paletteTokens(document.name, document.palette)]];
      case 'project':
        return [[names.project, wanted(await this.session.projectFile())]];
      case 'recipe':
        return [[names.recipe, asJson(wanted(await this.session.recipe()))]];
      case 'report':
        return [[names.report, asJson(deliveryReport(document, names, this.settings))]];
    }
  }

  /** The model's file, to be looked at. */
  glb(which: 'model' | 'toon-model'): Promise<Uint8Array> {
    return which === 'model' ? this.unlitModel() : this.toonModel();
  }

  /** What is the same for several files is made once. */
  private once<T>(key: string, make: () => Promise<T>): Promise<T> {
    let known = this.made.get(key) as Promise<T> | undefined;
    if (!known) this.made.set(key, (known = make()));
    return known;
  }

  private run: typeof deliverPool.run = (method, params) => deliverPool.run(method, params, this.how);

  private sizeOf(sheet: number): number {
    return deliveredSize(this.document, this.settings, sheet);
  }

  private reach() {
    return reachOf(this.document, this.settings);
  }

  /** @param format as it is set where it is left out */
  private albedo(sheet: number, format = this.settings.format): Promise<Uint8Array> {
    return this.once(`albedo ${sheet} ${format}`, async () => {
      const { session, settings } = this;
      const rows = wanted(await (isDeep(format) ? session.deepRows(sheet) : session.sheetRows(sheet)));
      const { alpha } = settings;
      return this.run('albedo', { ...this.reach()(sheet), rows, alpha, how: { ...settings, format } });
    });
  }

  private details(sheet: number): Promise<Uint8Array> {
    return this.once(`details ${sheet}`, async () => wanted(await this.session.detailRows(sheet)));
  }

  private detail(sheet: number): Promise<Uint8Array> {
    return this.once(`detail ${sheet}`, async () => {
      const rows = await this.details(sheet);
      const { channels } = useDelivery.getState();
      return this.run('detailPng', { ...this.reach()(sheet), rows, channels });
    });
  }

  private layered(sheet: number) {
    return this.once(`layered ${sheet}`, async () => wanted(await this.session.layered(sheet)));
  }

  private async openRaster(sheet: number): Promise<Uint8Array> {
    const image = await this.layered(sheet);
    const ora = await this.run('openRaster', { image });
    useDelivery.setState(({ flattened }) => ({
      flattened: new Map(flattened).set(sheet, image.notes),
    }));
    return ora;
  }

  private async layerPictures(sheet: number): Promise<NamedFile[]> {
    const image = await this.layered(sheet);
    return this.run('layerPictures', { image, name: this.names.layerPictures[sheet]! });
  }

  private layout(sheet: number): Promise<Uint8Array> {
    return this.run('layout', { mesh: this.mesh(), size: this.sizeOf(sheet), sheet });
  }

  private mesh(): UvMesh {
    const { mesh } = useProject.getState();
    if (!mesh) throw new CoreError('cancelled', 'The project was closed.');
    return mesh;
  }

  /** The model with the normals that a light plan lights it by, where that is wanted. */
  private litMesh(): Promise<UvMesh> {
    return this.once('mesh', async () => {
      const { lights, regions: all } = this.document;
      const plan = lights.find((l) => l.id === useDelivery.getState().normalsOf)?.plan;
      const mesh = this.mesh();
      if (!plan) return mesh;
      const regions = all.map(({ id, faces }) => [id, faces] as const);
      return { ...mesh, normals: await jobPool.run('plannedNormals', { mesh, plan, regions }, this.how) };
    });
  }

  private everySheet<T>(make: (sheet: number) => Promise<T>): Promise<T[]> {
    return Promise.all([...this.document.sheets.keys()].map(make));
  }

  private async unlitModel(): Promise<Uint8Array> {
    const textures = await this.everySheet((sheet) => this.albedo(sheet));
    return this.run('unlitGlb', {
      mesh: await this.litMesh(),
      name: this.document.name,
      textures,
      ramps: this.rampsOnModel(),
    });
  }

  private async toonModel(): Promise<Uint8Array> {
    const textures = await this.everySheet((sheet) => this.albedo(sheet));
    const says = detailReport(useDelivery.getState().channels);
    const has = hasDetails(this.document.layers);
    const detail = has ? { pngs: await this.everySheet((sheet) => this.detail(sheet)), says } : undefined;
    return this.run('unlitGlb', {
      mesh: await this.litMesh(),
      name: this.document.name,
      textures,
      detail,
      ramps: this.rampsOnModel(),
      hull: await this.hull(has),
    });
  }

  private async hull(hasDetail: boolean) {
    const { outline } = this.settings;
    if (!outline || outline.width <= 0) return undefined;
    const { sheets } = this.document;
    const details = hasDetail
      ? await this.everySheet(async (k) => ({ size: sheets[k]!.size, rows: await this.details(k) }))
      : [];
    return { ...outline, details };
  }

  private async obj(): Promise<NamedFile[]> {
    const { names, document } = this;
    // What reads an OBJ reads PNG.
    const format = textureEnding(this.settings.format) === '.png' ? this.settings.format : 'png';
    const pictures = names.albedo.map((file) => file.replace(/\.\w+$/, '.png'));
    const textures = await this.everySheet((sheet) => this.albedo(sheet, format));
    const made = await this.run('obj', {
      mesh: await this.litMesh(),
      name: document.name,
      library: names.mtl,
      pictures,
    });
    return [
      [names.obj, made.obj],
      [names.mtl, made.mtl],
      ...textures.map((png, k): NamedFile => [pictures[k]!, png]),
    ];
  }

  private ramps() {
    const { ramps } = this.document;
    if (!ramps) throw new CoreError('bad-argument', 'There is no ramp sheet yet. Make one at Block in.');
    return { sheet: rampPicture(sheetOfRamps(ramps), ramps.size) };
  }

  /** What of the open model lies on the ramp sheet. */
  private rampsOnModel() {
    const seated = seatedNow();
    return this.document.ramps && seated ? { seated, ...this.ramps() } : undefined;
  }
}

/** What is set; the outline is as the toon view shows it. */
function settingsNow(): DeliverySettings {
  const { settings } = useDelivery.getState();
  const { width, outline: color } = useUi.getState().toon;
  return { ...settings, outline: settings.outline && { width, color } };
}

const asJson = (value: unknown): string => `${JSON.stringify(value, null, 2)}\n`;

/** @throws CoreError `cancelled` if the paint worker had no answer, which it has told itself */
function wanted<T>(made: T | null): T {
  if (made === null) throw new CoreError('cancelled', 'That could not be made. Try again.');
  return made;
}
