import { layersOf } from '../../core/document';
import { backdropCount, formParts } from '../../core/mesh';
import type { ProjectView } from '../project';
import type { StageName } from '../shared/ui-store';

export const STAGE_TITLES: Record<StageName, string> = {
  model: 'Model',
  unwrap: 'Unwrap',
  'block-in': 'Block in',
  form: 'Form',
  paint: 'Paint',
  match: 'Match',
  deliver: 'Deliver',
};

const count = (n: number, one: string, many: string): string => `${n} ${n === 1 ? one : many}`;

/** The state of a stage in a few plain words. */
/**
 * @param distance mean ΔE from the reference as it was measured last; null: it wasn't
 * @param found how many things were found when what leaves was looked at last; null: it wasn't, or it is another by now
 */
export function stageState(
  stage: StageName,
  { document, mesh, surface, strokes, missingCues }: ProjectView,
  distance: number | null = null,
  found: number | null = null,
): string {
  if (!document || !mesh) return '';
  switch (stage) {
    case 'model':
      return count(formParts(mesh), 'part', 'parts');
    case 'unwrap':
      if (!surface) return 'measuring';
      if (surface.twinOf.some((first, side) => first !== side)) return 'twins';
      return surface.overlappedTexels > 0
        ? 'overlaps'
        : count(surface.islands - backdropCount(surface.mesh), 'island', 'islands');
    case 'block-in': {
      const colors = new Set<string>();
      for (const layer of layersOf(document.layers))
        if (layer.kind === 'local')
          for (const [, color] of [...layer.colors, ...layer.regions]) colors.add(color);
      return count(colors.size, 'colour', 'colours');
    }
    case 'form':
      if (!surface || missingCues.length > 0) return 'measuring';
      return count(
        layersOf(document.layers).filter((l) => l.kind === 'wash' || l.kind === 'light' || l.kind === 'tone')
          .length,
        'layer',
        'layers',
      );
    case 'paint':
      return count(strokes, 'stroke', 'strokes');
    case 'match':
      if (distance !== null) return `ΔE ${distance.toFixed(1)}`;
      return document.references.length === 0
        ? 'no reference'
        : count(document.references.length, 'reference', 'references');
    case 'deliver':
      if (found !== null) return found === 0 ? 'checked' : `${found} to look at`;
      return document.sheets.length === 1
        ? `${document.sheets[0]!.size} × ${document.sheets[0]!.size}`
        : count(document.sheets.length, 'sheet', 'sheets');
  }
}
