import { z } from 'zod';

const part = z.number().min(0).max(1);

/** How a derived layer is laid down in strokes of a brush instead of smoothly. */
export const brushworkSchema = z.strictObject({
  /** Width of a stroke, in parts of the model's diagonal. */
  size: z.number().min(0.002).max(0.3),
  /** How many times longer than wide. */
  length: z.number().min(1).max(12),
  /** Which part of the strokes is laid. */
  amount: part,
  /** How much neighbouring strokes lie over one another. */
  overlap: z.number().min(0).max(0.9),
  /** How soft their borders are. */
  edge: part,
  /** How much they break up into hairs toward their ends. */
  bristle: part,
  /** How many smaller ones lie on top. */
  small: part,
  /** How much of the smooth result lies under them. */
  under: part,
  /** Along what they lie: the form's own direction, around the axis, down, or along the border of the light. */
  along: z.enum(['form', 'axis', 'down', 'light']),
  /** The axis, or where the light comes from; any length but 0. */
  direction: z.tuple([z.number(), z.number(), z.number()]),
  /** Each stroke differs by up to this: degrees of hue, lightness, degrees of angle. */
  hueJitter: z.number().min(0).max(180),
  lightJitter: z.number().min(0).max(0.5),
  angleJitter: z.number().min(0).max(180),
  seed: z.int().min(0).max(65_535),
});

export type Brushwork = z.infer<typeof brushworkSchema>;

/** As it is begun with. */
export const USUAL_BRUSHWORK: Brushwork = {
  size: 0.03,
  length: 3.5,
  amount: 1,
  overlap: 0.55,
  edge: 0.25,
  bristle: 0.45,
  small: 0.4,
  under: 1,
  along: 'form',
  direction: [0, 1, 0],
  hueJitter: 8,
  lightJitter: 0.05,
  angleJitter: 14,
  seed: 1,
};
