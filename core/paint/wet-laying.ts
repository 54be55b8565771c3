import type { Laying, LayingGround } from './laying';
import type { BrushedFields } from './stroke-fields';
import { WetPaint } from './wet';

/** Lays what works on the paint that lies there already. */
export function layWet(
  style: Pick<BrushedFields, 'opacity' | 'brush'> & { readonly tool: 'soften' | 'smear' },
  { desk, keepAlpha, plane }: LayingGround,
): Laying {
  const { tool, opacity, brush } = style;
  const paint = new WetPaint(desk, { tool, opacity: brush.builds ? 1 : opacity, keepAlpha }, plane);
  return {
    dab: (sheet, dab, touched) => paint.dab(sheet, dab, touched),
    paint: (tile, before, out) => paint.paint(tile, before, out),
  };
}
