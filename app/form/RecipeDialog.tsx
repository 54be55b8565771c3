import { useState } from 'react';
import { Form } from 'react-bootstrap';
import {
  masksOf,
  nodesOf,
  renamedRoles,
  rolesOf,
  withoutNodes,
  type LayerNode,
  type Recipe,
} from '../../core/document';
import { masksUnder } from '../../core/layers';
import { FormDialog } from '../shared/FormDialog';
import { changeRecipe, useShelf, type ShelfRecipe } from './recipes';

/** A recipe's name, what is said of it, its layers and its roles, to be changed. */
export function RecipeDialog() {
  const item = useShelf((s) => s.recipes.find((r) => r.id === s.editing));
  return item ? <Editor key={item.id} item={item} /> : null;
}

function Editor({ item }: { readonly item: ShelfRecipe }) {
  const [recipe, setRecipe] = useState<Recipe>(item.recipe);
  const [roles, setRoles] = useState<ReadonlyMap<string, string>>(new Map());
  const close = (): void => useShelf.setState({ editing: null });
  const nodes = [...nodesOf(recipe.layers)];
  const remove = (node: LayerNode): void => {
    const layers = withoutNodes(recipe.layers, new Set([node.id]));
    setRecipe({ ...recipe, layers: [...layers] });
  };
  const nameOf = (role: string): string => roles.get(role) ?? role;
  return (
    <FormDialog
      title="Edit the recipe"
      submit="Keep it"
      onSubmit={() => void changeRecipe(item, renamedRoles(recipe, roles)).then((done) => done && close())}
      onClose={close}
    >
      <label className="field">
        Name
        <Form.Control
          size="sm"
          required
          maxLength={120}
          value={recipe.name}
          onChange={(e) => setRecipe({ ...recipe, name: e.target.value })}
        />
      </label>
      <label className="field">
        What it is good for
        <Form.Control
          size="sm"
          maxLength={300}
          value={recipe.says}
          onChange={(e) => setRecipe({ ...recipe, says: e.target.value })}
        />
      </label>
      {rolesOf(item.recipe).map((role) => (
        <label className="field" key={role}>
          Role
          <Form.Control
            size="sm"
            required
            maxLength={200}
            value={nameOf(role)}
            onChange={(e) => setRoles(new Map([...roles, [role, e.target.value]]))}
          />
        </label>
      ))}
      <ol className="recipe-layers" aria-label="Layers, the topmost first">
        {nodes.toReversed().map(({ node, depth }) => (
          <li key={node.id} style={{ paddingLeft: 10 + depth * 14 }}>
            <span>{node.name}</span>
            <button
              type="button"
              className="step-off"
              aria-label={`Remove ${node.name}`}
              disabled={nodes.length === 1 || isMaskSource(recipe.layers, node)}
              title={
                isMaskSource(recipe.layers, node)
                  ? 'The mask of another layer is made from it'
                  : 'Remove it from the recipe'
              }
              onClick={() => remove(node)}
            >
              ×
            </button>
          </li>
        ))}
      </ol>
      <p className="hint-line">
        To change how a layer looks, lay the recipe, set its layers in the build-up, and choose “Replace by
        the present build-up” in its menu.
      </p>
    </FormDialog>
  );
}

/** Whether the mask of a layer outside of a node is made from it or from one in it. */
function isMaskSource(layers: readonly LayerNode[], node: LayerNode): boolean {
  const inside = new Set([...nodesOf([node])].map((n) => n.node.id));
  const masks = masksOf(layers);
  return [...masks].some(
    ([id, mask]) =>
      !inside.has(id) && [...masksUnder(mask, (other) => masks.get(other) ?? [])].some((m) => inside.has(m)),
  );
}
