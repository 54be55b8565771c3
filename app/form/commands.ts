import { inStages, type ListedCommand } from '../shared/commands';
import { bringRecipes, keepBuildUp } from './recipes';

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
      { id: 'recipe-bring', title: 'Bring recipes in from files', keys: '', run: () => bringRecipes() },
    ],
  );
