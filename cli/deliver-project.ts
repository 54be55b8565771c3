import { join } from 'node:path';
import { z } from 'zod';
import {
  deliveredNames,
  deliverySettings,
  encodeTexture,
  hullOf,
  isDeep,
  layerFiles,
  PARCELS,
  textureEnding,
  type DeliverySettings,
  type Parcel,
} from '../core/delivery';
import {
  compositeDetail,
  compositeSheet,
  compositeSheetDeep,
  detailReport,
  engineAtSize,
  finishAlbedo,
  flattenSurface,
  hasDetails,
  inChannels,
  layeredPicture,
  nodesOf,
  readProjectFile,
  recipeFromDocument,
  USUAL_CHANNELS,
  type Engine,
  type ProjectData,
} from '../core/engine';
import {
  encodePng,
  layoutPicture,
  paletteStrip,
  paletteTokens,
  writeMtl,
  writeObj,
  writeOpenRasterBeside,
  writeUnlitGlb,
  type GlbDetail,
} from '../core/formats';
import { createWasmKernels } from '../core/kernels';
import { contentHash } from '../core/math';
import { pieceOnSheet } from '../core/mesh';
import { onRampSheet } from '../core/ramps';
import type { SheetSize } from '../core/surface';
import { readBytes } from './options';
import { readJson } from './read-json';
import { webpReady } from './webp-module';
import { makeFolder, writeOut } from './write-out';

/** One project to be delivered. */
export interface DeliverJob {
  readonly file: string;
  readonly out: string;
  /** Texels a side at which it is painted again; null: each sheet at its own. */
  readonly size: SheetSize | null;
  /** Adds the layers as OpenRaster. */
  readonly ora: boolean;
  /** File of settings, or of a report that holds them; null: as usual, with plain names. */
  readonly settings: string | null;
}

/** What came of it. */
export interface DeliverReport {
  readonly layers: number;
  readonly strokes: number;
  readonly texelHash: string;
  readonly seconds: number;
}

/** What is made where no settings are given. */
const USUAL: readonly Parcel[] = ['albedo', 'detail', 'ramps', 'model', 'report'];

/**
 * Paints a project file again without a browser and writes what leaves.
 *
 * @throws UsageError, CoreError, OutputError with a sentence
 */
export async function deliverProject(
  { file, out, size, ora, settings: from }: DeliverJob,
  onProgress?: (done: number) => void,
): Promise<DeliverReport> {
  const settings = from === null ? null : await readJson(from, settingsFile);
  const data = readProjectFile(await readBytes(file));
  const began = performance.now();
  const engine = await engineAtSize(data, size, createWasmKernels(), onProgress);
  const parcels = settings?.parcels ?? [...USUAL, ...(ora ? (['layers'] as const) : [])];
  const making = new Making(engine, data, settings ?? deliverySettings.parse({}), settings === null);
  const files = new Map<string, Uint8Array | string>();
  const wanted = new Set<Parcel>(ora ? [...parcels, 'layers'] : parcels);
  for (const parcel of PARCELS)
    if (wanted.has(parcel))
      for (const [name, bytes] of await making.parcel(parcel)) files.set(join(out, name), bytes);
  const report = {
    layers: [...nodesOf(engine.document.layers)].length,
    strokes: [...data.strokes.values()].reduce((sum, list) => sum + list.length, 0),
    texelHash: making.texelHash(),
    ...making.says(),
    seconds: Math.round(performance.now() - began) / 1000,
  };
  files.set(join(out, making.reportName), `${JSON.stringify(report, null, 2)}\n`);
  await makeFolder(out);
  await writeOut(files);
  return report;
}

/** Settings as they are, or those of a report that the application wrote. */
const settingsFile = z.preprocess(
  (data) => z.object({ settings: z.unknown() }).safeParse(data).data?.settings ?? data,
  deliverySettings,
);

type Named = readonly [name: string, bytes: Uint8Array | string];

/** Makes what leaves one project, each thing once. */
class Making {
  private readonly engine: Engine;
  private readonly data: ProjectData;
  private readonly settings: DeliverySettings;
  private readonly names;
  private readonly plain: boolean;
  private readonly albedos = new Map<string, Promise<Uint8Array>>();
  private readonly hashed: Uint8Array[] = [];
  private notes: string[] | null = null;

  /** @param plain names that tell only what is in the file, as scripts expect them */
  constructor(engine: Engine, data: ProjectData, settings: DeliverySettings, plain: boolean) {
    this.engine = engine;
    this.data = data;
    this.settings = settings;
    this.plain = plain;
    this.names = plain ? plainNames(engine.surface.sheets.length) : deliveredNames(engine.document, settings);
  }

  get reportName(): string {
    return this.names.report;
  }

  async parcel(parcel: Parcel): Promise<Named[]> {
    const { names, engine, data } = this;
    const { document } = engine;
    const sheets = [...engine.surface.sheets.keys()];
    const each = async (
      titles: readonly string[],
      make: (sheet: number) => Promise<Uint8Array> | Uint8Array,
    ) => Promise.all(sheets.map(async (k): Promise<Named> => [titles[k]!, await make(k)]));
    switch (parcel) {
      case 'albedo':
        return each(names.albedo, (k) => this.albedo(k));
      case 'detail':
        return hasDetails(document.layers) ? each(names.detail, (k) => this.detail(k)) : [];
      case 'ramps': {
        const ramps = rampsOf(data);
        return ramps ? [[names.ramps, ramps.png]] : [];
      }
      case 'model':
        return [[names.model, await this.model(this.plain && hasDetails(document.layers), false)]];
      case 'toon-model':
        return [[names.toon, await this.model(hasDetails(document.layers), true)]];
      case 'obj':
        return this.obj();
      case 'layers':
        return each(names.layers, (k) => {
          const image = layeredPicture(engine, k);
          this.notes = [...new Set([...(this.notes ?? []), ...image.notes])];
          return writeOpenRasterBeside(image);
        });
      case 'layer-pictures':
        return sheets.flatMap((k) => layerFiles(layeredPicture(engine, k), names.layerPictures[k]!));
      case 'layout':
        return each(names.layout, (k) =>
          encodePng(
            layoutPicture(pieceOnSheet(data.mesh, k).mesh, {
              size: this.sizeOf(k),
              lines: true,
              fill: true,
              colors: new Map(),
            }),
          ),
        );
      case 'palette-strip':
        return document.palette.length > 0 ? [[names.strip, paletteStrip(document.palette)]] : [];
      case 'palette-tokens':
        return document.palette.length > 0
          ? [[names.tokens, paletteTokens(document.name, document.palette)]]
          : [];
      case 'recipe':
        return [
          [names.recipe, `${JSON.stringify(recipeFromDocument(document, this.patterns()), null, 2)}\n`],
        ];
      case 'project':
      // The project is what was given; the report is written at the end.
      case 'report':
        return [];
    }
  }

  /** One hash over all sheets, as they are flattened. */
  texelHash(): string {
    if (this.hashed.length === 0) for (const k of this.engine.surface.sheets.keys()) this.flat(k);
    const all = new Uint8Array(this.hashed.reduce((sum, rgba) => sum + rgba.length, 0));
    this.hashed.reduce((at, rgba) => {
      all.set(rgba, at);
      return at + rgba.length;
    }, 0);
    return contentHash(all);
  }

  says() {
    return {
      ...(hasDetails(this.engine.document.layers) && { detail: detailReport(USUAL_CHANNELS) }),
      ...(this.notes && { flattened: this.notes }),
      ...(!this.plain && { settings: this.settings }),
    };
  }

  private patterns(): Map<number, Uint8Array> {
    const { engine } = this;
    return new Map(
      engine.document.patterns.flatMap(({ id }) => {
        const bytes = engine.file(id);
        return bytes ? [[id, bytes] as const] : [];
      }),
    );
  }

  private sizeOf(sheet: number): number {
    return this.settings.size || this.engine.surface.sheets[sheet]!.size;
  }

  private how(sheet: number) {
    const { bleed, alpha } = this.settings;
    return { size: this.sizeOf(sheet), bleed: bleed ?? Infinity, alpha };
  }

  /** As 8 bit a channel. */
  private flat(sheet: number) {
    const { engine } = this;
    const surface = flattenSurface(engine.surface, sheet);
    const picture = finishAlbedo(surface, compositeSheet(engine, sheet), this.how(sheet));
    this.hashed[sheet] = picture.rgba;
    return picture;
  }

  private albedo(sheet: number, format = this.settings.format): Promise<Uint8Array> {
    const key = `${sheet} ${format}`;
    const make = async (): Promise<Uint8Array> => {
      if (textureEnding(format) === '.webp') await webpReady();
      const { engine } = this;
      const picture = isDeep(format)
        ? finishAlbedo(
            flattenSurface(engine.surface, sheet),
            compositeSheetDeep(engine, sheet),
            this.how(sheet),
          )
        : this.flat(sheet);
      return encodeTexture(picture, { ...this.settings, format, isColor: true });
    };
    let known = this.albedos.get(key);
    if (!known) this.albedos.set(key, (known = make()));
    return known;
  }

  private everySheet<T>(make: (sheet: number) => T): T[] {
    return [...this.engine.surface.sheets.keys()].map(make);
  }

  /** As the application delivers it where nothing else is chosen. */
  private detail(sheet: number): Uint8Array {
    const { engine } = this;
    const rows = compositeDetail(engine, sheet);
    const whole = finishAlbedo(flattenSurface(engine.surface, sheet), rows, {
      size: this.sizeOf(sheet),
      bleed: Infinity,
    });
    return encodePng(inChannels(whole, USUAL_CHANNELS));
  }

  private async model(withDetail: boolean, withHull: boolean): Promise<Uint8Array> {
    const { data, engine, settings } = this;
    const detail: GlbDetail | undefined = withDetail
      ? { pngs: this.everySheet((k) => this.detail(k)), says: detailReport(USUAL_CHANNELS) }
      : undefined;
    const ramps = rampsOf(data);
    return writeUnlitGlb(
      ramps?.own ?? data.mesh,
      engine.document.name,
      await Promise.all(this.everySheet((k) => this.albedo(k))),
      {
        detail,
        ramps: ramps && { mesh: ramps.onRamps, png: ramps.png },
        hull: withHull && settings.outline ? hullOf(data.mesh, settings.outline) : undefined,
      },
    );
  }

  private async obj(): Promise<Named[]> {
    const { names, data, engine, settings } = this;
    const format = textureEnding(settings.format) === '.png' ? settings.format : 'png';
    const pictures = names.albedo.map((name) => name.replace(/\.\w+$/, '.png'));
    const { name } = engine.document;
    const textures = await Promise.all(this.everySheet((k) => this.albedo(k, format)));
    return [
      [names.obj, writeObj(data.mesh, name, names.mtl)],
      [names.mtl, writeMtl(name, pictures)],
      ...textures.map((png, k): Named => [pictures[k]!, png]),
    ];
  }
}

/** Names that tell only what is in a file. */
function plainNames(sheets: number): ReturnType<typeof deliveredNames> {
  const of = (what: string, ending: string): string[] =>
    Array.from({ length: sheets }, (_, k) => (sheets > 1 ? `${what}-${k + 1}${ending}` : `${what}${ending}`));
  return {
    albedo: of('albedo', '.png'),
    detail: of('detail', '.png'),
    layers: of('layers', '.ora'),
    layout: of('layout', '.png'),
    layerPictures: of('layer', ''),
    model: 'model.glb',
    toon: 'toon.glb',
    obj: 'model.obj',
    mtl: 'model.mtl',
    ramps: 'ramps.png',
    report: 'report.json',
    strip: 'palette.png',
    tokens: 'palette.json',
    project: 'project.zip',
    recipe: 'recipe.json',
    whole: 'delivery.zip',
  };
}

/** What of the model lies on the ramp sheet, and the sheet. */
function rampsOf({ document, mesh }: ProjectData) {
  const found = onRampSheet(mesh, document.ramps, document.regions);
  return found && { ...found, png: encodePng(found.sheet) };
}
