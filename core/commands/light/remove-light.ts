import { z } from 'zod';
import { lightsOf, nodesOf } from '../../document';
import { CoreError } from '../../errors';
import { changed, command } from '../command';
import { id } from '../fields';
import { item } from '../items';

export const removeLight = command(z.strictObject({ do: z.literal('remove-light'), light: id }), {
  label: () => 'Change the light',
  apply: (document, { light: wanted }) => {
    const light = item(document.lights, wanted, 'light');
    const user = [...nodesOf(document.layers)].find(({ node }) => lightsOf(node).includes(light.id));
    if (user) {
      throw new CoreError(
        'bad-argument',
        `“${light.name}” lights the layer “${user.node.name}”. Choose another light there first.`,
      );
    }
    return changed(document, { lights: document.lights.filter((l) => l !== light) });
  },
});
