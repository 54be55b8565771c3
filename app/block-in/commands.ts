import { layersOf } from '../../core/document';
import { localColor, type LocalLayer } from '../../core/layers';
import { type Session, useProject } from '../project';
import { inStages, type ListedCommand } from '../shared/commands';
import { useUi } from '../shared/ui-store';
import { chooseNoFaces, FACE_TOOLS, someFacesChosen, useFaceChoice } from '../shared/face-choice';
import { changeChoice, colorChoice, keepChoice } from './choice-actions';
import { colorPart } from './PartColor';
import { FACE_TOOL_WORDS } from './words';

export const blockInCommands = (session: Session): ListedCommand[] =>
  inStages(
    ['block-in'],
    [
      {
        id: 'part-color',
        title: 'Apply the colour in hand to the chosen parts or faces',
        keys: 'g',
        run: () => {
          const { color } = useUi.getState();
          return someFacesChosen(useFaceChoice.getState())
            ? colorChoice(session, color)
            : colorPart(session, color);
        },
      },
      ...FACE_TOOLS.map((tool, i) => ({
        id: `choose-by-${tool}`,
        title: `Choose by: ${FACE_TOOL_WORDS[tool].title}`,
        keys: `${i + 1}`,
        run: () => useFaceChoice.setState({ tool }),
      })),
      ...(['grow', 'shrink', 'invert', 'mirror'] as const).map((how) => ({
        id: `faces-${how}`,
        title: `Chosen faces: ${how}`,
        keys: { grow: 'shift+equal', shrink: 'shift+minus', invert: 'mod+shift+i', mirror: '' }[how],
        run: () => changeChoice(how),
      })),
      {
        id: 'faces-keep',
        title: 'Keep the chosen faces as a region',
        keys: 'shift+k',
        run: () => keepChoice(session),
      },
      { id: 'faces-none', title: 'Choose no faces', keys: 'mod+shift+a', run: chooseNoFaces },
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
