import { hexToRgb } from '../color';
import { contentHash } from '../math';
import { subjectOf, type Mesh } from '../mesh';
import type { Region } from '../region';
import { localColor, type LocalLayer } from './local';

/** The local colour of each triangle of a model. */
export interface LocalColors {
  /** Equal names, equal colours. */
  readonly name: string;
  /** Three a triangle, sRGB-encoded. */
  readonly rgb: Uint8Array;
}

/** A layer's colours triangle by triangle; one that a region's border runs through counts as inside. */
export function localColorsOf(layer: LocalLayer, regions: readonly Region[], mesh: Mesh): LocalColors {
  const { parts, faceParts } = mesh;
  const rgb = new Uint8Array(faceParts.length * 3);
  const set = (face: number, hex: string): void => {
    const { r, g, b } = hexToRgb(hex);
    rgb[face * 3] = r;
    rgb[face * 3 + 1] = g;
    rgb[face * 3 + 2] = b;
  };
  const ofPart = parts.map((name) => localColor(layer, name));
  faceParts.forEach((part, face) => set(face, ofPart[part]!));
  for (const [id, color] of layer.regions)
    for (const face of regions.find((r) => r.id === id)?.faces ?? []) set(face, color);
  // No light bounces off a backdrop.
  return { name: contentHash(rgb.subarray(0, subjectOf(mesh).faceParts.length * 3)), rgb };
}
