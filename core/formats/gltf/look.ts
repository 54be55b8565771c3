import type { UvMesh } from '../../mesh';

/** glTF 2.0, section 5.26.3. A layout that stays on its sheet is clamped, so that mipmaps don't mix opposite borders. */
export const CLAMP_TO_EDGE = 33071;
export const REPEAT = 10497;

/** A second picture of the same layout, for a toon shader. */
export interface GlbDetail {
  /** One a sheet, PNG files. */
  readonly pngs: readonly Uint8Array[];
  /** What a shader has to know of it: goes into the material's extras as it is. */
  readonly says: Readonly<Record<string, unknown>>;
}

/** What lies on a ramp sheet: a mesh of its own with the same parts, and the sheet. */
export interface GlbRamps {
  readonly mesh: UvMesh;
  readonly png: Uint8Array;
}

/** An outline as a hull: the model blown up and turned inside out. See `hullOf`. */
export interface GlbHull {
  /** The same parts as the model. */
  readonly mesh: UvMesh;
  /** How much of its whole width the outline has at each vertex, 0..1. */
  readonly widths: Float32Array;
  /** `#rrggbb`, sRGB. */
  readonly color: string;
}

/**
 * `detail`: its textures stand where glTF has one for values that are no colours, occlusion, at strength 0: unlit viewers don't look at
 * it, others do nothing with it, and importers bring it along. The extras of the material say what it holds. `ramps`: a part that lies on
 * the ramp sheet in part has two primitives. `hull`: its width stands in the alpha of the vertex colours, which are white otherwise, so
 * that viewers that know nothing of it show the outline's colour.
 */
export interface GlbExtras {
  readonly detail?: GlbDetail | undefined;
  readonly ramps?: GlbRamps | undefined;
  readonly hull?: GlbHull | undefined;
}

/** How the materials of a delivered model are: unlit, or those that it came with, with another base colour. */
export const GLB_MATERIALS = ['unlit', 'kept'] as const;
export type GlbMaterial = (typeof GLB_MATERIALS)[number];

/** What a model is delivered with. */
export interface GlbLook extends GlbExtras {
  readonly name: string;
  /** The texture of each sheet as a PNG, WebP or KTX2 file; a sheet without one keeps what its material had. */
  readonly albedos: readonly Uint8Array[];
  readonly material: GlbMaterial;
}
