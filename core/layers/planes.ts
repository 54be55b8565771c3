/**
 * Pixels of layers stand in planes, each named by a number: a layer's own under its id, what was painted on its mask under
 * -1 - id. Under `baseOf` either stands what the plane was before the strokes that are kept of it; only tiles that have
 * changed since are there.
 */
export const CHANNELS = ['pixels', 'mask'] as const;
export type Channel = (typeof CHANNELS)[number];

/** Ids of layers are smaller than this. */
export const MAX_ID = 1e9;

/** The plane of a layer’s pixels or of its painted mask. */
export const planeOf = (layer: number, channel: Channel = 'pixels'): number =>
  channel === 'pixels' ? layer : -1 - layer;

/** The layer and channel of a plane that isn't a base. */
export const ownerOfChannel = (plane: number): { readonly layer: number; readonly channel: Channel } =>
  plane >= 0 ? { layer: plane, channel: 'pixels' } : { layer: -1 - plane, channel: 'mask' };

/** The plane that keeps what lies under another plane’s strokes. */
export const baseOf = (plane: number): number => (plane >= 0 ? plane + MAX_ID : plane - MAX_ID);

/** Whether a plane is the base of another. */
export const isBase = (plane: number): boolean => plane >= MAX_ID || plane < -MAX_ID;
