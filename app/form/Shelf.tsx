import '../shared/shelf.css';
import { useEffect } from 'react';
import { Dropdown } from 'react-bootstrap';
import { type Session, useProject } from '../project';
import { Chip } from '../shared/Chip';
import { useCommandBook, useTip } from '../shared/commands';
import { FixedMenu } from '../shared/FixedMenu';
import { RenameField } from '../shared/RenameField';
import { chosenParts, useDragOntoModel } from '../viewport';
import {
  downloadRecipe,
  duplicateRecipe,
  layRecipe,
  openShelf,
  paintPictures,
  removeRecipe,
  renameRecipe,
  replaceByPresent,
  useShelf,
  type ShelfRecipe,
} from './recipes';
import { RecipeDialog } from './RecipeDialog';
import { RolesDialog } from './RolesDialog';

/** Recipes with what they would look like, to be laid by a click or dropped on a part. */
export function Shelf({ session }: { readonly session: Session }) {
  const recipes = useShelf((s) => s.recipes);
  const model = useProject((s) => s.document?.model);
  const isReady = useProject((s) => s.status === 'ready' && s.missingCues.length === 0);
  const { run } = useCommandBook();
  const tip = useTip();
  useEffect(() => void openShelf(), []);
  // Pictures wait until the model itself is measured: that is what is looked at.
  useEffect(() => {
    if (isReady) void paintPictures();
  }, [model, isReady, recipes.length]);
  return (
    <footer className="shelf" aria-label="Recipes">
      <div className="shelf-side">
        <h2>
          Recipes <span>{recipes.length}</span>
        </h2>
        <div className="row">
          <Chip
            title={tip('Keep the present build-up as a recipe', 'recipe-keep')}
            onClick={() => run('recipe-keep')}
          >
            Keep this
          </Chip>
          <Chip title={tip('Add recipes from files', 'recipe-add')} onClick={() => run('recipe-add')}>
            Add…
          </Chip>
        </div>
      </div>
      <ul className="shelf-list">
        {recipes.map((item) => (
          <Card key={item.id} item={item} session={session} />
        ))}
      </ul>
      <RolesDialog session={session} />
      <RecipeDialog />
    </footer>
  );
}

function Card({ item, session }: { readonly item: ShelfRecipe; readonly session: Session }) {
  const { recipe, id, isShipped } = item;
  const picture = useShelf((s) => s.pictures.get(id));
  const isRenaming = useShelf((s) => s.renaming === id);
  const nameOf = (part: number): string => useProject.getState().mesh!.parts[part]!;
  const { at, handlers } = useDragOntoModel({
    click: () => {
      const parts = chosenParts().map(nameOf);
      void layRecipe(session, recipe, parts.length ? parts : null);
    },
    drop: ({ part }) => void layRecipe(session, recipe, [nameOf(part)]),
  });
  return (
    <li className="shelf-card">
      <button
        type="button"
        title={`${recipe.says} A click lays it on the chosen parts or the whole model; dropped on a part it keeps to that.`.trim()}
        aria-label={`Lay ${recipe.name}`}
        {...handlers}
      >
        {picture ? <img src={picture} alt="" draggable={false} /> : <i className="shelf-waits" aria-hidden />}
      </button>
      {isRenaming ? (
        <RenameField
          name={recipe.name}
          label="Name of the recipe"
          most={120}
          onDone={(name) => {
            useShelf.setState({ renaming: null });
            if (name) void renameRecipe(item, name);
          }}
        />
      ) : (
        <Dropdown>
          <Dropdown.Toggle as="button" type="button" className="shelf-name" title={recipe.name}>
            {recipe.name}
          </Dropdown.Toggle>
          <FixedMenu>
            {recipe.says && <Dropdown.ItemText>{recipe.says}</Dropdown.ItemText>}
            <Dropdown.Item as="button" onClick={() => void layRecipe(session, recipe, null)}>
              Lay over the whole model
            </Dropdown.Item>
            <Dropdown.Item as="button" onClick={() => void duplicateRecipe(item)}>
              Duplicate
            </Dropdown.Item>
            <Dropdown.Item as="button" onClick={() => downloadRecipe(item)}>
              Download as JSON
            </Dropdown.Item>
            <Dropdown.Item as="button" onClick={() => useShelf.setState({ editing: id })}>
              {isShipped ? 'Edit a copy…' : 'Edit…'}
            </Dropdown.Item>
            {!isShipped && (
              <>
                <Dropdown.Item as="button" onClick={() => void replaceByPresent(session, item)}>
                  Replace by the present build-up
                </Dropdown.Item>
                <Dropdown.Item as="button" onClick={() => useShelf.setState({ renaming: id })}>
                  Rename
                </Dropdown.Item>
                <Dropdown.Item as="button" onClick={() => void removeRecipe(item)}>
                  Remove from the shelf
                </Dropdown.Item>
              </>
            )}
          </FixedMenu>
        </Dropdown>
      )}
      {at && picture && (
        <img className="dragged-recipe" src={picture} alt="" style={{ left: at.x, top: at.y }} />
      )}
    </li>
  );
}
