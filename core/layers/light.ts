import { z } from 'zod';
import type { CueSpec } from '../cues';
import {
  asksPlace,
  calmNormals,
  lightAt,
  lightSlopes,
  plannedNormals,
  prepareLight,
  standInNormal,
  toneSteps,
  type LightPlan,
} from '../light';
import { subjectDiagonal } from '../mesh';
import { codesOfTile, texelLengths, TILE_TEXELS, type Barycentric } from '../surface';
import { derivedBase, layerId } from './layer-base';
import type { DerivedKind, LayerInputs } from './layer-kind';

const schema = z.strictObject({
  ...derivedBase,
  kind: z.literal('light'),
  /** Which of the project's light plans. */
  light: layerId,
});

export type LightLayer = z.infer<typeof schema>;

/** Edges that catch the light of a polished surface. */
const EDGES: CueSpec = { cue: 'ridge', scale: 0.03, weights: { fine: 0, medium: 1, broad: 0 } };

type BounceSpec = Extract<CueSpec, { cue: 'bounce' }>;

/** How far what lies below may be to be seen, in parts of the model's diagonal. */
const BOUNCE_REACH = 0.4;

/** What of the key light is seen, where the plan keeps it off behind something. */
export const castOf = (plan: LightPlan): CueSpec | null =>
  plan.key.shadow > 0 && plan.key.strength > 0 ? keyShadow(plan) : null;

const keyShadow = ({ key: { direction, size, poses } }: LightPlan): CueSpec => ({
  cue: 'cast',
  direction,
  light: size,
  ...(poses && { poses }),
});

/** The same, also where the shadow has a tone of its own. */
const shadowOf = (plan: LightPlan): CueSpec | null =>
  castOf(plan) ?? (plan.steps?.shadow != null ? keyShadow(plan) : null);

/** What the plan's light from below takes from the local colours there, a channel each. */
function bounceOf({ ground }: LightPlan, colors: string | null): BounceSpec[] {
  if (colors === null || !(ground.bounce > 0 && ground.strength > 0)) return [];
  return [0, 1, 2].map((channel) => ({
    cue: 'bounce',
    channel,
    colors,
    ground: ground.color,
    reach: BOUNCE_REACH,
  }));
}

const edgesOf = (plan: LightPlan): CueSpec | null => (plan.polish.edges > 0 ? EDGES : null);

/** A light plan as paint. */
export const lightKind = {
  kind: 'light',
  schema,
  inRecipes: true,
  form: 'derived',
  boundless: false,
  cues: ({ light: id }, { light, localColors }) => {
    const plan = light(id);
    if (!plan) return [];
    return [shadowOf(plan), edgesOf(plan), ...bounceOf(plan, localColors())].filter((spec) => spec !== null);
  },
  lights: ({ light }) => [light],
  withLights: (layer, numbers) => ({ ...layer, light: numbers.get(layer.light) ?? layer.light }),
  inputs: ({ light }, names) => `${names.surface} ${names.light(light)}`,
  painter: ({ light: id }, inputs) => {
    const plan = inputs.light(id);
    if (!plan) return () => null;
    const at = lightOver(id, plan, inputs);
    return (tile) => {
      const codes = codesOfTile(inputs.surface, tile);
      if (!codes) return null;
      const words = new Uint16Array(TILE_TEXELS * 4);
      const light = at(tile, codes);
      const out = new Float64Array(3);
      for (let i = 0; i < TILE_TEXELS; i++) {
        if (codes[i]! < 0) continue;
        light(i, out);
        for (let c = 0; c < 3; c++) {
          const v = out[c]!;
          words[i * 4 + c] = v <= 0 ? 0 : v >= 1 ? 65535 : Math.floor(v * 65535 + 0.5);
        }
        words[i * 4 + 3] = 65535;
      }
      return { form: 'rgba16', words };
    };
  },
} as const satisfies DerivedKind<LightLayer>;

/** A plan's light on the texels of a tile: r, g, b of one by its number. */
type LightOfTile = (texel: number, out: Float64Array) => void;

/**
 * Evaluates a light plan over a surface, with its stand-ins, its shadow, its bounce and its tones.
 *
 * @param id of the plan: until its shadow is cast anew, its former one holds
 */
export function lightOver(
  id: number,
  plan: LightPlan,
  inputs: LayerInputs,
): (tile: number, codes: Int32Array) => LightOfTile {
  const { surface, places } = inputs;
  const { mesh, slotOfTile } = surface;
  const prepared = prepareLight(plan);
  const cast = shadowOf(plan);
  const seen = cast && inputs.cue(cast, `cast ${id}`);
  const below = bounceOf(plan, inputs.localColors()).map((spec) =>
    inputs.cue(spec, `bounce ${id} ${spec.channel}`),
  );
  const hasBounce = below.length === 3 && below.every((values) => values !== null);
  const edges = edgesOf(plan);
  const ridges = edges && inputs.cue(edges);
  const { steps } = plan;
  const diagonal = subjectDiagonal(mesh);
  const tones = steps && toneSteps(steps, diagonal);
  // A shadow that is a tone of its own darkens nothing besides.
  const ownShadow = steps?.shadow != null;
  const facesOf = (region: number): number[] => {
    const faces = inputs.region(region)?.faces ?? new Uint8Array(0);
    return [...faces.keys()].filter((f) => faces[f]! > 0);
  };
  const slopes =
    steps && asksPlace(steps)
      ? inputs.kept(`slopes-of-${id} ${inputs.names.of(plan)}`, () =>
          lightSlopes(mesh, plan, plannedNormals(mesh, plan, facesOf)),
        )
      : null;
  const lengthAt = slopes && texelLengths(surface);
  const place = { x: 0, y: 0, z: 0, slope: 0, texel: 1, seen: 1 };
  const own = new Map(plan.parts);
  const strengths = Float64Array.from(mesh.parts, (name) => own.get(name) ?? 1);
  const calm =
    plan.calm > 0 ? inputs.kept(`calm ${plan.calm}`, () => calmNormals(mesh, plan.calm * diagonal)) : null;
  const standIns = plan.standIns.map((standIn) => ({
    part: 'part' in standIn.of ? mesh.parts.indexOf(standIn.of.part) : -1,
    region: 'region' in standIn.of ? inputs.region(standIn.of.region) : null,
    blend: standIn.blend,
    normal: standInNormal(standIn, mesh),
  }));
  const ofRegions = plan.regions.flatMap(([region, strength]) => {
    const shape = inputs.region(region);
    return shape ? [{ shape, strength }] : [];
  });
  const surroundings = { seen: 1, ridge: 0, below: hasBounce ? new Float64Array(3) : null };
  const n = new Float64Array(3);
  const other = new Float64Array(3);
  const bary: Barycentric = { face: -1, w0: 0, w1: 0, w2: 0 };

  const smooth = (tile: number, i: number): void => {
    if (!calm || !places.locate(tile * TILE_TEXELS + i, bary)) return;
    const f = bary.face * 3;
    for (let k = 0; k < 3; k++) {
      n[k] =
        calm[mesh.indices[f]! * 3 + k]! * bary.w0 +
        calm[mesh.indices[f + 1]! * 3 + k]! * bary.w1 +
        calm[mesh.indices[f + 2]! * 3 + k]! * bary.w2;
    }
    normalizeInto(n);
  };

  const slopeAt = (slopes: Float32Array, tile: number, i: number): number => {
    if (!places.locate(tile * TILE_TEXELS + i, bary)) return 0;
    const f = bary.face * 3;
    return (
      slopes[mesh.indices[f]!]! * bary.w0 +
      slopes[mesh.indices[f + 1]!]! * bary.w1 +
      slopes[mesh.indices[f + 2]!]! * bary.w2
    );
  };

  return (tile, codes) => {
    const at = places.tile(tile)!;
    const base = slotOfTile[tile]! * TILE_TEXELS;
    return (i, out) => {
      const face = codes[i]! >> 2;
      const part = mesh.faceParts[face]!;
      n[0] = at.nx[i]! / 32767;
      n[1] = at.ny[i]! / 32767;
      n[2] = at.nz[i]! / 32767;
      smooth(tile, i);
      for (const s of standIns) {
        const within = s.region ? s.region.at(tile, i, codes[i]!) / 255 : s.part === part ? 1 : 0;
        const blend = s.blend * within;
        if (blend === 0) continue;
        s.normal(at.px[i]!, at.py[i]!, at.pz[i]!, other);
        for (let k = 0; k < 3; k++) n[k] = n[k]! * (1 - blend) + other[k]! * blend;
        normalizeInto(n);
      }
      const reached = seen ? seen[base + i]! / 65535 : 1;
      surroundings.seen = ownShadow ? 1 : reached;
      surroundings.ridge = ridges ? ridges[base + i]! / 65535 : 0;
      if (surroundings.below)
        for (let c = 0; c < 3; c++) surroundings.below[c] = below[c]![base + i]! / 65535;
      lightAt(prepared, n[0]!, n[1]!, n[2]!, surroundings, out);
      let k = strengths[part]!;
      for (const { shape, strength } of ofRegions) k += (strength - k) * (shape.at(tile, i, codes[i]!) / 255);
      if (k !== 1) for (let c = 0; c < 3; c++) out[c] = out[c]! * k;
      if (!tones) return;
      place.seen = reached;
      if (slopes && lengthAt) {
        place.x = at.px[i]!;
        place.y = at.py[i]!;
        place.z = at.pz[i]!;
        place.texel = lengthAt(face, tile);
        place.slope = slopeAt(slopes, tile, i);
      }
      tones(out, mesh.parts[part]!, place);
    };
  };
}

function normalizeInto(v: Float64Array): void {
  const l = Math.hypot(v[0]!, v[1]!, v[2]!);
  if (!(l > 0)) return;
  v[0]! /= l;
  v[1]! /= l;
  v[2]! /= l;
}
