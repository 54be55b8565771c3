import { z } from 'zod';
import { changed, command } from '../command';
import { id } from '../fields';
import { withoutItem } from '../items';

export const removeCamera = command(z.strictObject({ do: z.literal('remove-camera'), camera: id }), {
  label: () => 'Change the cameras',
  apply: (document, { camera }) =>
    changed(document, { cameras: withoutItem(document.cameras, camera, 'camera') }),
});
