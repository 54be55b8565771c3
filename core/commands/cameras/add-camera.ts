import { z } from 'zod';
import { cameraSchema } from '../../document';
import { command, withNew } from '../command';

export const addCamera = command(
  z.strictObject({ do: z.literal('add-camera'), camera: cameraSchema.omit({ id: true }) }),
  {
    label: () => 'Change the cameras',
    apply: (document, { camera }) =>
      withNew(document, (id) => ({ cameras: [...document.cameras, { ...camera, id }] })),
  },
);
