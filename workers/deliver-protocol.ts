import type {
  CheckHow,
  CheckReport,
  DeliverySettings,
  DeliveryWorks,
  RampsToCheck,
  SheetToFinish,
  WorkParams,
  WorkResult,
} from '../core/delivery';
import type { BackOptions, BroughtBack, DeliveredAlpha } from '../core/engine';
import type { ProjectDocument } from '../core/document';
import type { Picture } from '../core/formats';
import type { UvMesh } from '../core/mesh';

type Works = { [M in keyof DeliveryWorks]: { params: WorkParams<M>; result: WorkResult<M> } };

/** What leaves the project is written by a worker of its own: its encoders are fetched when they are first needed. */
export type DeliverMethods = Works & {
  /** The largest level of a KTX2 file, as a graphics card gets it. */
  decodeKtx2: { params: { bytes: Uint8Array }; result: Picture };
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
