import { finishAlbedo, type DeliveredAlpha, type FlattenSurface } from '../../engine';
import { inChannels, type DetailChannels } from '../../compositor';
import {
  encodePng,
  layoutPicture,
  paletteStrip,
  writeMtl,
  writeObj,
  writeOpenRasterBeside,
  writeGlb,
  type GlbDetail,
  type GlbMaterial,
  type KeptFile,
  type OraImage,
  type NamedColor,
  type Picture,
} from '../../formats';
import { plannedNormals, type LightPlan } from '../../light';
import { pieceOnSheet, type UvMesh } from '../../mesh';
import { splitSeated, type Assigned } from '../../ramps';
import { layerFiles, zipOf } from '../files';
import { hullOf, type HullHow } from '../hull';
import type { DeliverySettings } from '../settings';
import { encodeTexture } from '../texture';

type Progress = (done: number) => void;

/** One sheet as the engine tells it, and how far it reaches. */
export interface SheetToFinish {
  readonly surface: FlattenSurface;
  /** Of 8 bit, or of 16. */
  readonly rows: Uint8Array | Uint16Array;
  readonly size: number;
  readonly bleed: number;
}

/** A file that leaves, by its name. */
export type NamedFile = readonly [name: string, bytes: Uint8Array | string];

/** A sheet as it leaves, of as many bits as its rows have. */
export const finished = (
  { surface, rows, size, bleed }: SheetToFinish,
  alpha: DeliveredAlpha,
  onProgress?: Progress,
) => {
  const how = { size, bleed, alpha, ...(onProgress && { onProgress }) };
  return rows instanceof Uint16Array ? finishAlbedo(surface, rows, how) : finishAlbedo(surface, rows, how);
};

/** What takes long of a delivery. Each is asked for by name, so that a worker can do it; nothing of it knows a project. */
export const DELIVERY_WORKS = {
  albedo: (
    {
      alpha,
      how,
      ...sheet
    }: SheetToFinish & {
      readonly alpha: DeliveredAlpha;
      readonly how: Pick<DeliverySettings, 'format' | 'quality' | 'halving' | 'effort'>;
    },
    progress: Progress,
  ): Promise<Uint8Array> => {
    // Halvings take as long again as all before them.
    const share = how.format === 'ktx2' ? 0.2 : 1;
    const picture = finished(sheet, alpha, (done) => progress(done * share));
    const onProgress = (done: number): void => progress(share + done * (1 - share));
    return encodeTexture(picture, { ...how, isColor: true, onProgress });
  },
  /** The detail sheet of one sheet. `rows`: as `compositeDetail` gives them. */
  detailPng: (
    { channels, ...sheet }: SheetToFinish & { readonly channels: DetailChannels },
    progress: Progress,
  ): Uint8Array => encodePng(inChannels(finished(sheet, 'opaque', progress) as Picture, channels)),
  openRaster: ({ image }: { readonly image: OraImage }, progress: Progress): Promise<Uint8Array> =>
    writeOpenRasterBeside(image, progress),
  /** Every layer of a sheet as a PNG of the sheet's size, from the ground up. `name`: what stands before the layers' own names */
  layerPictures: (
    { image, name }: { readonly image: OraImage; readonly name: string },
    progress: Progress,
  ): readonly NamedFile[] => layerFiles(image, name, progress),
  /**
   * The model as GLB. `file`: what it was read from, in which the paint is put. `ramps`: what lies on the ramp sheet, if anything does.
   * `details`: of each sheet, as `compositeDetail` gives its rows.
   */
  glb: ({
    mesh,
    name,
    textures,
    file = null,
    material = 'unlit',
    detail,
    ramps,
    hull: outline,
  }: {
    readonly mesh: UvMesh;
    readonly name: string;
    readonly textures: readonly Uint8Array[];
    readonly file?: KeptFile | null;
    readonly material?: GlbMaterial;
    readonly detail?: GlbDetail | undefined;
    readonly ramps?: { readonly seated: Assigned; readonly sheet: Picture } | undefined;
    readonly hull?:
      | (Omit<HullHow, 'widths'> & {
          readonly details: readonly { readonly size: number; readonly rows: Uint8Array }[];
        })
      | undefined;
  }): Promise<Uint8Array> => {
    const widths = outline?.details.length ? { widths: outline.details.map(lineWidths) } : {};
    const hull = outline && hullOf(mesh, { ...outline, ...widths });
    const look = { name, albedos: textures, material, detail, hull };
    if (!ramps) return writeGlb(mesh, look, file);
    const { own, onRamps } = splitSeated(mesh, ramps.seated);
    const png = encodePng(ramps.sheet);
    return writeGlb(own, { ...look, ramps: { mesh: onRamps, png } }, file);
  },
  /** The model as OBJ with its materials. */
  obj: ({
    mesh,
    name,
    library,
    pictures,
  }: {
    readonly mesh: UvMesh;
    readonly name: string;
    readonly library: string;
    readonly pictures: readonly string[];
  }): { readonly obj: string; readonly mtl: string } => ({
    obj: writeObj(mesh, name, library),
    mtl: writeMtl(name, pictures),
  }),
  /** The layout of one sheet as a picture. */
  layout: ({
    mesh,
    size,
    sheet,
  }: {
    readonly mesh: UvMesh;
    readonly size: number;
    readonly sheet: number;
  }): Uint8Array => {
    const { mesh: own } = pieceOnSheet(mesh, sheet);
    return encodePng(layoutPicture(own, { size, lines: true, fill: true, colors: new Map() }));
  },
  paletteStrip: ({ colors }: { readonly colors: readonly NamedColor[] }): Uint8Array => paletteStrip(colors),
  /** The normals that a light plan lights a model by. */
  litNormals: ({
    mesh,
    plan,
    regions,
  }: {
    readonly mesh: UvMesh;
    readonly plan: LightPlan;
    readonly regions: readonly { readonly id: number; readonly faces: readonly number[] }[];
  }): Float32Array => plannedNormals(mesh, plan, (id) => regions.find((r) => r.id === id)?.faces ?? []),
  encodePng: ({ picture }: { readonly picture: Picture }): Uint8Array => encodePng(picture),
  zip: ({ files }: { readonly files: readonly NamedFile[] }): Uint8Array => zipOf(files),
} as const;

export type DeliveryWorks = typeof DELIVERY_WORKS;
export type WorkParams<M extends keyof DeliveryWorks> = Parameters<DeliveryWorks[M]>[0];
export type WorkResult<M extends keyof DeliveryWorks> = Awaited<ReturnType<DeliveryWorks[M]>>;

/** Has a piece of a delivery's work done, here or by a worker. */
export type DoWork = <M extends keyof DeliveryWorks>(
  method: M,
  params: WorkParams<M>,
) => Promise<WorkResult<M>>;

/** Does it here. */
export const workHere: DoWork = async (method, params) => {
  const work = DELIVERY_WORKS[method] as (params: unknown, progress: Progress) => never;
  return work(params, () => undefined);
};

/** The outline's width out of the detail sheet, as a grey picture. */
function lineWidths({ size, rows }: { readonly size: number; readonly rows: Uint8Array }): Picture {
  const channels = { r: 'line', g: 'line', b: 'line', a: null } as const;
  return inChannels({ width: size, height: size, rgba: rows }, channels);
}
