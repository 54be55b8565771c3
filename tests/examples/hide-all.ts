import { z } from 'zod';
import { changed, command } from '../../core/commands/command';

/** Hides every layer of the build-up but one. */
export const hideAll = command(z.strictObject({ do: z.literal('hide-all'), but: z.int().nonnegative() }), {
  label: ({ but }, { layers }) => `Hide all but ${layers.find((n) => n.id === but)?.name ?? 'one'}`,
  apply: (document, { but }) =>
    changed(document, { layers: document.layers.map((n) => ({ ...n, visible: n.id === but })) }),
});
