import { create } from 'zustand';
import { z } from 'zod';
import { contentHash } from '../../core/math';
import { parseRecipe, rolesOf, withRoles, type Recipe, type RoleMap } from '../../core/document';
import { sentenceOf } from '../../core/errors';
import { type Session, useProject } from '../project';
import { bytesOf, chooseFiles, download, fileNameOf } from '../shared/files';
import { notify, undoable } from '../shared/notify';
import { jobPool, store } from '../shared/platform';
import type { RecipeRow } from '../../storage';
import { useUi } from '../shared/ui-store';

/** A recipe on the shelf. */
export interface ShelfRecipe {
  readonly id: string;
  readonly recipe: Recipe;
  /** It comes with the program and can't be changed. */
  readonly isShipped: boolean;
}

interface Shelf {
  readonly recipes: readonly ShelfRecipe[];
  /** What each looks like on the present model, by id, as an address of a picture. */
  readonly pictures: ReadonlyMap<string, string>;
  readonly renaming: string | null;
  /** Id of the recipe that is being edited. */
  readonly editing: string | null;
  /** A recipe whose roles are to be given to parts. */
  readonly asking: { readonly recipe: Recipe; readonly parts: readonly string[] | null } | null;
}

export const useShelf = create<Shelf>(() => ({
  recipes: [],
  pictures: new Map(),
  renaming: null,
  editing: null,
  asking: null,
}));

const SHIPPED = '/demo/recipes';

let opened: Promise<void> | null = null;

/** Fetches what comes with the program and what was kept, once. */
export function openShelf(): Promise<void> {
  opened ??= Promise.all([shipped(), kept()]).then(
    ([ours, own]) => useShelf.setState({ recipes: [...own, ...ours] }),
    (error: unknown) => {
      opened = null;
      notify(sentenceOf(error));
    },
  );
  return opened;
}

async function shipped(): Promise<ShelfRecipe[]> {
  const names = z.array(z.string()).parse(await (await fetch(`${SHIPPED}/index.json`)).json());
  return Promise.all(
    names.map(async (name): Promise<ShelfRecipe> => {
      const data: unknown = await (await fetch(`${SHIPPED}/${name}.json`)).json();
      return { id: `shipped ${name}`, recipe: parseRecipe(data), isShipped: true };
    }),
  );
}

/** Those that this browser keeps; one that can't be read any more is left where it is. */
async function kept(): Promise<ShelfRecipe[]> {
  const rows = await store.recipes.toArray().catch((): never[] => {
    notify('The recipes that this browser keeps can’t be read just now. Those that came with it are there.');
    return [];
  });
  return rows
    .toSorted((a, b) => b.addedAt - a.addedAt)
    .flatMap(({ id, recipe }): ShelfRecipe[] => {
      try {
        return [{ id, recipe: parseRecipe(recipe), isShipped: false }];
      } catch {
        return [];
      }
    });
}

async function keep(recipe: Recipe): Promise<void> {
  const id = crypto.randomUUID();
  try {
    await store.recipes.put({ id, addedAt: Date.now(), recipe });
  } catch (error) {
    notify(`The recipe could not be kept by the browser: ${sentenceOf(error)}`);
    return;
  }
  useShelf.setState(({ recipes }) => ({ recipes: [{ id, recipe, isShipped: false }, ...recipes] }));
}

/** Keeps the present build-up as a recipe. */
export async function keepBuildUp(session: Session): Promise<void> {
  const recipe = await session.recipe();
  if (!recipe) return;
  if (recipe.layers.length === 0) {
    notify('This build-up has no layer that follows the form: there is nothing to keep as a recipe yet.');
    return;
  }
  await keep(recipe);
  notify(`“${recipe.name}” stands on the shelf now, for every project.`);
}

export const duplicateRecipe = ({ recipe }: ShelfRecipe): Promise<void> =>
  keep({ ...recipe, name: `${recipe.name} copy`.slice(0, 120) });

export async function renameRecipe({ id, recipe }: ShelfRecipe, name: string): Promise<void> {
  const next = { ...recipe, name };
  await store.recipes.update(id, { recipe: next });
  useShelf.setState(({ recipes }) => ({
    recipes: recipes.map((r) => (r.id === id ? { ...r, recipe: next } : r)),
  }));
}

/**
 * Puts another recipe in the place of one. What comes with the program stays; its changed form stands beside it.
 *
 * @returns false if it is no recipe any more, which is told
 */
export async function changeRecipe({ id, isShipped }: ShelfRecipe, recipe: Recipe): Promise<boolean> {
  try {
    const next = parseRecipe(recipe);
    if (isShipped) {
      await keep(next);
      return true;
    }
    await store.recipes.update(id, { recipe: next });
    useShelf.setState(({ recipes }) => ({
      recipes: recipes.map((r) => (r.id === id ? { ...r, recipe: next } : r)),
    }));
    void paintPictures();
    return true;
  } catch (error) {
    notify(sentenceOf(error));
    return false;
  }
}

/** Puts the present build-up in the place of a recipe's layers; its name and what is said of it stay. */
export async function replaceByPresent(session: Session, item: ShelfRecipe): Promise<void> {
  const present = await session.recipe();
  if (!present || present.layers.length === 0) {
    notify('This build-up has no layer that follows the form: there is nothing to put into the recipe.');
    return;
  }
  const { name, says } = item.recipe;
  const before = item.recipe;
  if (!(await changeRecipe(item, { ...present, name, says }))) return;
  notify(`“${name}” holds the present build-up now.`, {
    label: 'Undo',
    run: () => void changeRecipe(item, before),
  });
}

export async function removeRecipe({ id, recipe }: ShelfRecipe): Promise<void> {
  const row = await store.recipes.get(id);
  await store.recipes.delete(id);
  useShelf.setState(({ recipes }) => ({ recipes: recipes.filter((r) => r.id !== id) }));
  notify(`“${recipe.name}” was removed from the shelf.`, {
    label: 'Undo',
    run: () => void putBack(row),
  });
}

async function putBack(row: RecipeRow | undefined): Promise<void> {
  if (row) await store.recipes.put(row);
  opened = null;
  await openShelf();
}

export const downloadRecipe = ({ recipe }: ShelfRecipe): void =>
  download(
    `${fileNameOf(recipe.name)}-recipe.json`,
    `${JSON.stringify(recipe, null, 2)}\n`,
    'application/json',
  );

/** Adds recipes from files. */
export async function addRecipes(): Promise<void> {
  for (const file of await chooseFiles('.json,application/json', true)) {
    try {
      await keep(parseRecipe(parsedJson(new TextDecoder().decode(await bytesOf(file)), file.name)));
    } catch (error) {
      notify(`${file.name}: ${sentenceOf(error)}`);
    }
  }
}

function parsedJson(text: string, name: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw new Error(`“${name}” is not a recipe: it holds no JSON. Nothing was changed.`);
  }
}

/**
 * Lays a recipe on the model as one step. One whose roles aren't parts of this model asks which part plays which.
 *
 * @param parts that it is kept to; null: the whole model
 */
export async function layRecipe(
  session: Session,
  recipe: Recipe,
  parts: readonly string[] | null,
): Promise<void> {
  const names = useProject.getState().mesh?.parts ?? [];
  const unknown = rolesOf(recipe).filter((role) => !names.includes(role));
  if (unknown.length > 0) useShelf.setState({ asking: { recipe, parts } });
  else await layNow(session, recipe, parts);
}

/** The same when it is known who plays which role. */
export async function layWithRoles(
  session: Session,
  { recipe, parts }: NonNullable<Shelf['asking']>,
  roles: RoleMap,
): Promise<void> {
  useShelf.setState({ asking: null });
  try {
    await layNow(session, withRoles(recipe, roles, useProject.getState().mesh?.parts ?? []), parts);
  } catch (error) {
    notify(sentenceOf(error));
  }
}

async function layNow(session: Session, recipe: Recipe, parts: readonly string[] | null): Promise<void> {
  const { document } = useProject.getState();
  if (!document) return;
  const { name, lights, patterns, layers } = recipe;
  // Under what was painted by hand: the hand has the last word.
  const firstPainted = document.layers.findIndex((l) => l.kind === 'paint');
  const at = firstPainted < 0 ? document.layers.length : firstPainted;
  const done = await session.command({
    do: 'lay-recipe',
    recipe: { name, lights, patterns, layers },
    ...(parts ? { parts: [...parts] } : {}),
    into: null,
    at,
  });
  const group = done?.ids[0];
  if (!done || group === undefined) return;
  useUi.setState({ target: { layer: group, channel: 'pixels' } });
  const where = parts
    ? parts.length === 1
      ? `on ${parts[0]}`
      : `on ${parts.length} parts`
    : 'on the whole model';
  undoable(session, `“${name}” is laid ${where}: a group whose layers can all be changed.`)(done);
}

let painting = 0;

/** Paints what recipes look like on the present model, one after the other, until another model is in hand. */
export async function paintPictures(): Promise<void> {
  const mine = ++painting;
  const { mesh, document } = useProject.getState();
  if (!mesh || !document) return;
  for (const { recipe, id } of useShelf.getState().recipes) {
    const key = `recipe picture 1 ${document.model} ${contentHash(JSON.stringify(recipe))}`;
    try {
      const known = await jobPool.run('loadMap', { key });
      const png =
        known instanceof Uint8Array
          ? known
          : await jobPool.run('recipePicture', { mesh, recipe, size: SIDE });
      if (mine !== painting) return;
      show(id, png);
      if (known !== png) await jobPool.run('keepMap', { key, data: png, bytes: png.byteLength });
    } catch {
      // A picture that can't be painted is left out; the recipe can be laid all the same.
    }
    if (mine !== painting) return;
  }
}

/** Of a picture on the shelf, pixels: twice what it takes there. */
const SIDE = 176;

function show(id: string, png: Uint8Array): void {
  const url = URL.createObjectURL(new Blob([png as Uint8Array<ArrayBuffer>], { type: 'image/png' }));
  useShelf.setState(({ pictures }) => {
    const old = pictures.get(id);
    if (old) URL.revokeObjectURL(old);
    return { pictures: new Map([...pictures, [id, url]]) };
  });
}
