import { z } from 'zod';
import { layThrough } from '../../core/paint/tool-effect';
import { brushed } from '../../core/paint/stroke-fields';
import { tool } from '../../core/paint/tool';

/** Takes the colour out of what is painted. */
export const greyTool = tool(
  { tool: z.literal('grey'), ...brushed },
  {
    label: () => 'Grey',
    effect: (style, ground) =>
      layThrough(
        style,
        { ...ground, keepAlpha: true },
        {
          write: (_tile, i, before, out, o) => {
            const [r, g, b] = [before[i * 4]!, before[i * 4 + 1]!, before[i * 4 + 2]!];
            // ITU-R BT.709: how much each adds to what is seen as light.
            out.fill(Math.round(0.2126 * r + 0.7152 * g + 0.0722 * b), o, o + 3);
            out[o + 3] = 255;
          },
        },
      ),
  },
);
