import { type Session, useProject } from '../project';
import { undoable } from '../shared/notify';
import { useUi } from '../shared/ui-store';

/** Takes a swatch out of the palette. @param id by default the one that was clicked last */
export async function removeSwatch(session: Session, id = useUi.getState().swatch): Promise<void> {
  const swatch = useProject.getState().document?.palette.find((s) => s.id === id);
  if (!swatch) return;
  const done = await session.command({ do: 'remove-swatches', swatches: [swatch.id] });
  undoable(session, `“${swatch.name || swatch.color}” was removed.`)(done);
}
