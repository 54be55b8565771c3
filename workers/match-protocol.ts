import type {
  Difference,
  DrawnHow,
  FittedCamera,
  MatchCamera,
  MatchReport,
  PictureMatch,
  PictureRamp,
  PointPair,
  AssignedPaint,
  SilhouetteFit,
  Simplified,
} from '../core/match';
import type { Vec3 } from '../core/math';
import type { UvMesh } from '../core/mesh';
import type { PaletteColor } from '../core/color';

/** Tiles of the albedo that are fresh; see `SheetCopy`. */
export interface MatchTiles {
  readonly tiles: readonly number[];
  /** Which of a tile's four sub-tiles are fresh, bit k for sub-tile k. */
  readonly subs: readonly number[];
  readonly pixels: Uint8Array;
}

export interface MatchReference {
  readonly file: Uint8Array;
  readonly match: PictureMatch;
  /** Its regions are told by themselves: triangles that belong to each. */
  readonly regions: readonly { readonly name: string; readonly faces: readonly number[] }[];
}

/** What became of a reference. */
export interface ReferenceRead {
  /** Pixels of the picture as it is compared, and how many of them a pixel of the file is. */
  readonly width: number;
  readonly height: number;
  readonly scale: number;
  /** Why its ground told no mask; empty where it did. */
  readonly problem: string;
  /** 255 a pixel that belongs to the model. */
  readonly mask: Uint8Array;
}

/** Two pictures of the same size, RGBA rows, seen through the reference's camera. */
export interface LookPictures {
  readonly width: number;
  readonly height: number;
  readonly reference: Uint8Array;
  readonly painted: Uint8Array;
  /** The outlines of both: 1 the reference's figure, 2 the model's, 3 both. */
  readonly outlines: Uint8Array;
}

/** Where differences have changed, or all of them. */
export interface HeatPatch {
  readonly of: Difference;
  /** The whole picture, RGBA rows. */
  readonly picture: Uint8Array;
  readonly width: number;
  readonly height: number;
  /** A side of a tile of the heat on the sheet, texels, and the tiles themselves. */
  readonly block: number;
  readonly tiles: readonly number[];
  readonly pixels: Uint8Array;
}

/** What is told of a part when its colours are taken over. */
export interface PartColors {
  readonly part: string;
  readonly palette: readonly PaletteColor[];
}

/** One reference beside the paint, in a worker of its own. */
export type MatchMethods = {
  setModel: {
    params: { mesh: UvMesh; sizes: readonly number[]; pictures: readonly Uint8Array[] };
    result: null;
  };
  setTiles: { params: MatchTiles; result: null };
  setRamps: { params: AssignedPaint | null; result: null };
  /** @throws CoreError `file-not-a-picture` */
  setReference: { params: MatchReference; result: ReferenceRead };
  /** How it goes with the model has changed, but not its file. */
  setMatch: { params: Omit<MatchReference, 'file'>; result: ReferenceRead };
  report: { params: null; result: MatchReport };
  look: { params: { how: Simplified }; result: LookPictures };
  /** Differences on picture and sheet; from then on `heat` events tell what changes with the paint, until null is asked for. */
  heat: { params: { of: Difference | null }; result: HeatPatch | null };
  fitPairs: {
    params: { pairs: readonly PointPair[]; how: DrawnHow; lens: boolean; shifted: boolean };
    result: FittedCamera;
  };
  /** Moves the camera until the silhouettes lie on one another; `progress` events. */
  refine: { params: { camera: MatchCamera; how: DrawnHow }; result: SilhouetteFit };
  /** Looks for the camera from all around; `progress` events. */
  find: { params: { how: DrawnHow }; result: SilhouetteFit };
  /** @see pictureRamps */
  ramps: { params: { toward: Vec3 }; result: PictureRamp[] };
  palettes: { params: { parts: readonly string[]; count: number }; result: PartColors[] };
};

export type MatchEvents = { progress: number; heat: HeatPatch };
