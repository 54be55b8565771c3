import { z } from 'zod';
import { hexColor, rampSchema } from '../color';
import { inPosesSchema } from '../motion';

const part = z.number().min(0).max(1);
const strength = z.number().min(0).max(2);
const direction = z.tuple([z.number(), z.number(), z.number()]);
const partName = z.string().max(200);
const regionStrength = z.tuple([z.int().nonnegative(), strength]);
const tinted = { color: hexColor, strength };

/** Settings without what stands in for those that older projects lack. */
const fields = {
  key: {
    /** Toward the light, model space; any length but 0. */
    direction,
    ...tinted,
    /** 0: the light ends where the surface turns away (Lambert); 1: it reaches round to the back. */
    wrap: part,
    /** How large it looks from the model: the angle across it, degrees. */
    size: z.number().min(0).max(60),
    /** How much of it is kept off where something stands before it. */
    shadow: part,
    /** Its light is of this colour there: black adds nothing. */
    tint: hexColor,
    /** Over which poses what stands before it is looked for; left out: at rest. */
    poses: inPosesSchema.nullable().optional(),
  },
  sky: tinted,
  horizon: tinted,
  ground: {
    ...tinted,
    /** How much of it has the local colour of what lies below in its stead. */
    bounce: part,
  },
  rim: {
    ...tinted,
    /** Toward where the form is rimmed: the light behind it, or, if `ofView`, the eye that sees it edge on. */
    direction,
    ofView: z.boolean(),
    width: part,
    /** How soft its border is. */
    edge: part,
  },
  /** What is mirrored about the normal: the more, the more the surface is like metal. */
  polish: {
    amount: part,
    /** From a soft to a crisp highlight. */
    crispness: part,
    highlight: strength,
    /** How much edges catch the light. */
    edges: part,
  },
} as const;

/** A light beside the key. */
export const extraLight = z.strictObject({ direction, ...tinted, wrap: part });

export const MAX_EXTRA_LIGHTS = 4;
export const MAX_STAND_INS = 64;

const coordinate = z.number().min(-10).max(10);

/** A simple solid whose normals stand for those of a part or a region. Places and lengths in parts of the model's diagonal, from the middle of its box. */
export const standInSchema = z.strictObject({
  /** Name of a part, or id of a region. */
  of: z.union([z.strictObject({ part: partName }), z.strictObject({ region: z.int().nonnegative() })]),
  solid: z.enum(['ellipsoid', 'capsule', 'box']),
  centre: z.tuple([coordinate, coordinate, coordinate]),
  /** Unit quaternion xyzw. */
  turn: z.tuple([z.number(), z.number(), z.number(), z.number()]),
  /** Half its extent along its own axes. A capsule lies along its y. */
  half: z
    .tuple([coordinate, coordinate, coordinate])
    .refine((h) => h.every((x) => x > 0), 'a solid has an extent'),
  /** 0 the model's own normals, 1 the solid's. */
  blend: part,
});

/** Light in a few tones with borders between. */
const steps = z.strictObject({
  count: z.int().min(2).max(6),
  /** Width of a border, in parts of a tone. */
  edge: part,
  /** The tones' colours from dark to light; null: those of the light itself. */
  ramp: rampSchema.nullable(),
  /** Name of a part and its own ramp. */
  ramps: z.array(z.tuple([partName, rampSchema])).max(65_535),
  /** How borders are drawn; null: where the light has them, and no more. Lengths in parts of the model's diagonal. */
  line: z
    .strictObject({
      /** How far they go to and fro, in parts of a wave. */
      waver: part,
      /** Length of a wave. */
      scale: z.number().min(0.005).max(0.5),
      /** Width of the edge on the darker side; 0: none. */
      width: z.number().min(0).max(0.05),
      strength: part,
      /** The edge's colour; null: a darker and more saturated one of the tone that it lies on. */
      color: hexColor.nullable(),
      seed: z.int().min(0).max(9999),
    })
    .nullable()
    .default(null),
  /** The tone of what the key doesn't reach because something stands before it; null: as the light has it. */
  shadow: hexColor.nullable().default(null),
});

const NO_RIM = {
  color: '#fff0d8',
  strength: 0,
  direction: [0.5, 0.3, -0.8] as [number, number, number],
  ofView: false,
  width: 0.35,
  edge: 0.2,
};
const MATTE = { amount: 0, crispness: 0.5, highlight: 0, edges: 0 };

/** The project's lights. Colours and sums are sRGB-encoded, as the layers blend; 0.5 grey leaves a soft-light layer's ground as it is. */
export const lightPlan = z.strictObject({
  key: z.strictObject({
    ...fields.key,
    size: fields.key.size.default(6),
    shadow: fields.key.shadow.default(0),
    tint: fields.key.tint.default('#000000'),
  }),
  sky: z.strictObject(fields.sky),
  horizon: z.strictObject(fields.horizon).default({ color: '#d8c4b0', strength: 0 }),
  ground: z.strictObject({ ...fields.ground, bounce: fields.ground.bounce.default(0) }),
  rim: z.strictObject(fields.rim).default(NO_RIM),
  polish: z.strictObject(fields.polish).default(MATTE),
  lights: z.array(extraLight).max(MAX_EXTRA_LIGHTS).default([]),
  steps: steps.nullable().default(null),
  standIns: z.array(standInSchema).max(MAX_STAND_INS).default([]),
  /** How far normals are evened out along the surface, in parts of the diagonal. */
  calm: z.number().min(0).max(0.2).default(0),
  /** Name of a part and how strongly it is lit; 1 where left out, 0 not at all. */
  parts: z
    .array(z.tuple([partName, strength]))
    .max(65_535)
    .default([]),
  /** Id of a region and the same; what it covers has it in the place of its part's. */
  regions: z.array(regionStrength).max(1000).default([]),
});

export type LightPlan = z.infer<typeof lightPlan>;
export type StandIn = z.infer<typeof standInSchema>;

/** Some settings of a plan, to be put in the place of those it has. Lists go as a whole. */
export const lightPatch = z.strictObject({
  key: z.strictObject(fields.key).partial().optional(),
  sky: z.strictObject(fields.sky).partial().optional(),
  horizon: z.strictObject(fields.horizon).partial().optional(),
  ground: z.strictObject(fields.ground).partial().optional(),
  rim: z.strictObject(fields.rim).partial().optional(),
  polish: z.strictObject(fields.polish).partial().optional(),
  lights: z.array(extraLight).max(MAX_EXTRA_LIGHTS).optional(),
  steps: steps.nullable().optional(),
  standIns: z.array(standInSchema).max(MAX_STAND_INS).optional(),
  calm: z.number().min(0).max(0.2).optional(),
  parts: z
    .array(z.tuple([partName, strength]))
    .max(65_535)
    .optional(),
  regions: z.array(regionStrength).max(1000).optional(),
});

export type LightPatch = z.infer<typeof lightPatch>;

/** A plan with some of its settings changed. */
export function patchedPlan(plan: LightPlan, patch: LightPatch): LightPlan {
  const next = { ...plan } as Record<string, unknown>;
  for (const [name, value] of Object.entries(patch)) {
    if (value === undefined) continue;
    const isGroup = typeof value === 'object' && value !== null && !Array.isArray(value) && name !== 'steps';
    next[name] = isGroup ? { ...(next[name] as object), ...defined(value) } : value;
  }
  return lightPlan.parse(next);
}

const defined = (values: object): object =>
  Object.fromEntries(Object.entries(values).filter(([, value]) => value !== undefined));

export const DEFAULT_LIGHT_PLAN: LightPlan = lightPlan.parse({
  key: { direction: [-0.5, 0.75, 0.6], color: '#fff0d2', strength: 0.55, wrap: 0.35 },
  sky: { color: '#b9c8e6', strength: 0.5 },
  ground: { color: '#6a4a72', strength: 0.42 },
});
