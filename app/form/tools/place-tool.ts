import type { CueSpec } from '../../../core/cues';
import { findNode, type LayerNode } from '../../../core/document';
import { centreOf, diagonalOf, subjectBounds, type UvMesh } from '../../../core/mesh';
import { type Session, useProject } from '../../project';
import { newGesture } from '../../shared/gesture';
import { useUi, type CuePlace } from '../../shared/ui-store';
import { dragOverModel, type Hit, type ToolMaker } from '../../viewport';

/** A cue with its point, plane or direction where the pointer is; the same cue where it has none. */
function placed(cue: CueSpec, mesh: UvMesh, hit: Hit): CueSpec {
  const bounds = subjectBounds(mesh);
  const centre = centreOf(bounds);
  const diagonal = diagonalOf(bounds) || 1;
  const round = (n: number): number => Number(n.toFixed(4));
  const point = hit.point.toArray().map((p, k) => round((p - centre[k]!) / diagonal)) as [
    number,
    number,
    number,
  ];
  const normal = hit.normal.toArray().map(round) as [number, number, number];
  switch (cue.cue) {
    case 'nearness':
      return { ...cue, point };
    case 'along':
      return { ...cue, points: [point] };
    case 'facing':
    case 'cast':
    case 'height':
      return { ...cue, direction: normal };
    default:
      return cue;
  }
}

/** A layer with one of its cues changed. */
function withCue(node: LayerNode, { mask, mix }: CuePlace, change: (cue: CueSpec) => CueSpec): object | null {
  const step = mask === undefined ? undefined : node.mask[mask];
  if (mask !== undefined && step?.from === 'cue') {
    return { mask: node.mask.with(mask, { ...step, cue: change(step.cue) }) };
  }
  const ingredient = node.kind === 'tone' && mix !== undefined ? node.mix[mix] : undefined;
  if (node.kind === 'tone' && mix !== undefined && ingredient?.from === 'cue') {
    return { mix: node.mix.with(mix, { ...ingredient, cue: change(ingredient.cue) }) };
  }
  return null;
}

/** A press or a drag on the model places a cue of a layer: its point, or the side that it turns toward. */
export const placeTool =
  (session: Session, place: CuePlace): ToolMaker =>
  (view) => ({
    name: 'place',
    cursor: 'crosshair',
    press: (at, hit) => {
      if (!hit || at.pane !== 'model') return null;
      const gesture = newGesture();
      const before = nodeOf(place.layer);
      const put = (patch: object | null): void => {
        if (patch) void session.command({ do: 'patch-layer', layer: place.layer, patch }, gesture);
      };
      return dragOverModel(
        view,
        hit,
        (now) => {
          const { mesh } = useProject.getState();
          const node = nodeOf(place.layer);
          if (mesh && node) put(withCue(node, place, (cue) => placed(cue, mesh, now)));
        },
        () => put(before ? withCue(before, place, (cue) => cue) : null),
      );
    },
    leave: () => {
      useUi.setState({ placing: null });
      return true;
    },
  });

const nodeOf = (id: number): LayerNode | undefined =>
  findNode(useProject.getState().document?.layers ?? [], id);
