import { z } from 'zod';
import { lightSchema, type Group } from '../document';
import { CHANNELS, layerId, layerSchema, type Layer } from '../layers';
import { faceRunsSchema } from '../mesh';
import { regionSchema } from '../region';

/** Fields that commands share. */
export const id = layerId;
export const ids = z.array(id).min(1);
export const at = z.int().nonnegative();
/** The group that something is put into; null: the build-up itself. */
export const into = id.nullable().default(null);
export const channel = z.enum(CHANNELS).default('pixels');
export const { name: nodeNameField } = lightSchema.shape;
/** Names of parts that are left alone: those that aren't shown, and backdrops that aren't in hand. */
export const except = z.array(z.string()).default([]);

type OmitId<T> = T extends unknown ? Omit<T, 'id'> : never;

/** A layer as it is asked for: what is left out is as usual, and the document gives it its id. */
export type NewLayer = OmitId<z.input<typeof layerSchema>>;

export const newLayer = z
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
export const nodePatch = z.custom<NodePatch>(
  (value) => typeof value === 'object' && value !== null && !['id', 'kind', 'layers'].some((k) => k in value),
  'settings of a layer are expected, but not its id, its kind or what is in it',
);
