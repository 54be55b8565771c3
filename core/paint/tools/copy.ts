import { z } from 'zod';
import { clamp01, dot, normalize, placingSchema, sub, type Placing, type Vec3 } from '../../math';
import type { SurfacePoint } from '../../mesh';
import { PlaceReader, ChannelSampler, texelLengths } from '../../surface';
import { layThrough, type EffectSurface } from '../tool-effect';
import { otherSide } from '../other-side';
import type { Reach } from '../reach';
import { brushed, vector } from '../stroke-fields';
import type { TexelColors } from '../through';
import { tool } from '../tool';

/**
 * Brings what the layer had at another place before the stroke: `from` leads there from where it is laid. `whole`: it has no samples, and
 * takes the place of all that its guard lets through, on the side of the plane that the normal points to; with `twins` it comes from where the
 * other side's triangles hang together as there.
 */
export const copyTool = tool(
  {
    tool: z.literal('copy'),
    from: placingSchema,
    whole: z.strictObject({ point: vector, normal: vector, twins: z.boolean() }).nullable().default(null),
    ...brushed,
  },
  {
    label: () => 'Copy from another place',
    effect: (style, ground) => {
      const { whole } = style;
      const colors = copied(style, ground);
      if (!whole) return layThrough(style, ground, colors);
      const side = sideOf(whole, ground);
      return layThrough(style, ground, { ...colors, replaces: true }, side);
    },
  },
);

/** What a whole side is copied over. */
interface Whole {
  readonly point: Vec3;
  readonly normal: Vec3;
  readonly twins: boolean;
}

/** What lies on one side of a plane, smooth over one texel, and within the guard. */
function sideOf({ point, normal }: Whole, { rasterizer: { surface }, guard }: EffectSurface): Reach {
  const reader = new PlaceReader(surface);
  const texels = texelLengths(surface);
  const n = normalize(normal);
  return {
    at: (tile, i, code) => {
      const { px, py, pz } = reader.tile(tile)!;
      const far = dot(sub([px[i]!, py[i]!, pz[i]!], point), n);
      const part = clamp01(far / texels(code >> 2, tile) + 0.5);
      return part === 0 ? 0 : Math.round(part * (guard ? guard.at(tile, i, code) : 255));
    },
  };
}

/** What the plane had where `from` leads to. */
function copied(
  { from, whole }: { readonly from: Placing; readonly whole: Whole | null },
  { rasterizer, plane }: EffectSurface,
): TexelColors {
  const { surface } = rasterizer;
  const { closest } = rasterizer.open();
  const toOther = whole?.twins ? otherSide(rasterizer, whole.point, whole.normal) : null;
  const reader = new PlaceReader(surface);
  const sampler = new ChannelSampler(surface, plane);
  const place: SurfacePoint = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };
  return {
    write: (tile, i, _before, out, o) => {
      const { px, py, pz } = reader.tile(tile)!;
      const row = (r: number): number =>
        from[r]! * px[i]! + from[r + 1]! * py[i]! + from[r + 2]! * pz[i]! + from[r + 3]!;
      if (toOther) toOther([px[i]!, py[i]!, pz[i]!], place);
      else closest.find(row(0), row(4), row(8), place);
      sampler.begin();
      sampler.add(place);
      if (sampler.finish()) out.set(sampler.rgba, o);
      else out.fill(0, o, o + 4);
    },
  };
}
