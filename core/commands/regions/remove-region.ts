import { z } from 'zod';
import { changeLayers, withoutRegion } from '../../document';
import { planWithoutRegion } from '../../light';
import { changed, command } from '../command';
import { id } from '../fields';
import { withoutItem } from '../items';
import { withoutSteps } from '../nodes';

/** Mask steps, colours, lights and places on ramps that name it go with it. */
export const removeRegion = command(z.strictObject({ do: z.literal('remove-region'), region: id }), {
  label: () => 'Change the regions',
  apply: (document, { region }) => {
    const { lights, ramps } = document;
    const masked = withoutSteps(document.layers, (s) => s.from === 'region' && s.region === region);
    return changed(document, {
      regions: withoutItem(document.regions, region, 'region'),
      layers: changeLayers(masked, (layer) => withoutRegion(layer, region)),
      lights: lights.map((light) => ({ ...light, plan: planWithoutRegion(light.plan, region) })),
      ramps: ramps && {
        ...ramps,
        seats: ramps.seats.filter(({ of }) => !('region' in of && of.region === region)),
      },
    });
  },
});
