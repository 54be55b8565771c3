/** How the model pane shows the paint. */
export const LOOKS = ['unlit', 'lit', 'values', 'checker'] as const;
export type Look = (typeof LOOKS)[number];
