import { type Session, saveRegion, useProject } from '../project';
import { inStages, type ListedCommand } from '../shared/commands';
import { useUi } from '../shared/ui-store';
import { chosenParts } from '../viewport';
import { merge, mend, place, splitShells } from './model-actions';

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
          if (part !== null) return splitShells(session, part);
        },
      },
      {
        id: 'parts-region',
        title: 'Keep the chosen parts as a region',
        keys: '',
        run: () => {
          const { mesh } = useProject.getState();
          const parts = new Set(chosenParts());
          if (!mesh) return;
          saveRegion(
            session,
            [...mesh.faceParts.keys()].filter((f) => parts.has(mesh.faceParts[f]!)),
          );
        },
      },
      {
        id: 'part-hide',
        title: 'Hide the chosen parts, or show them again',
        keys: 'h',
        run: () => {
          const parts = chosenParts();
          useUi.setState(({ hidden }) => {
            const next = new Set(hidden);
            const isShowing = parts.every((p) => next.has(p));
            for (const p of parts)
              if (isShowing) next.delete(p);
              else next.add(p);
            return { hidden: next };
          });
        },
      },
      {
        id: 'part-isolate',
        title: 'Isolate the chosen parts, or show all again',
        keys: 'i',
        run: () => {
          const parts = new Set(chosenParts());
          const { mesh } = useProject.getState();
          if (!mesh || parts.size === 0) return;
          const others = mesh.parts.map((_, p) => p).filter((p) => !parts.has(p));
          useUi.setState(({ hidden }) => ({
            hidden:
              hidden.size === others.length && others.every((p) => hidden.has(p))
                ? new Set()
                : new Set(others),
          }));
        },
      },
      {
        id: 'model-turn',
        title: 'Turn the model a quarter about x: what looked up looks to the front',
        keys: '',
        run: () => place(session, 'Turn the model', { quarters: 1 }),
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
