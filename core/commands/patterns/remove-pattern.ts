import { z } from 'zod';
import { nodesOf, patternsOf } from '../../document';
import { CoreError } from '../../errors';
import { changed, command } from '../command';
import { id } from '../fields';
import { item } from '../items';

export const removePattern = command(z.strictObject({ do: z.literal('remove-pattern'), pattern: id }), {
  label: () => 'Change the patterns',
  apply: (document, { pattern: wanted }) => {
    const pattern = item(document.patterns, wanted, 'pattern');
    const user = [...nodesOf(document.layers)].find(({ node }) => patternsOf(node).includes(pattern.id));
    if (user) {
      throw new CoreError(
        'bad-argument',
        `“${pattern.name}” lies on the layer “${user.node.name}”. Choose another pattern there first.`,
      );
    }
    return changed(document, { patterns: document.patterns.filter((p) => p !== pattern) });
  },
});
