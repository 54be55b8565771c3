import type { ToolEffect, EffectSurface } from './tool-effect';
import type { BrushedFields } from './stroke-fields';
import { WetPaint } from './wet';

/** Lays what works on the paint that lies there already. */
export function layWet(
  style: Pick<BrushedFields, 'opacity' | 'brush'> & { readonly tool: 'soften' | 'smear' },
  { rasterizer, keepAlpha, plane }: EffectSurface,
): ToolEffect {
  const { tool, opacity, brush } = style;
  const paint = new WetPaint(rasterizer, { tool, opacity: brush.builds ? 1 : opacity, keepAlpha }, plane);
  return {
    dab: (sheet, dab, touched) => paint.dab(sheet, dab, touched),
    paint: (tile, before, out) => paint.paint(tile, before, out),
  };
}
