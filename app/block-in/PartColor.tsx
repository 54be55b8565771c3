import { layersOf, type LayerNode } from '../../core/document';
import { localColor, NODE_DEFAULTS, withLocalColor, type Layer, type LocalLayer } from '../../core/layers';
import { Chip } from '../shared/Chip';
import { type Session, useProject, type Commander } from '../project';
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
  const swatch = swatchOf(color);
  const patch = parts.reduce<LocalColors>(
    (now, part) => withLocalColor(now, { part: mesh.parts[part]! }, color, swatch),
    layer ?? { colors: [], regions: [], swatches: [] },
  );
  const { colors, regions, swatches } = patch;
  if (layer) {
    await session.command({ do: 'patch-layer', layer: layer.id, patch: { colors, regions, swatches } });
    return;
  }
  await addLocalLayer(session, { colors, regions, swatches });
}

/** The swatch in hand, if that is the colour: what is coloured with it follows it from then on. */
export function swatchOf(color: string): number | null {
  const { swatch } = useUi.getState();
  const found = useProject.getState().document?.palette.find((s) => s.id === swatch);
  return found?.color === color ? found.id : null;
}

type LocalColors = Pick<LocalLayer, 'colors' | 'regions' | 'swatches'>;

/** Lays a layer of local colours under all others. @returns its id */
async function addLocalLayer(session: Commander, colors: LocalColors): Promise<number | undefined> {
  const fresh = { ...NODE_DEFAULTS, kind: 'local' as const, name: 'Local colour', fallback: UNCOLORED };
  const layer = { ...fresh, mask: [], ...colors };
  const done = await session.command({ do: 'add-layer', layer, into: null, at: 0 });
  return done?.ids[0];
}

/** The id of the local-colour layer that colours go to; one is laid where there is none. */
export async function localLayerFor(session: Commander): Promise<number | undefined> {
  const { document } = useProject.getState();
  const layer = localLayer(document?.layers ?? [], useUi.getState().target);
  return layer?.id ?? addLocalLayer(session, { colors: [], regions: [], swatches: [] });
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
