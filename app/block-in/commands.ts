import { layersOf, localColor, type LocalLayer } from '../../core/engine';
import { type Session, useProject } from '../project';
import { inStages, type ListedCommand } from '../shared/commands';
import { useUi } from '../shared/ui-store';
import { colorPart } from './PartColor';

export const blockInCommands = (session: Session): ListedCommand[] =>
  inStages(
    ['block-in'],
    [
      {
        id: 'part-color',
        title: 'Apply the colour in hand to the chosen parts',
        keys: 'g',
        run: () => colorPart(session, useUi.getState().color),
      },
      {
        id: 'part-pick',
        title: 'Pick the chosen part’s colour',
        keys: 'shift+i',
        run: () => {
          const { mesh, document } = useProject.getState();
          const { selectedPart } = useUi.getState();
          const layer = layersOf(document?.layers ?? []).find((l): l is LocalLayer => l.kind === 'local');
          if (mesh && layer && selectedPart !== null) {
            useUi.setState({ color: localColor(layer, mesh.parts[selectedPart]!) });
          }
        },
      },
    ],
  );
