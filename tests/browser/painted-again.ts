import { engineAtSize, flattenAlbedo } from '../../core/engine';
import { readProjectFile } from '../../core/project-file';
import { createWasmKernels } from '../../core/kernels';
import { contentHash } from '../../core/math';

/**
 * What a project file that a browser wrote holds as texels, and what Node makes of its strokes from the first on.
 *
 * @returns the albedo's hash as it is and as it is painted again, and how many strokes were
 */
export async function paintedAgain(
  file: Uint8Array,
): Promise<{ is: string; again: string; strokes: number }> {
  const data = readProjectFile(file);
  const engine = await engineAtSize(data, null, createWasmKernels());
  const { size } = data.document.sheets[0]!;
  const hash = (): string => contentHash(flattenAlbedo(engine, { size, bleed: Infinity }).rgba);
  const is = hash();
  let strokes = 0;
  for (const layer of data.strokes.keys()) {
    const list = engine.editableStrokes(layer);
    if (list.length === 0) continue;
    strokes += list.length;
    engine.apply({ do: 'edit-strokes', layer, strokes: list.map((s) => s.number), change: {} });
  }
  return { is, again: hash(), strokes };
}
