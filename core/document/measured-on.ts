import type { OcclusionSpec } from '../cues';
import { cuesOfMask, localColorsOf, type LocalColors, type LocalLayer } from '../layers';
import type { Mesh } from '../mesh';
import { albedoNodes } from './detail-nodes';
import { layersOf } from './layer-tree';
import type { ProjectDocument } from './schema';

/** The layer whose colours count as those of the model: the lowest that holds local colours. */
export const localLayerOf = ({ layers }: Pick<ProjectDocument, 'layers'>): LocalLayer | null => {
  const found = layersOf(albedoNodes(layers)).find((l) => l.kind === 'local');
  return found?.kind === 'local' ? found : null;
};

/** The local colours on a model; null where no layer holds any. */
export function localColorsIn(
  document: Pick<ProjectDocument, 'layers' | 'regions'>,
  mesh: Mesh,
): LocalColors | null {
  const layer = localLayerOf(document);
  return layer && localColorsOf(layer, document.regions, mesh);
}

/**
 * Names what a project's cues are measured on; empty: its own model.
 *
 * @param file names the denser model. What is kept for all projects goes by what is in its file, since ids are a project's own: two copies of
 *   a project may give one to different models
 */
export const groundName = (
  { dense }: Pick<ProjectDocument, 'dense'>,
  file: string | number = dense?.id ?? '',
): string => (dense ? [file, dense.distance, ...(dense.placing ?? [])].join(' ') : '');

/**
 * Names how the model's file moves and where it stands: cues over poses are measured by that; empty: it has none.
 *
 * @param file names what is in the file
 */
export const motionName = ({ modelFile }: Pick<ProjectDocument, 'modelFile'>, file: string): string =>
  modelFile ? ['moved by', file, ...(modelFile.placing ?? [])].join(' ') : '';

/** What occlusion a build-up is painted from: that of its lowest layer or mask that has any; null: none. */
export function paintedOcclusion({ layers }: Pick<ProjectDocument, 'layers'>): OcclusionSpec | null {
  for (const layer of layersOf(layers)) {
    const mixed = layer.kind === 'tone' ? layer.mix.flatMap((m) => (m.from === 'cue' ? [m.cue] : [])) : [];
    for (const spec of [...mixed, ...cuesOfMask(layer.mask)]) if (spec.cue === 'occlusion') return spec;
  }
  return null;
}
