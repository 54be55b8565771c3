import type {
  BackOptions,
  BroughtBack,
  DeliveredAlpha,
  DetailChannels,
  FlattenSurface,
} from '../core/engine';
import type { GlbDetail, OraImage, Picture } from '../core/formats';
import type { UvMesh } from '../core/mesh';
import type { Seated } from '../core/ramps';

/** What leaves the project is written by a worker of its own: its encoders are fetched when they are first needed. */
export type DeliverMethods = {
  albedoPng: {
    params: {
      surface: FlattenSurface;
      rows: Uint8Array;
      size: number;
      bleed: number;
      alpha: DeliveredAlpha;
    };
    result: Uint8Array;
  };
  /** The detail sheet of one sheet. `rows`: as `compositeDetail` gives them. */
  detailPng: {
    params: {
      surface: FlattenSurface;
      rows: Uint8Array;
      size: number;
      bleed: number;
      channels: DetailChannels;
    };
    result: Uint8Array;
  };
  openRaster: { params: { image: OraImage }; result: Uint8Array };
  /** `ramps`: what lies on the ramp sheet, if anything does. */
  unlitGlb: {
    params: {
      mesh: UvMesh;
      name: string;
      pngs: readonly Uint8Array[];
      detail?: GlbDetail | undefined;
      ramps?: { readonly seated: Seated; readonly sheet: Picture } | undefined;
    };
    result: Uint8Array;
  };
  encodePng: { params: { picture: Picture }; result: Uint8Array };
  /** What a file that came back holds. */
  broughtBack: { params: BackOptions; result: BroughtBack };
};
