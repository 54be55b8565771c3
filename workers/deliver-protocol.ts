import type { CheckHow, CheckReport, RampsToCheck } from '../core/checks';
import type { DeliverySettings, HullHow } from '../core/delivery';
import type {
  BackOptions,
  BroughtBack,
  DeliveredAlpha,
  DetailChannels,
  FlattenSurface,
  ProjectDocument,
} from '../core/engine';
import type { GlbDetail, OraImage, Picture } from '../core/formats';
import type { UvMesh } from '../core/mesh';
import type { Seated } from '../core/ramps';

/** One sheet as the paint worker tells it, and how far it reaches. */
interface SheetToFinish {
  readonly surface: FlattenSurface;
  /** Of 8 bit, or of 16. */
  readonly rows: Uint8Array | Uint16Array;
  readonly size: number;
  readonly bleed: number;
}

/** A file that leaves, by its name. */
export type NamedFile = readonly [name: string, bytes: Uint8Array | string];

/** What leaves the project is written by a worker of its own: its encoders are fetched when they are first needed. */
export type DeliverMethods = {
  albedo: {
    params: SheetToFinish & {
      alpha: DeliveredAlpha;
      how: Pick<DeliverySettings, 'format' | 'quality' | 'halving' | 'effort'>;
    };
    result: Uint8Array;
  };
  /** The detail sheet of one sheet. `rows`: as `compositeDetail` gives them. */
  detailPng: { params: SheetToFinish & { channels: DetailChannels }; result: Uint8Array };
  openRaster: { params: { image: OraImage }; result: Uint8Array };
  /** Every layer of a sheet as a PNG of the sheet's size, from the ground up. @param name what stands before the layers' own names */
  layerPictures: { params: { image: OraImage; name: string }; result: NamedFile[] };
  /** `ramps`: what lies on the ramp sheet, if anything does. `widths`: of each sheet, as `compositeDetail` gives its rows. */
  unlitGlb: {
    params: {
      mesh: UvMesh;
      name: string;
      textures: readonly Uint8Array[];
      detail?: GlbDetail | undefined;
      ramps?: { readonly seated: Seated; readonly sheet: Picture } | undefined;
      hull?:
        | (Omit<HullHow, 'widths'> & { readonly details: readonly { size: number; rows: Uint8Array }[] })
        | undefined;
    };
    result: Uint8Array;
  };
  /** The model as OBJ with its materials. */
  obj: {
    params: { mesh: UvMesh; name: string; library: string; pictures: readonly string[] };
    result: { readonly obj: string; readonly mtl: string };
  };
  /** The layout of one sheet as a picture. */
  layout: { params: { mesh: UvMesh; size: number; sheet: number }; result: Uint8Array };
  /** The largest level of a KTX2 file, as a graphics card gets it. */
  decodeKtx2: { params: { bytes: Uint8Array }; result: Picture };
  encodePng: { params: { picture: Picture }; result: Uint8Array };
  /** Frames of one size as a picture that moves; `delay` of each, ms. */
  apng: { params: { frames: readonly Picture[]; delay: number }; result: Uint8Array };
  /** A sheet in the flat local colours of what lies on it. */
  flatColors: {
    params: {
      document: Pick<ProjectDocument, 'layers' | 'regions'>;
      mesh: UvMesh;
      size: number;
      sheet: number;
    };
    result: Picture;
  };
  zip: { params: { files: readonly NamedFile[] }; result: Uint8Array };
  /** Looks at all sheets as they would leave; what the format loses is read from its file again. */
  check: {
    params: {
      mesh: UvMesh;
      sheets: readonly SheetToFinish[];
      alpha: DeliveredAlpha;
      how: CheckHow;
      ramps: RampsToCheck | undefined;
      settings: Pick<DeliverySettings, 'format' | 'quality' | 'halving' | 'effort'>;
    };
    result: CheckReport;
  };
  /** What a file that came back holds. */
  broughtBack: { params: BackOptions; result: BroughtBack };
};
