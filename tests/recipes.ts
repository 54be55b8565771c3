/** A light plan that adds nothing: recipes have one at least. */
const NO_LIGHT = {
  key: { direction: [0, 1, 0], color: '#ffffff', strength: 1, wrap: 0 },
  sky: { color: '#000000', strength: 0 },
  ground: { color: '#000000', strength: 0 },
};

/** A recipe in its third form: one colour everywhere. */
export const plainRecipe = (fallback: string): string =>
  JSON.stringify({
    format: 'zanahoria-recipe',
    version: 3,
    name: 'Plain',
    says: '',
    lights: [{ id: 0, name: 'Light', plan: NO_LIGHT }],
    layers: [{ kind: 'local', id: 1, name: 'Local', colors: [], fallback }],
  });
