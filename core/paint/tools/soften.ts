import { z } from 'zod';
import { brushed } from '../stroke-fields';
import { tool } from '../tool';
import { layWet } from '../wet-effect';

/** Evens out what lies there, along the surface. */
export const softenTool = tool(
  { tool: z.literal('soften'), ...brushed },
  { label: () => 'Soften', effect: layWet },
);
