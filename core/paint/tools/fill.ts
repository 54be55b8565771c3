import { z } from 'zod';
import { hexColor, hexToRgb } from '../../color';
import { guardArea } from '../tool-effect';
import { held, part } from '../stroke-fields';
import { tool } from '../tool';

/** Covers all that its guard lets through. It has no samples. */
export const fillTool = tool(
  { tool: z.literal('fill'), erase: z.boolean(), color: hexColor, opacity: part, ...held },
  {
    label: ({ erase }) => (erase ? 'Erase' : 'Fill an area'),
    effect: ({ color, erase, opacity }, { rasterizer, kernels, keepAlpha, guard }) => {
      const paint = { color: hexToRgb(color), opacity, erase, keepAlpha };
      const area = guardArea(rasterizer, guard);
      return {
        covers: area.subs,
        dab: () => undefined,
        paint: (tile, before, out) => kernels.stroke(before, area.coverageOf(tile), out, paint),
      };
    },
  },
);
