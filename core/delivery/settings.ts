import { z } from 'zod';
import { hexColor } from '../color';
import { detailChannels, USUAL_CHANNELS } from '../compositor';
import { GLB_MATERIALS } from '../formats';
import { USUAL_NAMES } from './names';

/** What can leave a project, in the order in which it is told. */
export const PARCELS = [
  'albedo',
  'detail',
  'ramps',
  'model',
  'toon-model',
  'obj',
  'layers',
  'layer-pictures',
  'layout',
  'palette-strip',
  'palette-tokens',
  'recipe',
  'project',
  'report',
] as const;
export type ExportItem = (typeof PARCELS)[number];

/** Texels a side of what leaves. */
export const DELIVERED_SIZES = [16, 32, 64, 128, 256, 512, 1024, 2048, 4096, 8192] as const;

/** What colours leave as. `dithered`: 8 bit, with what is between two values spread as a fine grain. */
export const TEXTURE_FORMATS = ['png', 'png-dithered', 'png-16', 'webp', 'webp-small', 'ktx2'] as const;
export type TextureFormat = (typeof TEXTURE_FORMATS)[number];

/** How a project is delivered; what was set last is kept, and the whole delivery is made by it. */
export const deliverySettings = z.object({
  /** Texels a side; 0 for each sheet's own, null for what suits the project. */
  size: z
    .union([z.literal(0), z.literal(DELIVERED_SIZES)])
    .nullable()
    .default(null),
  /** Texels that colour reaches past the islands; null: the whole sheet. */
  bleed: z.number().min(1).max(8192).nullable().default(null),
  /** `opaque`: all that has colour leaves with full alpha. */
  alpha: z.enum(['opaque', 'painted']).default('opaque'),
  format: z.enum(TEXTURE_FORMATS).default('png'),
  /** 1..100, of `webp-small`. */
  quality: z.int().min(1).max(100).default(90),
  /** How halvings are made, where the format has them. */
  halving: z.enum(['linear', 'encoded']).default('linear'),
  effort: z.enum(['fast', 'fine']).default('fast'),
  /** See `FileNames`. */
  names: z.string().max(120).default(USUAL_NAMES),
  parcels: z.array(z.enum(PARCELS)).default(['albedo', 'model', 'report']),
  /** An outline as a hull, in the model for a toon shader; null: none. `width`: parts of the model's diagonal. */
  outline: z
    .object({ width: z.number().min(0).max(0.1), color: hexColor })
    .nullable()
    .default(null),
  /** Id of the light plan whose normals the model leaves with; null: its own. */
  normalsOf: z.int().nonnegative().nullable().default(null),
  /** Whether the model's materials are unlit, or those that it came with. */
  material: z.enum(GLB_MATERIALS).default('unlit'),
  /** Geometry and paint alone: no skeleton, clips or nodes of the file that the model came in. */
  plain: z.boolean().default(false),
  /** Which mask of the detail sheet goes into which channel. */
  channels: detailChannels.default(USUAL_CHANNELS),
  /** What is asked before it leaves: see `CheckHow` of the checks. */
  check: z
    .object({
      mips: z.int().min(0).max(8).default(4),
      limit: z.number().min(0.1).max(20).default(2),
      low: z.number().min(0).max(99).default(0),
      high: z.number().min(1).max(100).default(100),
      gameSize: z.int().min(8).max(2048).default(128),
    })
    .prefault({}),
});
export type DeliverySettings = z.output<typeof deliverySettings>;

export const USUAL_DELIVERY: DeliverySettings = deliverySettings.parse({});

/** The ending of a file of colours, with its dot. */
export const textureEnding = (format: TextureFormat): '.png' | '.webp' | '.ktx2' =>
  format === 'ktx2' ? '.ktx2' : format === 'webp' || format === 'webp-small' ? '.webp' : '.png';

/** Whether its texels are made from more than 8 bit. */
export const isDeep = (format: TextureFormat): boolean => format === 'png-dithered' || format === 'png-16';

/** Every sheet at the size that it has. */
export const OWN_SIZE = 0;

/** The size at which sheets leave, if nothing else is wanted: each its own where there are several, never less than 512. */
export const suitableSize = (
  sheets: readonly { readonly size: number }[],
): NonNullable<DeliverySettings['size']> =>
  sheets.length > 1
    ? OWN_SIZE
    : (Math.max(512, sheets[0]?.size ?? 1024) as NonNullable<DeliverySettings['size']>);

/** Texels a side that a sheet leaves with. */
export const deliveredSize = (
  sheets: readonly { readonly size: number }[],
  { size }: Pick<DeliverySettings, 'size'>,
  sheet: number,
): number => (size ?? suitableSize(sheets)) || sheets[sheet]!.size;
