import { z } from 'zod';
import { hexColor } from '../color';
import { DETAILS } from './details';
import { layerId, layerSchemas, nodeBase, TWINS, type Layer } from '../layers';
import { lightPlan } from '../light';
import { pictureMatchSchema } from '../match';
import { faceRunsSchema, MAX_SHEETS } from '../mesh';
import { cutSchema, MAX_CUTS, regionSchema } from '../region';
import { placingSchema } from '../math';
import { projectRampsSchema } from '../ramps';
import { MAX_PATTERN_SIDE } from '../pattern';
import { SHEET_SIZES } from '../surface';
import {
  MAX_CAMERAS,
  MAX_FRAMES,
  MAX_GUARDS,
  MAX_LIGHTS,
  MAX_LOOKS,
  MAX_PATTERNS,
  MAX_REFERENCES,
  MAX_REGIONS,
  MAX_SWATCHES,
} from './limits';

/** The form of documents that is written. Older ones are brought up to it by migrate.ts. */
export const DOCUMENT_VERSION = 13;

const groupBase = z.strictObject({
  kind: z.literal('group'),
  ...nodeBase,
  /** Its layers are composited by themselves first; if not, they blend with what lies below the group. */
  isolated: z.boolean().default(false),
  /** The mask of the detail sheet that it goes into; null: the albedo. Only what stands in the build-up itself may have one. */
  detail: z.enum(DETAILS).nullable().default(null),
});

/** Layers that are laid down together. From the ground up. */
export type Group = z.infer<typeof groupBase> & { readonly layers: readonly LayerNode[] };
export type LayerNode = Layer | Group;

const groupSchema = groupBase.extend({
  get layers(): z.ZodType<LayerNode[]> {
    return z.array(nodeSchema);
  },
});

export const nodeSchema: z.ZodType<LayerNode> = z.discriminatedUnion('kind', [
  ...layerSchemas,
  groupSchema,
]) as z.ZodType<LayerNode>;

/** Swatches of one group stand together; those without a group stand first. */
export const swatchSchema = z.strictObject({
  id: layerId,
  name: z.string().max(60),
  color: hexColor,
  group: z.string().max(60).default(''),
});

const coordinate = z.number().min(-1e6).max(1e6);

/** How a picture lies on the easel's board. */
export const boardPlaceSchema = z.strictObject({
  /** Its middle, in units of the board: to the right and down. */
  x: coordinate,
  y: coordinate,
  /** Units of the board a pixel of the picture. */
  scale: z.number().min(1e-3).max(1e3),
  /** Clockwise, radians. */
  turn: z.number().min(-100).max(100),
  mirror: z.boolean(),
  /** Seen in values only. */
  values: z.boolean(),
  /** What of it is seen, parts of its width and height from the upper left. */
  crop: z.strictObject({
    left: z.number().min(0).max(1),
    top: z.number().min(0).max(1),
    right: z.number().min(0).max(1),
    bottom: z.number().min(0).max(1),
  }),
});

export const referenceSchema = z.strictObject({
  id: layerId,
  name: z.string().max(120),
  width: z.int().positive(),
  height: z.int().positive(),
  board: boardPlaceSchema,
  note: z.string().max(500),
  /** How it goes with the model; null: nothing is known of that. */
  match: pictureMatchSchema.nullable(),
});

const share = z.number().min(0).max(1);

/** A kept state of the painting; its picture is kept as a file of the same id. */
export const lookSchema = z.strictObject({
  id: layerId,
  name: z.string().min(1).max(60),
  /** When it was kept, ms since 1970. */
  time: z.number().min(0).max(1e15),
  /** The reference that it was compared with, and how far it was from it; null: it was compared with none. */
  match: z
    .strictObject({
      reference: layerId,
      /** CIEDE2000. */
      mean: z.number().min(0).max(200),
      p95: z.number().min(0).max(200),
      iou: share,
    })
    .nullable(),
});

/** Where the model is looked at from. */
export const cameraPoseSchema = z.strictObject({
  target: z.tuple([coordinate, coordinate, coordinate]),
  /** Unit quaternion xyzw. */
  turn: z.tuple([z.number(), z.number(), z.number(), z.number()]),
  distance: z.number().positive().max(1e9),
  /** Without perspective. */
  flat: z.boolean(),
  /** mm on a sensor of 36 x 24. */
  focal: z.number().min(1).max(5000),
  /** The picture is moved by this part of its height, to the right and up. */
  shift: z.tuple([z.number().min(-10).max(10), z.number().min(-10).max(10)]),
});

export const cameraSchema = z.strictObject({
  id: layerId,
  name: z.string().min(1).max(60),
  pose: cameraPoseSchema,
});

export const sheetSchema = z.strictObject({
  name: z.string().min(1).max(60),
  /** Texels a side. */
  size: z.union(SHEET_SIZES.map((n) => z.literal(n))),
});

export const lightSchema = z.strictObject({ id: layerId, name: z.string().min(1).max(80), plan: lightPlan });

/** A picture that can be tiled over the form; its pixels are kept as a file of the same id. */
export const patternSchema = z.strictObject({
  id: layerId,
  name: z.string().min(1).max(80),
  width: z.int().positive().max(MAX_PATTERN_SIDE),
  height: z.int().positive().max(MAX_PATTERN_SIDE),
  /** Offered where a pattern is chosen; those that came with a stroke or a decal aren't. */
  listed: z.boolean().default(true),
});

/** A denser model of the same shape, on which cues are measured; kept as a file of the same id. */
export const denseSchema = z.strictObject({
  id: layerId,
  name: z.string().min(1).max(120),
  triangles: z.int().positive(),
  /** How far it may lie off, in parts of the model's diagonal. */
  distance: z.number().min(1e-4).max(0.5),
  /** Takes its places to where they are now that the model has been moved; null: nothing was moved since it came. */
  placing: placingSchema.nullable().default(null),
});

/** The file that the model was read from, as one GLB, kept as a file of the same id: what it holds beside the model leaves with it. */
export const modelFileSchema = z.strictObject({
  id: layerId,
  name: z.string().min(1).max(200),
  /** Takes its places to where they are now; null: nothing was moved since it was read. */
  placing: placingSchema.nullable(),
});

const corner = z.int().nonnegative();
const partName = z.string().max(200);
const weight = z.number().min(0.05).max(20);

export const seamWishesSchema = z.strictObject({ never: faceRunsSchema, gladly: faceRunsSchema });

/** See `ProjectRamps`. */
const rampsSchema = projectRampsSchema.nullable();

export const documentSchema = z.strictObject({
  version: z.literal(DOCUMENT_VERSION),
  name: z.string().min(1).max(120),
  /** The model says which part lies on which. One build-up covers them all. */
  sheets: z.array(sheetSchema).min(1).max(MAX_SHEETS),
  /** The build-up, from the ground up. */
  layers: z.array(nodeSchema),
  lights: z.array(lightSchema).min(1).max(MAX_LIGHTS),
  /** The sheet of colour ramps; null: there is none. */
  ramps: rampsSchema,
  palette: z.array(swatchSchema).max(MAX_SWATCHES),
  references: z.array(referenceSchema).max(MAX_REFERENCES),
  /** The oldest first. */
  looks: z.array(lookSchema).max(MAX_LOOKS),
  cameras: z.array(cameraSchema).max(MAX_CAMERAS),
  patterns: z.array(patternSchema).max(MAX_PATTERNS),
  dense: denseSchema.nullable(),
  /** Null: none is kept. */
  modelFile: modelFileSchema.nullable().default(null),
  /** Hash of the model; filled in where an older project has none. */
  model: z.string(),
  /** Edges of the model that are seams, each by the lowest corner that runs along it. */
  seams: z.array(corner),
  /** The seams among them that part two tones: a crisp border is wanted there. */
  paintEdges: z.array(corner),
  /** The seams among them that were found and that nobody has touched since: they go when the model is laid out anew. */
  foundSeams: z.array(corner),
  /** Corners through whose vertices a seam is led, when it is led another way. */
  seamPoints: z.array(corner),
  /** Triangles on which no seam is wanted, and on which one is. */
  seamWishes: seamWishesSchema,
  /** Name of a part and how large it shall be on the sheet beside the others, as a factor of length; 1 where left out. */
  weights: z.array(z.tuple([partName, weight])).max(65_535),
  /** What derived paint makes of texels that several places share, where a layer doesn't say. */
  twins: z.enum(TWINS).default('alike'),
  /** One triangle of each island that stays where it is. */
  pins: z.array(z.int().nonnegative()),
  regions: z.array(regionSchema).max(MAX_REGIONS),
  /** Triangles that strokes were held by, and what was cut through them. */
  guards: z
    .array(
      z.strictObject({
        id: layerId,
        faces: faceRunsSchema,
        cuts: z.array(cutSchema).max(MAX_CUTS).default([]),
      }),
    )
    .max(MAX_GUARDS),
  /** Where the model stands, seen from where it stood when strokes were made. */
  frames: z.array(z.strictObject({ id: layerId, placing: placingSchema })).max(MAX_FRAMES),
  /**
   * Planes whose pixels aren't only their strokes: those from number `strokes` on lie on what is kept as their base.
   * A plane that isn't named began empty.
   */
  bases: z.array(z.strictObject({ plane: z.int(), strokes: z.int().nonnegative() })),
  /** The next free id for layers, lights, swatches, references, looks, cameras, patterns, the denser model, the model's file, regions, guards and frames. */
  nextId: layerId,
});

export type Sheet = z.infer<typeof sheetSchema>;
export type Swatch = z.infer<typeof swatchSchema>;
export type Reference = z.infer<typeof referenceSchema>;
export type Look = z.infer<typeof lookSchema>;
export type BoardPlace = z.infer<typeof boardPlaceSchema>;
export type CameraPose = Readonly<z.infer<typeof cameraPoseSchema>>;
export type Camera = z.infer<typeof cameraSchema>;
export type Pattern = z.infer<typeof patternSchema>;
export type ProjectLight = z.infer<typeof lightSchema>;
export type ProjectDocument = Readonly<z.infer<typeof documentSchema>>;
