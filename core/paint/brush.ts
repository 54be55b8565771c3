import { z } from 'zod';

/** What a brush touches with; each is drawn by code, see tips.ts. */
export const TIPS = [
  'round',
  'flat-bristle',
  'dry-bristle',
  'chalk',
  'sponge',
  'leaf',
  'spatter',
  'hatch',
  'hair',
  'cloud',
  'nib',
  'square',
] as const;

export type TipName = (typeof TIPS)[number];

/** A tip that is a picture of the project instead. */
export const PICTURE_TIP = 'picture';

const part = z.number().min(0).max(1);

/** Points x, y of a monotone curve, x growing; left and right of them it stays level. */
export const curveSchema = z
  .array(z.tuple([part, part]))
  .min(2)
  .max(12)
  .refine(
    (points) => points.every(([x], i) => i === 0 || x > points[i - 1]![0]),
    'Points must go to the right.',
  );

export type DriveCurve = z.infer<typeof curveSchema>;

/** What something that changes along the way drives, each by a curve; null: nothing. */
const drives = z.strictObject({
  /** Times the size. */
  size: curveSchema.nullable(),
  /** Times the opacity of a dab. */
  opacity: curveSchema.nullable(),
  /** Times the softness. */
  edge: curveSchema.nullable(),
  /** Plus so much of a full turn. */
  angle: curveSchema.nullable(),
});

export type Drives = z.infer<typeof drives>;
export const DRIVEN = ['size', 'opacity', 'edge', 'angle'] as const satisfies readonly (keyof Drives)[];

export const NO_DRIVES: Drives = { size: null, opacity: null, edge: null, angle: null };

/** As much as it is: 0 is 0 and 1 is 1. */
export const STRAIGHT: DriveCurve = [
  [0, 0],
  [1, 1],
];

/** How a brush touches the surface. */
export const brushSchema = z.strictObject({
  tip: z.enum([...TIPS, PICTURE_TIP]),
  /** Id of the project's pattern that its tip is, where it is a picture. */
  picture: z.int().nonnegative().nullable().default(null),
  /**
   * How the tip lies: on the surface, its distance running along it; against it, as a flat thing that fades with depth; straight from
   * the eye; or on the sheet, whatever lies beside what there.
   */
  lies: z.enum(['surface', 'against', 'eye', 'sheet']),
  /** 0 hard to 1 soft all the way to the middle. */
  edge: part,
  /** Coverage from the middle (0) to the rim (1) instead; null: the usual smooth fall. */
  profile: curveSchema.nullable(),
  /** Its narrow side in parts of the long one. */
  roundness: z.number().min(0.05).max(1),
  /** What its long side follows, and how far it is turned from that, radians. */
  follows: z.enum(['fixed', 'stroke', 'tilt']),
  turn: z.number().min(-Math.PI).max(Math.PI),
  /** Distance between dabs in parts of the brush's diameter. */
  spacing: z.number().min(0.02).max(2),
  /** Dabs at each place. */
  count: z.int().min(1).max(12),
  /** How far dabs are thrown to the side, in parts of the diameter. */
  scatter: z.number().min(0).max(4),
  /**
   * By how much each dab differs, by chance: parts of the size and opacity, parts of a full turn; its colour by parts of half a turn of
   * the hue, and of OKLCH lightness.
   */
  jitter: z.strictObject({
    size: part,
    opacity: part,
    turn: part,
    hue: part.default(0),
    light: part.default(0),
  }),
  /** Noise in model space that breaks it up; null: none. `scale`: grains along the model's diagonal. */
  grain: z
    .strictObject({
      kind: z.enum(['value', 'ridged', 'cellular']),
      scale: z.number().min(1).max(2000),
      depth: part,
    })
    .nullable(),
  /** Dabs of one stroke build up on one another; without, opacity is that of the whole stroke. */
  builds: z.boolean(),
  pressure: drives,
  tilt: drives,
  speed: drives,
});

export type BrushShape = z.infer<typeof brushSchema>;

/** Whether its dabs are of colours of their own. */
export const hasShades = ({ jitter }: BrushShape): boolean => jitter.hue > 0 || jitter.light > 0;

/** A round brush with nothing to it. */
export const PLAIN_BRUSH: BrushShape = {
  tip: 'round',
  picture: null,
  lies: 'surface',
  edge: 0.5,
  profile: null,
  roundness: 1,
  follows: 'fixed',
  turn: 0,
  spacing: 0.1,
  count: 1,
  scatter: 0,
  jitter: { size: 0, opacity: 0, turn: 0, hue: 0, light: 0 },
  grain: null,
  builds: false,
  pressure: NO_DRIVES,
  tilt: NO_DRIVES,
  speed: NO_DRIVES,
};
