import type { NodePatch } from '../../../core/commands';
import type { WashLayer } from '../../../core/layers';
import { ColorField } from '../../shared/ColorField';

/** The colour of a wash; where it lies is its mask's business. */
export function WashControls({
  node,
  change,
}: {
  readonly node: WashLayer;
  readonly change: (patch: NodePatch, gesture: string | null) => void;
}) {
  return <ColorField label="Colour" color={node.color} onChange={(color, g) => change({ color }, g)} />;
}
