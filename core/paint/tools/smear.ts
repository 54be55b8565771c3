import { z } from 'zod';
import { brushed } from '../stroke-fields';
import { tool } from '../tool';
import { layWet } from '../wet-effect';

/** Drags what lies there along. */
export const smearTool = tool(
  { tool: z.literal('smear'), ...brushed },
  { label: () => 'Smear', effect: layWet },
);
