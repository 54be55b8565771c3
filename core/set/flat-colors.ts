import { ownersOf } from '../delivery';
import { localColorsIn, type ProjectDocument } from '../document';
import type { Picture } from '../formats';
import type { UvMesh } from '../mesh';

/** The grey of what has no local colour. */
const PLAIN = [182, 172, 162] as const;

/** A sheet on which everything has its flat local colour, bled everywhere. */
export function flatColors(
  document: Pick<ProjectDocument, 'layers' | 'regions'>,
  mesh: UvMesh,
  size: number,
  sheet: number,
): Picture {
  const { face, home } = ownersOf(mesh, size, sheet);
  const rgb = localColorsIn(document, mesh)?.rgb;
  const rgba = new Uint8Array(size * size * 4);
  for (let i = 0; i < home.length; i++) {
    const f = home[i]! < 0 ? -1 : face[home[i]!]!;
    const color = rgb && f >= 0 ? rgb.subarray(f * 3, f * 3 + 3) : PLAIN;
    rgba.set(color, i * 4);
    rgba[i * 4 + 3] = 255;
  }
  return { width: size, height: size, rgba };
}
