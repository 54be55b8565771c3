import { z } from 'zod';
import { changeLevel, placeOf, requireNode, isGroup } from '../../document';
import { CoreError } from '../../errors';
import { changed, command } from '../command';
import { id } from '../fields';
import { nodeName, withoutGone } from '../nodes';
import { emptyGone } from '../plane-work';

/** Takes a group's nodes out of it; the group goes. */
export const ungroup = command(z.strictObject({ do: z.literal('ungroup'), layer: id }), {
  label: ({ layer }, { layers }) => `Ungroup ${nodeName(layers, layer)}`,
  apply: (document, { layer }) => {
    const { layers } = document;
    const group = requireNode(layers, layer);
    if (!isGroup(group)) throw new CoreError('bad-argument', `“${group.name}” is not a group.`);
    if (group.detail !== null) {
      throw new CoreError(
        'bad-argument',
        `“${group.name}” goes into the detail sheet; without the group its layers would lie on the albedo. Move them out of it one by one, or let the group go into the albedo first.`,
      );
    }
    const { into } = placeOf(layers, group.id);
    const next = changeLevel(layers, into, (level) =>
      level.flatMap((n) => (n.id === group.id ? [...group.layers] : [n])),
    );
    return changed(document, withoutGone(document, next));
  },
  pixels: (_, ground) => emptyGone(ground),
});
