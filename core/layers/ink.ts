import { z } from 'zod';
import { followCue } from '../cues';
import type { Follower } from '../follow';
import {
  InkDrawer,
  followLine,
  inkLineSchema,
  MOST_LINES,
  ownLines,
  ownLinesSchema,
  InkSurface,
  type InkLine,
  type OwnCueSurface,
  type OwnLines,
} from '../ink';
import { subjectDiagonal, subjectOf } from '../mesh';
import { texelsAtPlaces } from '../surface';
import { nodeBase } from './layer-base';
import type { DerivedKind, LayerInputs } from './layer-kind';
import { wordsOf } from './premultiplied';

const schema = z.strictObject({
  ...nodeBase,
  kind: z.literal('ink'),
  /** Lines drawn by hand, the later over the earlier. */
  lines: z.array(inkLineSchema).max(MOST_LINES).default([]),
  /** Lines that the form draws by itself, under those; null: none. */
  own: ownLinesSchema.nullable().default(null),
});

export type InkLayer = z.infer<typeof schema>;

/** Curves that lie on the surface, drawn by hand or by the form itself; they stay lines until the layer is merged. */
export const inkKind = {
  kind: 'ink',
  schema,
  // Its places are those of this model.
  inRecipes: false,
  form: 'derived',
  boundless: false,
  // A line is laid on all places of a texel at once.
  shared: 'first',
  onBackdrops: true,
  cues: ({ own }) => (own ? cuesOf(own) : []),
  regions: ({ own }) => (own?.from.along === 'borders' ? own.from.regions : []),
  withoutRegion: (layer, region) => {
    const { own } = layer;
    if (own?.from.along !== 'borders') return layer;
    const regions = own.from.regions.filter((id) => id !== region);
    return { ...layer, own: { ...own, from: { ...own.from, regions } } };
  },
  follow: (layer, model) => ({
    ...layer,
    lines: followLines(layer.lines, model),
    own: layer.own && followOwn(layer.own, model),
  }),
  inputs: ({ lines, own }, names) => `${names.surface} ${names.of(lines)} ${own ? ownName(own, names) : ''}`,
  pieces: (layer, inputs) => {
    // A first look at lines that have yet to be drawn needn't wait until it is known where all of them come.
    if (layer.own && !inputs.isKept(ownKey(layer.id, layer.own, inputs))) return null;
    const drawer = inkDrawer(inputs);
    return [...ownLinesOf(layer, inputs), ...layer.lines].map(
      (line) => [line, drawer.texels(line).tiles] as const,
    );
  },
  painter: (layer, inputs) => {
    const drawer = inkDrawer(inputs);
    let onTiles: Map<number, InkLine[]> | null = null;
    return (tile) => {
      onTiles ??= byTile([...ownLinesOf(layer, inputs), ...layer.lines], drawer);
      const here = onTiles.get(tile);
      const values = here ? drawer.onTile(here, tile) : null;
      return values ? { form: 'rgba16', words: wordsOf(values) } : null;
    };
  },
} as const satisfies DerivedKind<InkLayer>;

const inkDrawer = ({ kept, surface, places }: LayerInputs): InkDrawer =>
  kept('ink-drawer', () => new InkDrawer(surface, places));

/** What lines are laid on. */
export const inkSurface = (inputs: LayerInputs): InkSurface => inkDrawer(inputs).ground;

/** Lines of a layer that the form draws by itself. */
export function ownLinesOf(layer: InkLayer, inputs: LayerInputs): readonly InkLine[] {
  const { id, own } = layer;
  if (!own) return [];
  if (inputs.ownLines) return inputs.ownLines(id);
  return inputs.kept(ownKey(id, own, inputs), () => ownLines(own, ownCueSurface(inputs)));
}

const ownKey = (id: number, own: OwnLines, { names }: LayerInputs): string =>
  `own-lines${id} ${ownName(own, names)}`;

/** What is told of an ink layer as it is drawn. */
export interface InkFigures {
  /** Lines that the form draws by itself. */
  readonly own: number;
  /** Numbers of drawn lines that run over what is no surface: a hole, or a way to another piece. */
  readonly gapped: readonly number[];
}

export function inkFigures(layer: InkLayer, inputs: LayerInputs): InkFigures {
  const drawer = inkDrawer(inputs);
  return {
    own: ownLinesOf(layer, inputs).length,
    gapped: layer.lines.filter((line) => drawer.texels(line).gaps > 0).map((line) => line.id),
  };
}

/** What lines are found on that the form draws by itself. */
function formGround(inputs: LayerInputs): InkSurface {
  const { surface, kept } = inputs;
  const form = subjectOf(surface.mesh);
  return form === surface.mesh ? inkSurface(inputs) : kept('own-ground', () => new InkSurface(form));
}

function ownCueSurface(inputs: LayerInputs): OwnCueSurface {
  const { surface } = inputs;
  const at = texelsAtPlaces(surface);
  return {
    ground: formGround(inputs),
    islandOfFace: surface.islandOfFace,
    diagonal: subjectDiagonal(surface.mesh) || 1,
    region: (id) => inputs.region(id)?.faces ?? null,
    cue: (spec) => {
      const values = inputs.cue(spec);
      if (!values) return null;
      return (face, place) => {
        const i = at(face, place);
        return i < 0 ? 1 : values[i]! / 65535;
      };
    },
  };
}

function byTile(lines: readonly InkLine[], drawer: InkDrawer): Map<number, InkLine[]> {
  const out = new Map<number, InkLine[]>();
  for (const line of lines) {
    for (const tile of drawer.texels(line).tiles) {
      const list = out.get(tile);
      if (list) list.push(line);
      else out.set(tile, [line]);
    }
  }
  return out;
}

const cuesOf = ({ from, width }: OwnLines): OwnCue[] => [
  ...(width ? [width.cue] : []),
  ...(from.along === 'hatching' ? [from.tone] : []),
];
type OwnCue = NonNullable<OwnLines['width']>['cue'];

/** Names all that own lines are made from. */
function ownName(own: OwnLines, names: LayerInputs['names']): string {
  const regions = own.from.along === 'borders' ? own.from.regions.map((id) => names.region(id)) : [];
  return [JSON.stringify(own), ...cuesOf(own).map((spec) => names.cue(spec)), ...regions].join(' ');
}

/** The same list as long as nothing has moved: what is known of it holds on. */
function followLines(lines: InkLayer['lines'], model: Follower): InkLayer['lines'] {
  if (model.stays) return lines;
  return lines.map((line) => followLine(line, (at) => model.point(at), model.times));
}

function followOwn(own: OwnLines, model: Follower): OwnLines {
  const { from, style, width } = own;
  return {
    ...own,
    style: { ...style, width: style.width * model.times },
    width: width && { ...width, cue: followCue(width.cue, model) },
    from: followSource(from, model),
  };
}

function followSource(from: OwnLines['from'], model: Follower): OwnLines['from'] {
  if (from.along === 'hatching') return { ...from, tone: followCue(from.tone, model) };
  if (from.along !== 'contours' || model.stays) return from;
  const views = from.views.map((view) => ({
    ...view,
    eye: view.flat ? model.direction(view.eye) : model.point(view.eye),
  }));
  return { ...from, views: views.map(({ eye, ...view }) => ({ ...view, eye: [...eye] })) };
}
