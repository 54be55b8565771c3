import { z } from 'zod';
import { TWINS } from '../../layers';
import { changed, command } from '../command';

/** What derived paint makes of texels that several places share, wherever a layer doesn't say. */
export const setTwins = command(z.strictObject({ do: z.literal('set-twins'), twins: z.enum(TWINS) }), {
  label: () => 'Change twins',
  apply: (document, { twins }) => changed(document, { twins }),
});
