import {
  findNode,
  localColorsIn,
  nodesOf,
  type LayerNode,
  type ProjectDocument,
} from '../../../core/document';
import { isPaintedMask, kindOf, type Channel, type Layer, type LocalColors } from '../../../core/layers';
import type { Command, GuardWish } from '../../../core/commands';
import { base64ToBytes } from '../../../core/base64';
import { rgbToHex } from '../../../core/color';
import { CoreError } from '../../../core/errors';
import { type Vec3, type Placing } from '../../../core/math';
import {
  mirrored,
  PICTURE_TIP,
  PLAIN_BRUSH,
  type BrushedStyle,
  type StrokeWish,
  type StyleOf,
} from '../../../core/paint';
import type { StrokeBegin } from '../../../workers';
import type { Hit } from '../../viewport';
import { poseInHand, useProject } from '../../project';
import { notify } from '../../shared/notify';
import { brushInHand, useUi, type EditTarget } from '../../shared/ui-store';
import { usePaint, type PaintState, type ReferencePlace } from '../paint-store';
import { firstPlane, symmetryFor } from '../symmetry';
import { guardOf, shownOf, guardOver } from './stroke-guards';

/** Why a stroke can't be made, and the layer that it could go to instead. */
export interface Refused {
  readonly refused: string;
  readonly instead: Layer | null;
}

/** Onto what a stroke would go, or why it can't. */
export function paintTarget(): EditTarget | Refused {
  const layers = useProject.getState().document?.layers ?? [];
  const { target } = useUi.getState();
  const node = target ? findNode(layers, target.layer) : undefined;
  const refuse = (refused: string): Refused => ({ refused, instead: nearestPaint(layers, node?.id) });
  if (!node) return refuse('Choose a paint layer in the build-up first, or add one.');
  if (!node.visible) return refuse(`“${node.name}” is hidden. Show it to paint on it.`);
  if (target?.channel === 'mask' && isPaintedMask(node.mask)) return { layer: node.id, channel: 'mask' };
  if (node.kind === 'group' || kindOf(node).form !== 'pixels') {
    return refuse(
      `“${node.name}” follows the form. Paint on its mask, or choose a paint layer in the build-up.`,
    );
  }
  if (node.lock === 'pixels') return refuse(`The pixels of “${node.name}” are locked.`);
  return { layer: node.id, channel: 'pixels' };
}

/** The next paint layer over a node that can be painted on, or else the next one under it. */
function nearestPaint(tree: readonly LayerNode[], id: number | undefined): Layer | null {
  const all = [...nodesOf(tree)].map(({ node }) => node);
  const at = all.findIndex((node) => node.id === id);
  const order = [...all.slice(at + 1), ...all.slice(0, Math.max(0, at)).reverse()];
  const found = order.find(
    (node) =>
      node.kind !== 'group' && kindOf(node).form === 'pixels' && node.visible && node.lock !== 'pixels',
  );
  return found && found.kind !== 'group' ? found : null;
}

/** A glaze covers so much of what the brush would. */
const GLAZE = 0.3;

const localColors = new WeakMap<ProjectDocument, LocalColors | null>();

/** The local colour of a triangle. @throws CoreError `bad-argument` if the model has none yet */
function localColorAt(face: number): string {
  const { document, mesh } = useProject.getState();
  let colors = document && localColors.get(document);
  if (document && mesh && colors === undefined) {
    colors = localColorsIn(document, mesh);
    localColors.set(document, colors);
  }
  if (!colors) {
    throw new CoreError(
      'bad-argument',
      'There is no local colour to glaze with yet. Give the part one in Block in, or switch “Glaze back” off.',
    );
  }
  const { rgb } = colors;
  const o = face * 3;
  return rgbToHex({ r: rgb[o]!, g: rgb[o + 1]!, b: rgb[o + 2]! });
}

/** Onto what a stroke goes; if it can't be made, that is told with a way out. */
export function targetOrTold(): EditTarget | null {
  const target = paintTarget();
  if (!('refused' in target)) return target;
  const { refused, instead } = target;
  notify(
    refused,
    instead
      ? {
          label: `Paint on “${instead.name}”`,
          run: () => useUi.setState({ target: { layer: instead.id, channel: 'pixels' } }),
        }
      : undefined,
  );
  return null;
}

/** The colour in hand; on a mask what hides or reveals. */
function colorFor(channel: Channel, erases: boolean): string {
  const ui = useUi.getState();
  if (channel === 'pixels') return ui.color;
  // On a mask the brush reveals and the eraser hides.
  return ui.maskHides !== erases ? '#000000' : '#ffffff';
}

/** What lays the colour in hand over an area. @param part where it was begun, for the guard */
export function areaStroke(
  { layer, channel }: EditTarget,
  area: NonNullable<GuardWish['area']>,
  part: string | null,
): Command {
  const { erase } = brushInHand(useUi.getState());
  const erases = erase !== usePaint.getState().erasing;
  return {
    do: 'stroke',
    layer,
    channel,
    guard: { ...(part === null ? {} : guardOf(part)), area: shownOf(area) },
    keepAlpha: useUi.getState().guardPainted && channel === 'pixels',
    stroke: {
      tool: 'fill',
      erase: channel === 'pixels' && erases,
      color: colorFor(channel, erases),
      opacity: 1,
      runs: [],
    },
  };
}

/** What brings one side of a plane over to the side that its normal points to. */
export const sideStroke = (
  { layer, channel }: EditTarget,
  plane: { readonly point: [number, number, number]; readonly normal: [number, number, number] },
  twins: boolean,
): Command => ({
  do: 'stroke',
  layer,
  channel,
  guard: guardOf(null),
  stroke: {
    tool: 'copy',
    from: [...mirrored(plane.point, plane.normal)],
    whole: { ...plane, twins },
    ...WITHOUT_BRUSH,
  },
});

/** What strokes without samples have in place of a brush. */
const WITHOUT_BRUSH = {
  opacity: 1,
  brush: PLAIN_BRUSH,
  seed: 0,
  up: [0, 1, 0],
  eye: [0, 0, 1],
  nearSide: true,
  runs: [],
} satisfies Partial<StrokeWish>;

/** What lays all that a picture shows over an area. */
export function throughStroke(
  { layer, channel }: EditTarget,
  picture: number,
  view: readonly number[],
  area: NonNullable<GuardWish['area']>,
  seen: NonNullable<BrushedStyle['seen']>,
): Command {
  const ui = useUi.getState();
  const pose = poseInHand();
  return {
    do: 'stroke',
    layer,
    channel,
    guard: { ...guardOf(null), area: shownOf(area) },
    keepAlpha: ui.guardPainted && channel === 'pixels',
    stroke: {
      tool: 'through',
      picture,
      view: [...view],
      whole: true,
      seen,
      ...(pose && { pose }),
      ...WITHOUT_BRUSH,
    },
  };
}

/**
 * @param part name of the part under the brush when the stroke begins
 * @param hit the triangle and the place there
 * @param seen how the picture was looked at
 * @param isEraser the pen's other end is down: it takes paint away, whatever is in hand
 * @param isTrial nothing will be laid: it is only asked where that could be
 * @throws CoreError `bad-argument` if the tool lacks something; the sentence says what
 */
export function strokeOn(
  { layer, channel }: EditTarget,
  part: string,
  { face, point, rest }: Pick<Hit, 'face' | 'point' | 'rest'>,
  seen: Seen,
  isEraser = false,
  isTrial = false,
): StrokeBegin {
  const ui = useUi.getState();
  const { symmetry } = usePaint.getState();
  const { mesh } = useProject.getState();
  const brush = brushInHand(ui);
  const over = mesh && symmetryFor(symmetry, mesh, mesh.parts.indexOf(part));
  const at = point.toArray();
  return {
    layer,
    channel,
    guard: over ? guardOver(mesh, over, rest.point.toArray(), part) : guardOf(part),
    keepAlpha: ui.guardPainted && channel === 'pixels',
    like: ui.guardLike ? { texel: seen.texel, tolerance: ui.likeTolerance } : null,
    tip:
      brush.picture === null || brush.shape.tip !== PICTURE_TIP
        ? null
        : { name: brush.name, png: base64ToBytes(brush.picture) },
    style: {
      ...(isTrial ? TRIAL : toolStyle(channel, face, at, isEraser, seen)),
      ...(ui.guardSeen && seen.seen && { seen: seen.seen }),
      ...(seen.pose && { pose: seen.pose }),
      brush: brush.shape,
      seed: crypto.getRandomValues(new Uint32Array(1))[0]!,
      up: seen.up,
      eye: seen.eye,
      nearSide: ui.guardNear,
      ...(over && { symmetry: over }),
    },
  };
}

/** How the picture was looked at, and where what is painted through lies over it. */
export interface Seen extends Pick<BrushedStyle, 'up' | 'eye'> {
  /** In which pose the model is; undefined: at rest. */
  readonly pose: BrushedStyle['pose'];
  readonly through: number[] | null;
  /** The reference that is copied from, as it would come to lie. */
  readonly reference: number[] | null;
  /** From where it is looked at; null on the sheet. */
  readonly seen: BrushedStyle['seen'] | null;
  /** The texel under the brush, by its number among all. */
  readonly texel: number;
}

/** What lays a colour, for when only its place matters. */
const TRIAL = { tool: 'brush', erase: false, color: '#000000', opacity: 1 } as const;

type ToolStyle = OwnOf<BrushedStyle['tool']>;

type Shared = 'brush' | 'seed' | 'up' | 'eye' | 'nearSide' | 'symmetry' | 'seen' | 'like' | 'pose';

type OwnOf<T extends BrushedStyle['tool']> = T extends unknown ? Omit<StyleOf<T>, Shared> : never;

/** What only the tool in hand reads. */
function toolStyle(channel: Channel, face: number, at: Vec3, isEraser: boolean, seen: Seen): ToolStyle {
  const ui = useUi.getState();
  const { tool: inHand, erasing, lightness, chroma } = usePaint.getState();
  const tool = isEraser ? 'brush' : inHand;
  const { opacity, erase } = brushInHand(ui);
  switch (tool) {
    case 'soften':
    case 'smear':
      return { tool, opacity };
    case 'deepen':
      return { tool: 'tone', opacity, lightness: -lightness, chroma };
    case 'lift':
      return { tool: 'tone', opacity, lightness, chroma };
    case 'copy': {
      const { source } = usePaint.getState();
      if (isReference(source)) return copyOfReference(source, opacity, seen);
      return { tool, opacity, whole: null, from: [...copyFrom(at, face)] };
    }
    case 'through': {
      const { through } = usePaint.getState();
      const view = seen.through;
      if (!through || !view) {
        throw new CoreError(
          'bad-argument',
          'Choose a reference to paint through first, and paint on the model.',
        );
      }
      return { tool, opacity, picture: through.pattern, view, whole: false };
    }
    default: {
      const erases = isEraser || erase !== erasing;
      const glazes = ui.glazing && channel === 'pixels' && !erases;
      return {
        tool: 'brush',
        erase: channel === 'pixels' && erases,
        color: glazes ? localColorAt(face) : colorFor(channel, erases),
        opacity: opacity * (glazes ? GLAZE : 1),
      };
    }
  }
}

/** What leads from where is painted to where it is copied from; from the first stroke on it stays. */
function copyFrom(at: Vec3, face: number): Placing {
  const { source, offset, symmetry } = usePaint.getState();
  const { mesh } = useProject.getState();
  if (source === null || isReference(source) || !mesh) {
    throw new CoreError('bad-argument', 'Set where to copy from first: press “Set source”, then the model.');
  }
  if (source === 'other side') {
    const { point, normal } = firstPlane(symmetry, mesh, mesh.faceParts[face]!);
    return mirrored(point, normal);
  }
  if (offset) return offset;
  const [x, y, z] = source;
  const to: Placing = [1, 0, 0, x - at[0], 0, 1, 0, y - at[1], 0, 0, 1, z - at[2]];
  usePaint.setState({ offset: to });
  return to;
}

const isReference = (source: PaintState['source']): source is ReferencePlace =>
  typeof source === 'object' && source !== null && 'reference' in source;

/** A reference is copied as one that lies over the model; from the first stroke on it stays where it came to lie. */
function copyOfReference({ pattern }: ReferencePlace, opacity: number, { reference }: Seen): ToolStyle {
  const { offset } = usePaint.getState();
  const view = offset ?? reference;
  if (!view) {
    throw new CoreError('bad-argument', 'Begin on the model: a reference is copied onto what is seen there.');
  }
  if (!offset) usePaint.setState({ offset: view });
  return { tool: 'through', opacity, picture: pattern, view: [...view], whole: false };
}
