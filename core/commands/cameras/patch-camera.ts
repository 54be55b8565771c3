import { z } from 'zod';
import { cameraSchema } from '../../document';
import { changed, command } from '../command';
import { id } from '../fields';
import { patchItem } from '../items';

export const patchCamera = command(
  z.strictObject({
    do: z.literal('patch-camera'),
    camera: id,
    patch: cameraSchema.omit({ id: true }).partial(),
  }),
  {
    label: () => 'Change the cameras',
    gesture: ({ camera }) => camera,
    apply: (document, { camera, patch }) =>
      changed(document, { cameras: patchItem(document.cameras, camera, 'camera', patch) }),
  },
);
