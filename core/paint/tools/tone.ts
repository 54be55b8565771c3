import { z } from 'zod';
import { oklchToRgb, rgbToOklch } from '../../color';
import { layThrough } from '../tool-effect';
import { brushed } from '../stroke-fields';
import type { TexelColors } from '../through';
import { tool } from '../tool';

/** Deepens or lifts: OKLCH lightness and chroma go up or down by so much, the hue stays. */
export const toneTool = tool(
  {
    tool: z.literal('tone'),
    lightness: z.number().min(-1).max(1),
    chroma: z.number().min(-0.4).max(0.4),
    ...brushed,
  },
  {
    label: ({ lightness }) => (lightness < 0 ? 'Deepen' : 'Lift'),
    effect: (style, ground) => layThrough(style, { ...ground, keepAlpha: true }, toned(style)),
  },
);

/** What is there, deeper or lifted: the nearest colour of the same hue that a screen can show. */
function toned({ lightness, chroma }: { readonly lightness: number; readonly chroma: number }): TexelColors {
  const known = new Map<number, number>();
  return {
    write: (_tile, i, before, out, o) => {
      const [r, g, b] = [before[i * 4]!, before[i * 4 + 1]!, before[i * 4 + 2]!];
      const was = (r << 16) | (g << 8) | b;
      let now = known.get(was);
      if (now === undefined) {
        const { L, C, h } = rgbToOklch({ r, g, b });
        const to = oklchToRgb({
          L: Math.min(1, Math.max(0, L + lightness)),
          // Grey has no hue that could be brought out.
          C: C < GREY ? C : Math.max(0, C + chroma),
          h,
        });
        now = (to.r << 16) | (to.g << 8) | to.b;
        known.set(was, now);
      }
      out[o] = now >> 16;
      out[o + 1] = (now >> 8) & 255;
      out[o + 2] = now & 255;
      out[o + 3] = 255;
    },
  };
}

/** Below this OKLCH chroma a colour of 8 bits is as good as grey. */
const GREY = 0.004;
