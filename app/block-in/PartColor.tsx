import {
  layersOf,
  localColor,
  NODE_DEFAULTS,
  withLocalColor,
  type Layer,
  type LayerNode,
  type LocalLayer,
} from '../../core/engine';
import { Chip } from '../shared/Chip';
import { type Session, useProject } from '../project';
import { useUi, type EditTarget } from '../shared/ui-store';
import { chosenParts } from '../viewport';

/** What parts look like that have no local colour. */
const UNCOLORED = '#b6aca2';

const isLocal = (layer: Layer): layer is LocalLayer => layer.kind === 'local';

/** The local-colour layer that colours go to: the chosen one, or the lowest. */
function localLayer(tree: readonly LayerNode[], target: EditTarget | null): LocalLayer | undefined {
  const all = layersOf(tree).filter(isLocal);
  return all.find((l) => l.id === target?.layer) ?? all[0];
}

/** Gives the chosen parts a local colour. Where no layer holds such colours yet, one is laid under all others. */
export async function colorPart(session: Session, color: string): Promise<void> {
  const { mesh, document } = useProject.getState();
  const parts = chosenParts();
  if (!mesh || !document || parts.length === 0) return;
  const layer = localLayer(document.layers, useUi.getState().target);
  const colors = parts.reduce(
    (now, part) => withLocalColor({ colors: now }, mesh.parts[part]!, color),
    layer?.colors ?? [],
  );
  if (layer) {
    await session.command({ do: 'patch-layer', layer: layer.id, patch: { colors } });
    return;
  }
  const fresh = { ...NODE_DEFAULTS, kind: 'local' as const, name: 'Local colour', fallback: UNCOLORED };
  await session.command({ do: 'add-layer', layer: { ...fresh, mask: [], colors }, into: null, at: 0 });
}

/** What is chosen, what colour it has, and what a colour would do. */
export function PartColor({ session }: { readonly session: Session }) {
  const mesh = useProject((s) => s.mesh);
  const tree = useProject((s) => s.document?.layers);
  const selected = useUi((s) => s.selectedPart);
  const others = useUi((s) => s.alsoParts);
  const target = useUi((s) => s.target);
  const color = useUi((s) => s.color);
  const part = selected === null ? null : mesh?.parts[selected];
  const layer = localLayer(tree ?? [], target);
  if (!mesh || !part) {
    return (
      <p className="part-color">
        Drag a colour of the easel onto a part. Or click a part, Shift adds another, and then a colour.
      </p>
    );
  }
  const parts = chosenParts().map((p) => mesh.parts[p]!);
  const colors = new Set(layer ? parts.map((name) => localColor(layer, name)) : []);
  const [present] = colors;
  return (
    <div className="part-color">
      {present && colors.size === 1 && <i style={{ background: present }} aria-hidden />}
      <span>
        <b>{others.size > 0 ? `${parts.length} parts` : part}</b>{' '}
        <small>
          {!layer
            ? 'no local colour yet'
            : `${colors.size === 1 ? present : `${colors.size} colours`}${layer.visible ? '' : `, hidden with “${layer.name}”`}`}
        </small>
      </span>
      <Chip
        title="Apply the colour in hand to the chosen parts"
        onClick={() => void colorPart(session, color)}
      >
        <i style={{ background: color }} aria-hidden /> Apply
      </Chip>
      {present && (
        <Chip title="Pick the part’s colour" onClick={() => useUi.setState({ color: present })}>
          Pick
        </Chip>
      )}
    </div>
  );
}
