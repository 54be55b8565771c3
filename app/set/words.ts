import type { SharedKind, SetShared } from '../../core/set';

/** What a kind is called, and what following it means. */
export const KIND_WORDS: Readonly<Record<SharedKind, { readonly title: string; readonly follows: string }>> =
  {
    palette: {
      title: 'Palette',
      follows:
        'Swatches of the same name get the set’s colour; local colours, washes, ramps and lights in that colour go with them. What was painted by hand stays.',
    },
    light: {
      title: 'Light plan',
      follows: 'Each project’s light becomes that of the set. Strengths of parts and stand-ins stay its own.',
    },
    ramps: {
      title: 'Ramp sheet',
      follows:
        'Projects on a ramp sheet get that of the set; what lies on a ramp stays on the one of its name.',
    },
    recipes: {
      title: 'Recipes',
      follows:
        'Each recipe is laid as a group of its name; one that lies there already is laid anew in its place.',
    },
    references: { title: 'References', follows: 'Pictures that are missing come onto each easel.' },
  };

/** What of a kind a set has. */
export function sharedWords(shared: SetShared, kind: SharedKind): string {
  switch (kind) {
    case 'palette':
      return counted(shared.palette.length, 'colour');
    case 'light':
      return shared.light?.name ?? '';
    case 'ramps':
      return shared.ramps ? counted(shared.ramps.ramps.length, 'ramp') : '';
    case 'recipes':
      return shared.recipes.map((r) => r.name).join(', ');
    case 'references':
      return counted(shared.references.length, 'picture');
  }
}

const counted = (n: number, what: string): string => (n === 0 ? '' : `${n} ${what}${n === 1 ? '' : 's'}`);

/** What is told of where projects differ; null: they are being compared. */
export function differenceWords(
  compared: { readonly differs: readonly string[]; readonly failed: readonly string[] } | null,
): string {
  if (!compared) return 'Comparing…';
  const { differs, failed } = compared;
  const told = [
    ...(differs.length > 0 ? [`Other in ${differs.join(', ')}`] : []),
    ...(failed.length > 0 ? [`Can’t be read: ${failed.join(', ')}`] : []),
  ];
  return told.join('. ') || 'The same in all';
}
