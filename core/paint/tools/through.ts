import { z } from 'zod';
import { colorPyramid, samplePyramid } from '../../pattern';
import { codesOfTile, PlaceReader, texelLengths } from '../../surface';
import { layThrough, type EffectSurface } from '../tool-effect';
import { brushed } from '../stroke-fields';
import type { TexelColors } from '../through';
import { tool } from '../tool';

/**
 * Brings what a picture shows, as it was laid over the model: `view` takes a place of the model to the picture's pixels, three rows of
 * four, x from the left and y from the top times the depth, and the depth. `whole`: it has no samples, and covers all that its guard lets through.
 */
export const throughTool = tool(
  {
    tool: z.literal('through'),
    /** Id of the project's pattern. */
    picture: z.int().nonnegative(),
    view: z.array(z.number()).length(12),
    whole: z.boolean(),
    ...brushed,
  },
  {
    label: () => 'Paint through a picture',
    pictures: ({ picture }) => [picture],
    effect: (style, ground) =>
      layThrough(style, ground, seenThrough(style, ground), style.whole ? ground.guard : undefined),
  },
);

/** What a picture shows that lies over the model; nothing beyond its rim. Where texels are larger than its pixels, its halvings are read. */
function seenThrough(
  { picture: id, view }: { readonly picture: number; readonly view: readonly number[] },
  { rasterizer, picture }: EffectSurface,
): TexelColors {
  const { surface } = rasterizer;
  const found = picture(id);
  if (!found) return { write: (_tile, _i, _before, out, o) => void out.fill(0, o, o + 4) };
  const pyramid = colorPyramid(found);
  const { width, height } = found;
  const reader = new PlaceReader(surface);
  const texels = texelLengths(surface);
  const sum = new Float64Array(4);
  // Pixels a unit of length at depth 1.
  const scale = Math.sqrt(view[0]! ** 2 + view[1]! ** 2 + view[2]! ** 2);
  return {
    write: (tile, i, _before, out, o) => {
      const { px, py, pz } = reader.tile(tile)!;
      const row = (r: number): number =>
        view[r]! * px[i]! + view[r + 1]! * py[i]! + view[r + 2]! * pz[i]! + view[r + 3]!;
      const depth = row(8);
      const [x, y] = [row(0) / depth, row(4) / depth];
      out.fill(0, o, o + 4);
      if (!(depth > 0 && x >= 0 && y >= 0 && x < width && y < height)) return;
      const code = codesOfTile(surface, tile)![i]!;
      const level = Math.max(0, Math.log2((texels(code >> 2, tile) * scale) / depth));
      sum.fill(0);
      // Half a pixel off the rim: what lies beyond is the other side of the picture.
      const u = Math.min(width - 0.5, Math.max(0.5, x)) / width;
      const v = 1 - Math.min(height - 0.5, Math.max(0.5, y)) / height;
      samplePyramid(pyramid, u, v, level, 1, sum);
      const alpha = sum[3]!;
      if (alpha <= 0) return;
      for (let c = 0; c < 3; c++) out[o + c] = Math.min(255, Math.floor((sum[c]! / alpha) * 255 + 0.5));
      out[o + 3] = Math.min(255, Math.floor(alpha * 255 + 0.5));
    },
  };
}
