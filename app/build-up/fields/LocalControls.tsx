import { withLocalColor, type LocalLayer, type Target } from '../../../core/layers';
import type { NodePatch } from '../../../core/commands';
import { useProject } from '../../project';
import { ColorField } from '../../shared/ColorField';
import { Fold } from '../../shared/Fold';

/** Local colours by part and by region: changed in one place, seen everywhere. */
export function LocalControls({
  node,
  change,
}: {
  readonly node: LocalLayer;
  readonly change: (patch: NodePatch, gesture: string | null) => void;
}) {
  const regions = useProject((s) => s.document?.regions) ?? [];
  const palette = useProject((s) => s.document?.palette) ?? [];
  const set = (of: Target, color: string, gesture: string): void => {
    const swatch = palette.find((s) => s.color === color);
    const { colors, regions: own, swatches } = withLocalColor(node, of, color, swatch?.id ?? null);
    change({ colors, regions: own, swatches }, gesture);
  };
  return (
    <>
      <p className="hint-line">In Block in: choose parts or faces, then a colour.</p>
      {node.regions.length > 0 && (
        <Fold title="Regions" note={`${node.regions.length}, over the parts`} begins>
          {node.regions.map(([id, color]) => (
            <div className="color-row" key={id}>
              <ColorField
                label={regions.find((r) => r.id === id)?.name ?? 'Region'}
                color={color}
                onChange={(next, g) => set({ region: id }, next, g)}
              />
              <button
                type="button"
                className="step-off"
                aria-label={`Remove the colour of ${regions.find((r) => r.id === id)?.name ?? 'the region'}`}
                onClick={() =>
                  change(
                    {
                      regions: node.regions.filter(([other]) => other !== id),
                      swatches: node.swatches.filter(({ of }) => !('region' in of && of.region === id)),
                    },
                    null,
                  )
                }
              >
                ×
              </button>
            </div>
          ))}
        </Fold>
      )}
      {node.colors.length > 0 && (
        <Fold title="Parts" note={`${node.colors.length}`}>
          {node.colors.map(([part, color]) => (
            <ColorField
              key={part}
              label={part}
              color={color}
              onChange={(next, g) => set({ part }, next, g)}
            />
          ))}
        </Fold>
      )}
    </>
  );
}
