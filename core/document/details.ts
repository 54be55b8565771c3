/**
 * Masks of the detail sheet, a second picture of the same layout for a toon shader: what darkens first, how heavy the outline is, and
 * what keeps a highlight. Each is what lies in the groups of the build-up that go into it.
 */
export const DETAILS = ['dark', 'line', 'shine'] as const;
export type Detail = (typeof DETAILS)[number];

/**
 * Value where nothing is painted, 0..255. Dark: the middle leaves the light as it is, less darkens sooner, more stays light longer.
 * Line: the part of the outline's width that is left. Shine: how readily a place keeps a highlight.
 */
export const DETAIL_NEUTRAL: Readonly<Record<Detail, number>> = { dark: 128, line: 255, shine: 0 };
