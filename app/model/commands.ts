import { activeSheet, subjectNow, putParts, saveRegion, type Session } from '../project';
import { inStages, type ListedCommand } from '../shared/commands';
import { useUi } from '../shared/ui-store';
import { chosenParts } from '../viewport';
import { merge, mend, place, splitComponents } from './model-actions';

/** What the menu of a part offers at this stage. */
export const PART_ENTRIES = [
  'part-rename',
  'parts-merge',
  'part-split',
  'parts-region',
  null,
  'parts-to-sheet',
  'parts-to-new-sheet',
] as const;

/** What can be done with the model and its parts. */
export function modelCommands(session: Session): ListedCommand[] {
  const first = (): number | null => useUi.getState().selectedPart;
  return inStages(
    ['model'],
    [
      {
        id: 'part-rename',
        title: 'Rename the chosen part',
        keys: 'f2',
        run: () => {
          const part = first();
          if (part !== null) useUi.setState({ renaming: { of: 'part', id: part } });
        },
      },
      {
        id: 'parts-merge',
        title: 'Merge the chosen parts',
        keys: 'mod+j',
        run: () => {
          const parts = chosenParts();
          if (parts.length > 1) return merge(session, parts);
        },
      },
      {
        id: 'part-split',
        title: 'Split the chosen part into its separate shells',
        keys: '',
        run: () => {
          const part = first();
          if (part !== null) return splitComponents(session, part);
        },
      },
      {
        id: 'parts-region',
        title: 'Keep the chosen parts as a region',
        keys: '',
        run: () => {
          const mesh = subjectNow();
          const parts = new Set(chosenParts());
          if (!mesh) return;
          saveRegion(
            session,
            [...mesh.faceParts.keys()].filter((f) => parts.has(mesh.faceParts[f]!)),
          );
        },
      },
      {
        id: 'parts-to-sheet',
        title: 'Put the chosen parts on the sheet that is shown',
        keys: '',
        run: () => putParts(session, chosenParts(), activeSheet()?.index ?? 0),
      },
      {
        id: 'parts-to-new-sheet',
        title: 'Put the chosen parts on a new sheet',
        keys: '',
        run: () => {
          const parts = chosenParts();
          if (parts.length) return putParts(session, parts, 'new');
        },
      },
      // Percent: what files in metres, centimetres and millimetres differ by, and by halves.
      ...[10, 50, 200, 1000].map((percent) => ({
        id: `model-scale-${percent}`,
        title: `Scale the model to ${percent} %`,
        keys: '',
        run: () => place(session, 'Scale the model', { scale: percent / 100 }),
      })),
      {
        id: 'model-turn',
        title: 'Turn the model upright: what looks to the front looks up',
        keys: '',
        run: () => place(session, 'Turn the model', { up: '+z', front: '-y' }),
      },
      {
        id: 'model-back',
        title: 'Turn the model around: what looks to the back looks to the front',
        keys: '',
        run: () => place(session, 'Turn the model', { front: '-z' }),
      },
      {
        id: 'model-normals',
        title: 'Recompute the normals: hard over 60°, smooth else',
        keys: '',
        run: () => mend(session, 'Recompute normals', { do: 'normals', angle: Math.PI / 3 }),
      },
      {
        id: 'model-winding',
        title: 'Unify the winding of the model',
        keys: '',
        run: () => mend(session, 'Unify the winding', { do: 'unify-winding' }),
      },
    ],
  );
}
