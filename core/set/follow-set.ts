import type { Command, SingleCommand } from '../commands';
import { type LayerNode, type ProjectDocument, nodesOf, isGroup } from '../document';
import { kindOf } from '../layers';
import type { LightPatch, LightPlan } from '../light';
import type { ProjectRamps } from '../ramps';
import type { SetReference, SetShared, SharedKind } from './asset-set';

/** What a project has to do to have what its set has. */
export interface Following {
  /** One step; null where nothing differs. */
  readonly command: Extract<Command, { do: 'several' }> | null;
  /** Pictures that come onto its easel. */
  readonly references: readonly SetReference[];
  /** What differs, in words. */
  readonly says: readonly string[];
}

type One = SingleCommand | Extract<Command, { do: 'patch-swatch' | 'patch-light' | 'set-ramps' }>;

/**
 * Compares a project with what its set shares.
 *
 * What stands in a swatch's colour follows it: local colours, and what layers and lights are made from. What was painted by hand stays as it
 * is. A project without a ramp sheet gets none, since its parts would not lie on it.
 *
 * @param kinds what of it is to be followed
 * @param pictures hashes of the pictures that the project has on its easel
 */
export function followSet(
  document: ProjectDocument,
  shared: SetShared,
  kinds: ReadonlySet<SharedKind>,
  pictures: ReadonlySet<string>,
): Following {
  const commands: One[] = [];
  const says: string[] = [];
  const add = (found: { commands: readonly One[]; says: string } | null): void => {
    if (!found) return;
    commands.push(...found.commands);
    says.push(found.says);
  };
  if (kinds.has('palette')) add(followPalette(document, shared));
  if (kinds.has('light') && shared.light) add(followLight(document, shared.light));
  if (kinds.has('ramps') && shared.ramps) add(followRamps(document.ramps, shared.ramps));
  if (kinds.has('recipes')) add(followRecipes(document, shared));
  const references = kinds.has('references')
    ? shared.references.filter(({ hash }) => !pictures.has(hash))
    : [];
  const n = references.length;
  if (n > 0) says.push(`${n === 1 ? '1 reference comes' : `${n} references come`} onto its easel`);
  return {
    command: commands.length > 0 ? { do: 'several', label: 'Follow the set', commands } : null,
    references,
    says,
  };
}

function followPalette(document: ProjectDocument, { palette }: SetShared) {
  const commands: One[] = [];
  const colors = new Map<string, string>();
  const unclear = new Set<string>();
  const own = new Map(document.palette.map((s) => [s.name, s]));
  const fresh: SetShared['palette'] = [];
  for (const swatch of palette) {
    const known = own.get(swatch.name);
    if (!known) fresh.push(swatch);
    else if (known.color !== swatch.color) {
      // Two swatches of one colour that part tell nothing of what stands in it untied.
      if (colors.has(known.color) && colors.get(known.color) !== swatch.color) unclear.add(known.color);
      colors.set(known.color, swatch.color);
      commands.push({ do: 'patch-swatch', swatch: known.id, patch: { color: swatch.color } });
    }
  }
  const changed = commands.length;
  for (const color of unclear) colors.delete(color);
  if (colors.size > 0) commands.push(...recolored(document, colors));
  if (fresh.length > 0) commands.push({ do: 'add-swatches', swatches: fresh });
  if (commands.length === 0) return null;
  const parts = [
    changed > 0 && `${changed === 1 ? '1 swatch gets' : `${changed} swatches get`} another colour`,
    fresh.length > 0 && `${fresh.length === 1 ? '1 swatch is' : `${fresh.length} swatches are`} added`,
  ].filter(Boolean);
  return { commands, says: parts.join(', ') };
}

/** Layers and lights in whose settings some colours stand, with the new ones. Local colours that are tied to a swatch follow it by themselves. */
function recolored(document: ProjectDocument, colors: ReadonlyMap<string, string>): One[] {
  const commands: One[] = [];
  for (const { node } of nodesOf(document.layers)) {
    if (isGroup(node) || kindOf(node).form !== 'derived') continue;
    const { id, kind: _, name: _name, ...settings } = node;
    const patch = changedFields(settings, colors);
    if (patch) commands.push({ do: 'patch-layer', layer: id, patch });
  }
  for (const { id, plan } of document.lights) {
    const patch = changedFields(plan, colors);
    if (patch) commands.push({ do: 'patch-light', light: id, patch });
  }
  return commands;
}

/** The fields of some settings in which a colour changes, as they become; null: none. */
function changedFields(settings: object, colors: ReadonlyMap<string, string>): object | null {
  const changed = Object.entries(settings).flatMap(([field, value]) => {
    const next = withColors(value, colors);
    return next === value ? [] : [[field, next] as const];
  });
  return changed.length > 0 ? Object.fromEntries(changed) : null;
}

/** A value with colours exchanged wherever they stand in it; itself where none does. */
function withColors(value: unknown, colors: ReadonlyMap<string, string>): unknown {
  if (typeof value === 'string') return colors.get(value) ?? value;
  if (Array.isArray(value)) {
    const next = value.map((v) => withColors(v, colors));
    return next.some((v, i) => v !== value[i]) ? next : value;
  }
  if (typeof value !== 'object' || value === null) return value;
  const patch = changedFields(value, colors);
  return patch ? { ...value, ...patch } : value;
}

/** What of a light plan is the set's: what names parts, regions and stand-ins belongs to the model. */
function sharedPlan({ key, sky, horizon, ground, rim, polish, lights, steps, calm }: LightPlan): LightPatch {
  return {
    key,
    sky,
    horizon,
    ground,
    rim,
    polish,
    lights,
    steps: steps && { ...steps, ramps: [] },
    calm,
  };
}

function followLight(document: ProjectDocument, { name, plan }: NonNullable<SetShared['light']>) {
  const light = document.lights.find((l) => l.name === name) ?? document.lights[0]!;
  const wanted = sharedPlan(plan);
  if (JSON.stringify(sharedPlan(light.plan)) === JSON.stringify(wanted)) return null;
  // Ramps of its own parts stay with them.
  const { steps } = wanted;
  const patch = steps ? { ...wanted, steps: { ...steps, ramps: light.plan.steps?.ramps ?? [] } } : wanted;
  return {
    commands: [{ do: 'patch-light', light: light.id, patch } satisfies One],
    says: `its light “${light.name}” becomes that of the set`,
  };
}

function followRamps(present: ProjectRamps | null, wanted: NonNullable<SetShared['ramps']>) {
  if (!present) return null;
  const { id, name, state, size, lie, ramps } = wanted;
  const bare = present.ramps.map(({ name, colors }) => ({ name, colors }));
  const isSame =
    JSON.stringify([present.size, present.lie, bare]) === JSON.stringify([size, lie, ramps]) &&
    present.shared?.id === id;
  if (isSame) return null;
  const known = new Map(present.ramps.map((r) => [r.name, r.id]));
  const command: One = {
    do: 'set-ramps',
    size,
    lie,
    shared: { id, name, state },
    ramps: ramps.map((ramp) => ({ ...ramp, id: known.get(ramp.name) ?? null })),
  };
  return { commands: [command], says: `its ramp sheet becomes “${name}”` };
}

/** Recipes that lie in the build-up already, as a group of their name, are laid anew in its place. */
function followRecipes(document: ProjectDocument, { recipes }: SetShared) {
  const commands: One[] = [];
  const names: string[] = [];
  let level: readonly LayerNode[] = document.layers;
  for (const recipe of recipes) {
    const { name, lights, patterns, layers } = recipe;
    const at = level.findIndex((n) => isGroup(n) && n.name === name.slice(0, 80));
    const laid = level[at];
    if (laid?.kind === 'group' && isLaid(laid.layers, layers)) continue;
    if (laid) {
      commands.push({ do: 'remove-layers', layers: [laid.id] });
      level = level.filter((n) => n !== laid);
    }
    commands.push({
      do: 'lay-recipe',
      recipe: { name, lights, patterns, layers },
      into: null,
      at: laid ? at : level.length,
    });
    names.push(`“${name}”`);
  }
  if (commands.length === 0) return null;
  return { commands, says: `the recipe ${names.join(', ')} is laid` };
}

/** Whether layers are those of a recipe, whatever their numbers. */
const isLaid = (layers: readonly LayerNode[], wanted: readonly LayerNode[]): boolean =>
  JSON.stringify(layers, withoutNumbers) === JSON.stringify(wanted, withoutNumbers);

const NUMBERS = new Set(['id', 'light', 'layer', 'pattern']);
const withoutNumbers = (key: string, value: unknown): unknown => (NUMBERS.has(key) ? 0 : value);
