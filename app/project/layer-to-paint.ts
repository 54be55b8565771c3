import { albedoNodes, layersOf, type ProjectDocument } from '../../core/document';
import { kindOf, type Layer } from '../../core/layers';

/**
 * The layer that is in hand when nobody has chosen one, so that painting can begin at once: the lowest paint layer of a new project, the highest
 * where something was painted. What came in as a picture isn't painted on by chance.
 */
export function layerToPaint(
  { layers, bases }: Pick<ProjectDocument, 'layers' | 'bases'>,
  isNew: boolean,
): Layer | undefined {
  // What goes into the detail sheet is worked on when it is asked for.
  const all = layersOf(albedoNodes(layers));
  const paints = all.filter((l) => kindOf(l).form === 'pixels');
  const cameIn = new Set(bases.flatMap(({ plane, strokes }) => (strokes === 0 ? [plane] : [])));
  const own = paints.filter((l) => !cameIn.has(l.id) && l.lock === 'none');
  const from = own.length > 0 ? own : paints;
  return (isNew ? from[0] : from.at(-1)) ?? all.at(-1);
}
