import type { Session } from '../project';
import { inStages, type ListedCommand } from '../shared/commands';
import { useUi } from '../shared/ui-store';
import { addDense } from './dense';
import { addRecipes, keepBuildUp } from './recipes';

export const formCommands = (session: Session): ListedCommand[] =>
  inStages(
    ['form'],
    [
      {
        id: 'ramp-line',
        title: 'Ramp along a line: draw it on the model',
        keys: 'j',
        run: () => useUi.setState((s) => ({ aiming: s.aiming === 'ramp' ? null : 'ramp', placing: null })),
      },
      {
        id: 'recipe-keep',
        title: 'Keep the build-up as a recipe on the shelf',
        keys: '',
        run: () => keepBuildUp(session),
      },
      {
        id: 'dense-model',
        title: 'Measure form on a denser model…',
        keys: '',
        run: () => addDense(session),
      },
      { id: 'recipe-add', title: 'Add recipes from files', keys: '', run: () => addRecipes() },
    ],
  );
