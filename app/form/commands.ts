import { inStages, type ListedCommand } from '../shared/commands';
import { addRecipes, keepBuildUp } from './recipes';

export const formCommands = (): ListedCommand[] =>
  inStages(
    ['form'],
    [
      {
        id: 'recipe-keep',
        title: 'Keep the build-up as a recipe on the shelf',
        keys: '',
        run: () => keepBuildUp(),
      },
      { id: 'recipe-add', title: 'Add recipes from files', keys: '', run: () => addRecipes() },
    ],
  );
