import { z } from 'zod';
import { hexColor, rampTable } from '../color';
import { CoreError } from '../errors';
import type { Picture } from '../formats';

/** Texels a side that a ramp sheet may have. */
export const RAMP_SIZES = [16, 32, 64, 128, 256, 512] as const;
export type RampSize = (typeof RAMP_SIZES)[number];

export const LEAST_RAMPS = 2;
export const MOST_RAMPS = 64;
export const MOST_RAMP_COLORS = 16;

/** Texels on either side of the one that is read, of the same ramp: no filter brings in the next. */
export const RAMP_GUARD = 1;

/** A ramp has so many texels across, at the least. */
const NARROWEST = 1 + 2 * RAMP_GUARD;

export const rampSheetSchema = z.strictObject({
  /** Side by side, each from dark to light. */
  ramps: z
    .array(
      z.strictObject({
        name: z.string().min(1).max(60),
        colors: z
          .array(hexColor)
          .min(2, 'a ramp has two colours or more')
          .max(MOST_RAMP_COLORS, `a ramp has up to ${MOST_RAMP_COLORS} colours`),
      }),
    )
    .min(LEAST_RAMPS, 'a ramp sheet has two ramps or more')
    .max(MOST_RAMPS, `a ramp sheet has up to ${MOST_RAMPS} ramps`)
    .refine((ramps) => new Set(ramps.map((r) => r.name)).size === ramps.length, 'two ramps have one name'),
  /** Ramps stand upright beside one another, or lie over one another. */
  lie: z.enum(['columns', 'rows']).default('columns'),
});

export type RampSheet = z.infer<typeof rampSheetSchema>;

/** Where ramps lie on their sheet: from which texel to which, across it. */
export interface RampBand {
  readonly from: number;
  readonly to: number;
}

/**
 * How the ramps share a sheet: bands as even as whole texels allow.
 *
 * @throws CoreError `bad-argument` if they don't fit
 */
export function rampBands(count: number, size: RampSize): RampBand[] {
  const fits = Math.floor(size / NARROWEST);
  if (count > fits) {
    throw new CoreError(
      'bad-argument',
      `${count} ramps don't fit on a sheet of ${size} texels: with the texels that keep them apart it holds ${fits}. Choose a larger sheet or fewer ramps.`,
    );
  }
  const at = (i: number): number => Math.round((i * size) / count);
  return Array.from({ length: count }, (_, i) => ({ from: at(i), to: at(i + 1) - 1 }));
}

/**
 * A ramp sheet as a picture: colours stand evenly along each ramp, the first at one end, the last at the other, mixed in OKLab between.
 * Upright ramps begin below, those that lie begin on the left.
 *
 * @throws CoreError `bad-argument` if the ramps don't fit
 */
export function rampPicture({ ramps, lie }: RampSheet, size: RampSize): Picture {
  const bands = rampBands(ramps.length, size);
  const rgba = new Uint8Array(size * size * 4).fill(255);
  ramps.forEach(({ colors }, i) => {
    const stops = colors.map((color, k) => ({ at: k / (colors.length - 1), color }));
    const table = rampTable({ stops, mixing: 'oklab', hardness: 0 }, size);
    const { from, to } = bands[i]!;
    for (let along = 0; along < size; along++) {
      for (let across = from; across <= to; across++) {
        const [x, y] = lie === 'columns' ? [across, size - 1 - along] : [along, across];
        for (let c = 0; c < 3; c++) {
          rgba[(y * size + x) * 4 + c] = Math.round(table[along * 3 + c]! * 255);
        }
      }
    }
  });
  return { width: size, height: size, rgba };
}

/**
 * Where a place on a ramp is read, u from the left and v from below: in the middle of its band, from the middle of its first texel to that of
 * its last.
 *
 * @param at 0..1 along the ramp
 */
export function onRamp(
  { from, to }: RampBand,
  at: number,
  size: RampSize,
  lie: RampSheet['lie'],
): readonly [u: number, v: number] {
  const across = Math.floor((from + to) / 2) + 0.5;
  const along = 0.5 + Math.min(1, Math.max(0, at)) * (size - 1);
  return lie === 'columns' ? [across / size, along / size] : [along / size, 1 - across / size];
}

/** Whether a place on the sheet is read from a ramp alone, with all that a filter mixes in. */
export function isInsideRamp(
  { from, to }: RampBand,
  [u, v]: readonly [number, number],
  size: RampSize,
  lie: RampSheet['lie'],
): boolean {
  const across = lie === 'columns' ? u * size : (1 - v) * size;
  const along = lie === 'columns' ? v * size : u * size;
  // Between the middles of its outermost texels: bilinear filtering looks half a texel to either side.
  const slack = 1e-4;
  return (
    across >= from + 0.5 - slack &&
    across <= to + 0.5 + slack &&
    along >= 0.5 - slack &&
    along <= size - 0.5 + slack
  );
}
