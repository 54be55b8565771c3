import { DEFAULT_LIGHT_PLAN } from '../light';
import { NODE_DEFAULTS } from '../layers';
import { IDENTITY } from '../math';
import type { SheetSize } from '../surface';
import { DOCUMENT_VERSION, type ProjectDocument, type Sheet } from './schema';

/** What a document says of a model that has just been brought in. */
export const NO_LAYOUT = {
  model: '',
  seams: [],
  paintEdges: [],
  foundSeams: [],
  seamPoints: [],
  seamWishes: { never: [], gladly: [] },
  weights: [],
  pins: [],
  regions: [],
  guards: [],
  bases: [],
} satisfies Partial<ProjectDocument>;

/** Local colour that every new project begins with. */
export const NEW_LOCAL = '#b6aca2';

/** The sheets of a project that has one. @param size texels a side */
export const oneSheet = (size: SheetSize): Sheet[] => [{ name: 'Sheet 1', size }];

/** A document of one local and one paint layer: the least that can be painted on. @param sheets texels a side where there is one */
export function newDocument(name: string, sheets: SheetSize | readonly Sheet[]): ProjectDocument {
  return {
    version: DOCUMENT_VERSION,
    name,
    sheets: typeof sheets === 'number' ? oneSheet(sheets) : [...sheets],
    layers: [
      {
        ...NODE_DEFAULTS,
        mask: [],
        kind: 'local',
        id: 1,
        name: 'Local colour',
        colors: [],
        regions: [],
        swatches: [],
        fallback: NEW_LOCAL,
      },
      { ...NODE_DEFAULTS, mask: [], kind: 'paint', id: 2, name: 'Paint' },
    ],
    lights: [{ id: 0, name: 'Light', plan: DEFAULT_LIGHT_PLAN }],
    ramps: null,
    palette: [],
    references: [],
    looks: [],
    cameras: [],
    patterns: [],
    dense: null,
    modelFile: null,
    twins: 'alike',
    ...NO_LAYOUT,
    frames: [{ id: 0, placing: IDENTITY }],
    nextId: 3,
  };
}
