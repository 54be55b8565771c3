/** How the model pane shows the paint; the shader counts them in this order. */
export const LOOKS = ['unlit', 'lit', 'values', 'checker', 'density', 'area', 'angle'] as const;
export type Look = (typeof LOOKS)[number];

/** Looks that show the layout instead of the paint. */
export const isLayoutLook = (look: Look): boolean => LOOKS.indexOf(look) >= LOOKS.indexOf('checker');
