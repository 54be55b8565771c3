import { z } from 'zod';
import { hexColor, hexToRgb } from '../../color';
import { SUB_TEXELS } from '../../surface';
import { hasShades, type BrushShape } from '../brush';
import { layThrough } from '../tool-effect';
import type { StrokeRasterizer } from '../stroke-rasterizer';
import { shadesOf } from '../shades';
import { brushed } from '../stroke-fields';
import type { TexelColors } from '../through';
import { tool } from '../tool';

/** Lays a colour, or takes paint away. */
export const brushTool = tool(
  { tool: z.literal('brush'), erase: z.boolean(), color: hexColor, ...brushed },
  {
    label: ({ erase }) => (erase ? 'Erase' : 'Paint stroke'),
    effect: ({ color, erase, opacity, brush }, ground) => {
      const { rasterizer, kernels, keepAlpha } = ground;
      if (hasShades(brush) && !erase)
        return layThrough({ opacity, brush }, ground, shaded(color, brush, rasterizer));
      const paint = { color: hexToRgb(color), opacity: brush.builds ? 1 : opacity, erase, keepAlpha };
      return {
        dab: (sheet, dab, touched) => rasterizer.dab(sheet, dab, touched),
        paint: (tile, before, out) => kernels.stroke(before, rasterizer.coverageOf(tile), out, paint),
      };
    },
  },
);

/** The shade of the dab that covers most, or came last. */
function shaded(color: string, brush: BrushShape, rasterizer: StrokeRasterizer): TexelColors {
  const shades = shadesOf(color, brush);
  return {
    changes: true,
    write: (tile, i, _before, out, o) => {
      const { r, g, b } = shades[rasterizer.shade(tile * 4 + (i >> 10), i & (SUB_TEXELS - 1))]!;
      out[o] = r;
      out[o + 1] = g;
      out[o + 2] = b;
      out[o + 3] = 255;
    },
  };
}
