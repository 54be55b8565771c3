import { z } from 'zod';
import { lightPlan } from '../../light';
import { command, withNew } from '../command';
import { nodeNameField } from '../fields';

export const addLight = command(
  z.strictObject({ do: z.literal('add-light'), name: nodeNameField, plan: lightPlan }),
  {
    label: () => 'Change the light',
    apply: (document, { name, plan }) =>
      withNew(document, (id) => ({ lights: [...document.lights, { id, name, plan }] })),
  },
);
