import { z } from 'zod';
import { lightPatch, patchedPlan } from '../../light';
import { changed, command } from '../command';
import { id } from '../fields';
import { item, patchItem } from '../items';

export const patchLight = command(
  z.strictObject({ do: z.literal('patch-light'), light: id, patch: lightPatch }),
  {
    label: () => 'Change the light',
    gesture: ({ light }) => light,
    apply: (document, { light, patch }) => {
      const plan = patchedPlan(item(document.lights, light, 'light').plan, patch);
      return changed(document, { lights: patchItem(document.lights, light, 'light', { plan }) });
    },
  },
);
