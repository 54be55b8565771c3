import { layersOf } from '../../../core/document';
import { NODE_DEFAULTS } from '../../../core/layers';
import { texelOnSheet } from '../../../core/surface';
import { activeNode, hiddenParts, useProject, type Session, type Commander } from '../../project';
import { useFaceChoice } from '../../shared/face-choice';
import { undoable } from '../../shared/notify';
import { useUi } from '../../shared/ui-store';
import { showSheetOf, type Hit, type ToolMaker } from '../../viewport';

/** A press lays the colour in hand over what looks much like the place that was pressed. */
export const floodTool =
  (session: Session): ToolMaker =>
  () => ({
    name: 'flood',
    cursor: 'crosshair',
    press: (_, hit) => {
      if (!hit) return null;
      showSheetOf(hit);
      void flood(session, hit);
      return 'done';
    },
    leave: () => {
      useFaceChoice.setState({ tool: 'part' });
      return true;
    },
  });

async function flood(session: Session, hit: Hit): Promise<void> {
  const { surface } = useProject.getState();
  const sheet = surface?.sheets[hit.sheet];
  if (!sheet) return;
  const { tolerance, everywhere } = useFaceChoice.getState();
  const on = (x: number): number => {
    const inSheet = x - Math.floor(x);
    return Math.min(sheet.size - 1, Math.floor(inSheet * sheet.size));
  };
  const { color } = useUi.getState();
  const texel = texelOnSheet(sheet, on(hit.u), on(1 - hit.v));
  const done = await session.deed('Flood', async (as) => {
    const layer = await paintLayerFor(as);
    if (layer === undefined) return null;
    return as.command({ do: 'flood', layer, color, texel, tolerance, everywhere, except: hiddenParts() });
  });
  if (done) undoable(session, 'The colour in hand lies over what looked alike.')(done);
}

/** The paint layer in hand, or the lowest; one is laid where there is none. @returns its id */
async function paintLayerFor(session: Commander): Promise<number | undefined> {
  const { document } = useProject.getState();
  const active = activeNode();
  if (!document) return undefined;
  if (active?.kind === 'paint') return active.id;
  const lowest = layersOf(document.layers).find((l) => l.kind === 'paint');
  if (lowest) return lowest.id;
  const layer = { ...NODE_DEFAULTS, mask: [], kind: 'paint' as const, name: 'Colours' };
  const done = await session.command({ do: 'add-layer', layer, into: null, at: document.layers.length });
  return done?.ids[0];
}
