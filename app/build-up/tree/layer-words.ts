import { findNode, type ProjectDocument, type LayerNode } from '../../../core/document';
import type { Change, InkLayer, MaskStep } from '../../../core/layers';
import type { OwnSource } from '../../../core/ink';
import { CUE_WORDS } from '../../shared/cue-words';
import { DETAIL_WORDS } from '../../shared/detail-words';

const CHANGE_NAMES: Record<Change['by'], string> = {
  oklch: 'hue and chroma',
  levels: 'levels',
  curve: 'curve',
  balance: 'balance of tones',
  ramp: 'colour ramp',
};

/** How the names of others are told. */
export interface Names {
  readonly region: (id: number) => string;
  readonly layer: (id: number) => string;
  readonly pattern: (id: number) => string;
}

/** Names of regions and layers, as masks mention them. */
export const namesIn = (document: ProjectDocument | null): Names => ({
  region: (id) => document?.regions.find((r) => r.id === id)?.name ?? 'that is gone',
  layer: (id) => (document && findNode(document.layers, id)?.name) ?? 'a layer that is gone',
  pattern: (id) => document?.patterns.find((p) => p.id === id)?.name ?? 'a pattern',
});

/** What a step of a mask is made from. */
export function stepName(step: MaskStep, names: Names): string {
  switch (step.from) {
    case 'cue':
      return CUE_WORDS[step.cue.cue][0];
    case 'region':
      return `Region ${names.region(step.region)}`;
    case 'parts':
      return step.parts.length === 1 ? `Part ${step.parts[0]}` : `${step.parts.length} parts`;
    case 'pattern':
      return names.pattern(step.tiled.pattern);
    case 'layer':
      return `Mask of ${names.layer(step.layer)}`;
    case 'painted':
      return 'Painted by hand';
  }
}

const OWN_WORDS: Readonly<Record<OwnSource['along'], string>> = {
  borders: 'along borders',
  creases: 'along creases',
  contours: 'contours',
  folds: 'along folds',
  hatching: 'hatching',
};

function inkWords({ lines, own }: InkLayer): string {
  const many = lines.length === 1 ? '1 line' : `${lines.length} lines`;
  if (!own) return many;
  return lines.length ? `${OWN_WORDS[own.from.along]}, ${many}` : OWN_WORDS[own.from.along];
}

/** A layer in a few words: what it is, how it is laid, through what. */
export function describeNode(node: LayerNode, names: Names): string {
  const words: string[] = [];
  switch (node.kind) {
    case 'group':
      words.push(
        node.detail === null ? 'group' : `detail sheet: ${DETAIL_WORDS[node.detail][0].toLowerCase()}`,
        node.layers.length === 0 ? 'empty' : `${node.layers.length} inside`,
      );
      break;
    case 'wash': {
      const [first] = node.mask;
      words.push(first?.from === 'cue' ? `${CUE_WORDS[first.cue.cue][0].toLowerCase()} wash` : 'wash');
      break;
    }
    case 'adjust':
      words.push(CHANGE_NAMES[node.change.by]);
      break;
    case 'pattern':
      words.push('pattern', names.pattern(node.tiled.pattern).toLowerCase());
      break;
    case 'decal':
      words.push('decal', node.decal.words?.text ?? names.pattern(node.decal.picture).toLowerCase());
      break;
    case 'ink':
      words.push(inkWords(node));
      break;
    default:
      words.push({ local: 'parts', light: 'light', paint: 'paint', tone: 'tones' }[node.kind]);
  }
  if ('strokes' in node && node.strokes) words.push('in strokes');
  if (node.blend !== 'normal') words.push(node.blend.replace('-', ' '));
  const beside = node.mask.filter((s) => !(node.kind === 'wash' && s.from === 'cue'));
  if (beside.length > 0) words.push(beside.map((s) => stepName(s, names).toLowerCase()).join(', '));
  return words.join(' · ');
}
