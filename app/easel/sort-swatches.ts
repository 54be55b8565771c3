import { hexToRgb, rgbToOklch } from '../../core/color';
import type { Swatch } from '../../core/document';

export const ORDERS = { lightness: 'By lightness', hue: 'By hue', name: 'By name' } as const;
export type Order = keyof typeof ORDERS;

/** Below this chroma a colour is a grey, whose hue says nothing. */
const GREY = 0.02;

/** The swatches' ids in order, each group by itself. */
export function sortSwatches(palette: readonly Swatch[], order: Order): number[] {
  const keys = new Map(
    palette.map((s) => {
      const { L, C, h } = rgbToOklch(hexToRgb(s.color));
      return [s.id, { L, hue: C < GREY ? -1 : h }];
    }),
  );
  const key = (s: Swatch): { readonly L: number; readonly hue: number } => keys.get(s.id)!;
  const by: Record<Order, (a: Swatch, b: Swatch) => number> = {
    lightness: (a, b) => key(b).L - key(a).L,
    hue: (a, b) => key(a).hue - key(b).hue || key(b).L - key(a).L,
    name: (a, b) => a.name.localeCompare(b.name),
  };
  return groupsOf(palette).flatMap(({ swatches }) => swatches.toSorted(by[order]).map((s) => s.id));
}

export interface SwatchGroup {
  /** Empty for those without a group, which stand first. */
  readonly name: string;
  readonly swatches: readonly Swatch[];
}

/** Groups in the order of their first swatch. */
export function groupsOf(palette: readonly Swatch[]): SwatchGroup[] {
  const names = [...new Set(palette.map((s) => s.group))].sort((a, b) => Number(a !== '') - Number(b !== ''));
  return names.map((name) => ({ name, swatches: palette.filter((s) => s.group === name) }));
}
