import { layersOf, localColor, withLocalColor, type LocalLayer } from '../../core/engine';
import { Chip } from '../shared/Chip';
import { notify } from '../shared/notify';
import { type Session, useProject } from '../project';
import { useUi } from '../shared/ui-store';
import { chosenParts } from '../viewport';

/** The local-colour layer that colours go to: the chosen one, or the lowest. */
function localLayer(): LocalLayer | undefined {
  const { document } = useProject.getState();
  const { target } = useUi.getState();
  const all = layersOf(document?.layers ?? []).filter((l): l is LocalLayer => l.kind === 'local');
  return all.find((l) => l.id === target?.layer) ?? all[0];
}

/** Gives the chosen part a local colour. */
export function colorPart(session: Session, color: string): void {
  const { mesh } = useProject.getState();
  const parts = chosenParts();
  if (!mesh || parts.length === 0) return;
  const layer = localLayer();
  if (!layer) {
    notify('There is no local-colour layer. Add one in the build-up first.');
    return;
  }
  const colored = parts.reduce(
    (now, part) => ({ ...now, colors: withLocalColor(now, mesh.parts[part]!, color) }),
    layer,
  );
  void session.command({ do: 'patch-layer', layer: layer.id, patch: { colors: colored.colors } });
}

/** Which part is chosen and what colour it has. */
export function PartColor({ session }: { readonly session: Session }) {
  const mesh = useProject((s) => s.mesh);
  const tree = useProject((s) => s.document?.layers);
  const selected = useUi((s) => s.selectedPart);
  const color = useUi((s) => s.color);
  const part = selected === null ? null : mesh?.parts[selected];
  const layer = layersOf(tree ?? []).find((l): l is LocalLayer => l.kind === 'local');
  if (!part) {
    return (
      <p className="part-color">
        Click a part of the model, then a colour of the palette or of the reference.
      </p>
    );
  }
  const present = layer ? localColor(layer, part) : '#808080';
  return (
    <div className="part-color">
      <i style={{ background: present }} aria-hidden />
      <span>
        <b>{part}</b> <small>{present}</small>
      </span>
      <Chip title="Apply the colour in hand to the chosen parts" onClick={() => colorPart(session, color)}>
        <i style={{ background: color }} aria-hidden /> Apply
      </Chip>
      <Chip title="Pick the part’s colour" onClick={() => useUi.setState({ color: present })}>
        Pick
      </Chip>
    </div>
  );
}
