import { z } from 'zod';
import { hexColor } from '../color';
import { BLEND_MODES } from '../composite';
import { inkWishSchema, MOST_LINES } from '../ink';
import { faceRunsSchema } from '../mesh';
import { CHANNELS, layerId, layerSchema, type Layer } from '../layers';
import { lightPatch, lightPlan } from '../light';
import { regionSchema } from '../region';
import { strokeWishSchema } from '../paint';
import { MOST_RAMPS, projectRampSchema, projectRampsSchema, seatFields } from '../ramps';
import { DETAILS } from './details';
import {
  cameraSchema,
  denseSchema,
  documentSchema,
  lightSchema,
  lookSchema,
  nodeSchema,
  patternSchema,
  referenceSchema,
  sheetSchema,
  swatchSchema,
  type Group,
} from './schema';

const id = layerId;
const ids = z.array(id).min(1);
const at = z.int().nonnegative();
/** The group that something is put into; null: the build-up itself. */
const into = id.nullable().default(null);
const channel = z.enum(CHANNELS).default('pixels');
const { name: nodeName } = lightSchema.shape;

type OmitId<T> = T extends unknown ? Omit<T, 'id'> : never;

/** A layer as it is asked for: what is left out is as usual, and the document gives it its id. */
export type NewLayer = OmitId<z.input<typeof layerSchema>>;

const newLayer = z
  .custom<NewLayer>((value) => typeof value === 'object' && value !== null, 'a layer is expected')
  .transform((value) => ({ ...value, id: 0 }) as z.input<typeof layerSchema>)
  .pipe(layerSchema);

/**
 * What holds a stroke in its place: a part by its name (one that isn't there lets nothing through), a region, some faces with what is cut
 * through them, or where all that is told meets.
 */
export const guardWishSchema = z
  .strictObject({
    part: z.string().exactOptional(),
    region: id.exactOptional(),
    area: z.strictObject({ faces: faceRunsSchema, cuts: regionSchema.shape.cuts }).exactOptional(),
  })
  .refine((wish) => Object.keys(wish).length > 0, 'a part, a region or an area is expected');
export type GuardWish = z.infer<typeof guardWishSchema>;

/** What can be changed of a node: anything but its id, its kind and what is in it. */
export type NodePatch = Partial<OmitFixed<Layer>> | Partial<Omit<Group, 'id' | 'kind' | 'layers'>>;
type OmitFixed<T> = T extends unknown ? Omit<T, 'id' | 'kind'> : never;
const nodePatch = z.custom<NodePatch>(
  (value) => typeof value === 'object' && value !== null && !['id', 'kind', 'layers'].some((k) => k in value),
  'settings of a layer are expected, but not its id, its kind or what is in it',
);

/** Of a pattern in a recipe, characters of its PNG in base64. */
const LARGEST_PNG = 6_000_000;

/** A pattern with its pixels, as it stands in recipes. */
export const recipePattern = patternSchema.extend({ png: z.base64().max(LARGEST_PNG) });
export type RecipePattern = z.infer<typeof recipePattern>;

/** What of a recipe is laid. Its ids only tell its layers and lights apart. */
const layableRecipe = z.strictObject({
  name: documentSchema.shape.name,
  lights: z.array(lightSchema),
  patterns: z.array(recipePattern).default([]),
  layers: z.array(nodeSchema).min(1),
});

const { of: _of, ...withoutOf } = seatFields;

const single = [
  z.strictObject({ do: z.literal('rename-project'), name: documentSchema.shape.name }),
  /** `copyPixelsOf`: a paint layer whose pixels the new one begins with. */
  z.strictObject({ do: z.literal('add-layer'), layer: newLayer, into, at, copyPixelsOf: id.optional() }),
  /** `detail`: it goes into that mask of the detail sheet. */
  z.strictObject({
    do: z.literal('add-group'),
    name: nodeName,
    detail: z.enum(DETAILS).exactOptional(),
    into,
    at,
  }),
  /** Puts nodes into a new group, where the highest of them stands. */
  z.strictObject({ do: z.literal('group-layers'), layers: ids, name: nodeName }),
  /** Takes a group's nodes out of it; the group goes. */
  z.strictObject({ do: z.literal('ungroup'), layer: id }),
  /** Groups go with all that is in them. */
  z.strictObject({ do: z.literal('remove-layers'), layers: ids }),
  z.strictObject({ do: z.literal('duplicate-layers'), layers: ids }),
  z.strictObject({ do: z.literal('patch-layer'), layer: id, patch: nodePatch }),
  /** `at`: the place from the ground among those that stay in the group. */
  z.strictObject({ do: z.literal('move-layers'), layers: ids, into, at }),

  /** Lays a recipe's layers as a group. `parts`: kept to these. */
  z.strictObject({
    do: z.literal('lay-recipe'),
    recipe: layableRecipe,
    parts: z.array(z.string()).min(1).optional(),
    into,
    at,
  }),

  z.strictObject({ do: z.literal('add-light'), name: nodeName, plan: lightPlan }),
  z.strictObject({ do: z.literal('rename-light'), light: id, name: nodeName }),
  z.strictObject({ do: z.literal('patch-light'), light: id, patch: lightPatch }),
  z.strictObject({ do: z.literal('remove-light'), light: id }),

  /** Makes the ramp sheet, or changes it. `ramps`: all of them in order; `id: null` is a new one. What lies on one that goes, goes off it. */
  z.strictObject({
    do: z.literal('set-ramps'),
    size: projectRampsSchema.shape.size.optional(),
    lie: projectRampsSchema.shape.lie.optional(),
    shared: projectRampsSchema.shape.shared.optional(),
    ramps: z
      .array(projectRampSchema.extend({ id: id.nullable() }))
      .max(MOST_RAMPS)
      .optional(),
  }),
  z.strictObject({ do: z.literal('remove-ramps') }),
  /** Puts a part or a region on a ramp, in the place of the seat that it has. */
  z.strictObject({ do: z.literal('seat'), ...seatFields }),
  /** Keeps faces as a region and puts that on a ramp. */
  z.strictObject({
    do: z.literal('seat-faces'),
    region: regionSchema.omit({ id: true }),
    ...withoutOf,
  }),
  z.strictObject({
    do: z.literal('patch-seat'),
    seat: id,
    patch: z.strictObject(seatFields).omit({ of: true }).partial(),
  }),
  z.strictObject({ do: z.literal('remove-seats'), seats: ids }),

  z.strictObject({
    do: z.literal('add-swatches'),
    swatches: z.array(swatchSchema.omit({ id: true })).min(1),
  }),
  z.strictObject({
    do: z.literal('patch-swatch'),
    swatch: id,
    patch: swatchSchema.omit({ id: true }).partial(),
  }),
  z.strictObject({ do: z.literal('remove-swatches'), swatches: ids }),
  z.strictObject({ do: z.literal('move-swatch'), swatch: id, to: at }),

  /** In this order. */
  z.strictObject({ do: z.literal('order-swatches'), swatches: ids }),

  /** It finds its place on the board. */
  z.strictObject({
    do: z.literal('add-reference'),
    reference: referenceSchema.pick({ name: true, width: true, height: true }),
  }),
  z.strictObject({
    do: z.literal('patch-reference'),
    reference: id,
    patch: referenceSchema.pick({ name: true, board: true, note: true, match: true }).partial(),
  }),
  z.strictObject({ do: z.literal('remove-reference'), reference: id }),
  /** Its picture comes with it, as a PNG: see `Engine.attach`. */
  z.strictObject({ do: z.literal('add-look'), look: lookSchema.omit({ id: true }) }),
  z.strictObject({ do: z.literal('rename-look'), look: id, name: lookSchema.shape.name }),
  z.strictObject({ do: z.literal('remove-look'), look: id }),
  /** Its pixels come with it: see `Engine.attach`. */
  z.strictObject({ do: z.literal('add-pattern'), pattern: patternSchema.omit({ id: true }) }),
  z.strictObject({
    do: z.literal('rename-pattern'),
    pattern: id,
    name: patternSchema.shape.name,
  }),
  z.strictObject({ do: z.literal('remove-pattern'), pattern: id }),
  /** The denser model comes with it; null: cues are measured on the model itself. */
  z.strictObject({ do: z.literal('set-dense'), dense: denseSchema.omit({ id: true }).nullable() }),
  z.strictObject({ do: z.literal('patch-dense'), distance: denseSchema.shape.distance }),
  z.strictObject({ do: z.literal('add-camera'), camera: cameraSchema.omit({ id: true }) }),
  z.strictObject({
    do: z.literal('patch-camera'),
    camera: id,
    patch: cameraSchema.omit({ id: true }).partial(),
  }),
  z.strictObject({ do: z.literal('remove-camera'), camera: id }),

  z.strictObject({
    do: z.literal('set-layout'),
    seams: documentSchema.shape.seams.optional(),
    paintEdges: documentSchema.shape.paintEdges.optional(),
    foundSeams: documentSchema.shape.foundSeams.optional(),
    seamPoints: documentSchema.shape.seamPoints.optional(),
    seamWishes: documentSchema.shape.seamWishes.optional(),
    weights: documentSchema.shape.weights.optional(),
    pins: documentSchema.shape.pins.optional(),
  }),
  z.strictObject({ do: z.literal('add-region'), region: regionSchema.omit({ id: true }) }),
  z.strictObject({
    do: z.literal('patch-region'),
    region: id,
    patch: regionSchema.omit({ id: true }).partial(),
  }),
  /** Keeps faces as a region and gives it a colour in a local-colour layer. */
  z.strictObject({
    do: z.literal('color-faces'),
    layer: id,
    region: regionSchema.omit({ id: true }),
    color: hexColor,
    swatch: id.nullable().default(null),
  }),
  /** Mask steps that name it go with it. */
  z.strictObject({ do: z.literal('remove-region'), region: id }),
  z.strictObject({ do: z.literal('rename-sheet'), sheet: at, name: sheetSchema.shape.name }),

  z.strictObject({
    do: z.literal('stroke'),
    layer: id,
    channel,
    guard: guardWishSchema.nullable().default(null),
    /** Only what is painted already is changed, as where what is transparent is locked. */
    keepAlpha: z.boolean().default(false),
    stroke: strokeWishSchema,
  }),
  /** Changes strokes by their numbers among all of their plane, or removes them; `size`: so many times as wide. */
  z.strictObject({
    do: z.literal('edit-strokes'),
    layer: id,
    channel,
    strokes: z.array(at).min(1).max(10_000),
    change: z.union([
      z.literal('remove'),
      z.strictObject({
        color: hexColor.exactOptional(),
        opacity: z.number().min(0).max(1).exactOptional(),
        size: z.number().min(0.05).max(20).exactOptional(),
      }),
    ]),
  }),
  /** Puts lines into an ink layer, those with a number in the place of the former, and removes others. Points are laid onto the surface. */
  z.strictObject({
    do: z.literal('edit-ink'),
    layer: id,
    put: z.array(inkWishSchema).max(MOST_LINES).default([]),
    remove: z.array(at).max(MOST_LINES).default([]),
  }),
  /** One colour over all that the surface covers; on a mask only its lightness counts. `region`: only there. */
  z.strictObject({
    do: z.literal('fill'),
    layer: id,
    channel,
    color: hexColor,
    region: id.optional(),
    /** Names of parts that are left alone: those that aren't shown, and backdrops that aren't in hand. */
    except: z.array(z.string()).default([]),
  }),
  /** One colour over what looks much like a texel, on the surface from there on or everywhere. */
  z.strictObject({
    do: z.literal('flood'),
    layer: id,
    channel,
    color: hexColor,
    /** Its number among all texels of all sheets. */
    texel: at,
    /** How much colours may differ, CIEDE2000. */
    tolerance: z.number().min(0).max(100),
    everywhere: z.boolean().default(false),
    /** Names of parts that are left alone: those that aren't shown. */
    except: z.array(z.string()).default([]),
  }),
  /** Covers a paint layer with what another has, carried along the surface to where that one is bare. */
  z.strictObject({ do: z.literal('fill-along'), layer: id, from: id }),
  z.strictObject({ do: z.literal('clear'), layer: id, channel }),
  /**
   * Lays a picture that came back from elsewhere, whose file comes along, on one sheet of a paint layer, in place of all that it has there; on a
   * new one on top where `onto` is null. Its upper left corner lies at x, y; what it doesn't reach is left empty. Mode and opacity are set
   * where they are told. `file`: which of the files that come along.
   */
  z.strictObject({
    do: z.literal('put-picture'),
    onto: id.nullable(),
    name: nodeName,
    sheet: at,
    x: z.int().min(-65_536).max(65_536).default(0),
    y: z.int().min(-65_536).max(65_536).default(0),
    blend: z.enum(BLEND_MODES).exactOptional(),
    opacity: z.number().min(0).max(1).exactOptional(),
    file: at.default(0),
  }),
  /** Paints a layer into the paint layer under it, as both look together; it goes. */
  z.strictObject({ do: z.literal('merge-down'), layer: id }),
  /** The whole picture as a new paint layer on top. */
  z.strictObject({ do: z.literal('merge-visible'), name: nodeName }),
  /** The whole picture as the only layer. */
  z.strictObject({ do: z.literal('flatten'), name: nodeName }),
] as const;

const oneCommand = z.discriminatedUnion('do', single);

/** Everything that can be done to a project. The interface, the tests and the command line all speak these. */
export const commandSchema = z.discriminatedUnion('do', [
  ...single,
  /** Several that are one step. */
  z.strictObject({
    do: z.literal('several'),
    label: z.string().min(1).max(120),
    commands: z.array(oneCommand).min(1).max(1000),
  }),
]);

/** As it is given. */
export type Command = z.input<typeof commandSchema>;
/** As it is done, with all that was left out filled in. */
export type CheckedCommand = z.output<typeof commandSchema>;
export type SingleCommand = z.output<typeof oneCommand>;
