import { CoreError } from '../errors';
import { kindOf, playersOf, type Layer, type MaskStep } from '../layers';
import { changeNodes, isGroup, nodesOf } from './layer-tree';
import type { LayerNode, ProjectLight } from './schema';

/** What of a recipe is laid: its layers and the lights that they show. */
export interface Layable {
  readonly layers: readonly LayerNode[];
  readonly lights: readonly ProjectLight[];
}

/** A role of a recipe and the parts that play it. */
export type RoleMap = readonly (readonly [role: string, parts: readonly string[]])[];

/** The parts that a recipe has something for, each by the name of its role. */
export function rolesOf({ layers, lights }: Layable): string[] {
  const out = new Set<string>();
  for (const { node } of nodesOf(layers)) {
    for (const step of node.mask) if (step.from === 'parts') step.parts.forEach((p) => out.add(p));
    const kind = isGroup(node) ? null : kindOf(node);
    if (kind?.form === 'derived') kind.parts?.(node as Layer).forEach((part) => out.add(part));
  }
  for (const { plan } of lights) {
    plan.parts.forEach(([part]) => out.add(part));
    plan.steps?.ramps.forEach(([part]) => out.add(part));
    plan.standIns.forEach(({ of }) => 'part' in of && out.add(of.part));
  }
  return [...out];
}

/**
 * A recipe with roles played by a model's parts: what holds for a role holds for each of them.
 *
 * @param parts of the model
 * @throws CoreError `bad-argument` if a role or a part isn't there
 */
export function withRoles<R extends Layable>(recipe: R, map: RoleMap, parts: readonly string[]): R {
  const roles = rolesOf(recipe);
  for (const [role, players] of map) {
    if (!roles.includes(role)) {
      throw new CoreError(
        'bad-argument',
        roles.length
          ? `The recipe has no role “${role}”. It has ${listed(roles)}.`
          : `The recipe has no roles: “${role}” can't be given to a part.`,
      );
    }
    const missing = players.find((part) => !parts.includes(part));
    if (missing !== undefined) {
      throw new CoreError('bad-argument', `The model has no part “${missing}”. It has ${listed(parts)}.`);
    }
  }
  return map.reduce((next, [role, players]) => playedBy(next, role, players), recipe);
}

/** A recipe whose roles are called otherwise. @param names what a role was called, and is; two that come to be called alike are one */
export const renamedRoles = <R extends Layable>(recipe: R, names: ReadonlyMap<string, string>): R =>
  [...names]
    .filter(([role, name]) => role !== name)
    .reduce((next, [role, name]) => playedBy(next, role, [name]), recipe);

const listed = (names: readonly string[]): string =>
  names.length > 12 ? `${names.slice(0, 12).join(', ')} and ${names.length - 12} more` : names.join(', ');

function playedBy<R extends Layable>(recipe: R, role: string, parts: readonly string[]): R {
  const players = playersOf(role, parts);
  const step = (s: MaskStep): MaskStep =>
    s.from === 'parts' && s.parts.includes(role)
      ? { ...s, parts: [...new Set([...s.parts.filter((p) => p !== role), ...parts])] }
      : s;
  const layers = changeNodes(recipe.layers, (node): LayerNode => {
    const masked = { ...node, mask: node.mask.map(step) };
    if (isGroup(masked)) return masked;
    const kind = kindOf(masked);
    return kind.form === 'derived' && kind.withPlayers ? kind.withPlayers(masked, players) : masked;
  });
  const lights = recipe.lights.map((light) => ({
    ...light,
    plan: {
      ...light.plan,
      parts: players.named(light.plan.parts),
      steps: light.plan.steps && { ...light.plan.steps, ramps: players.named(light.plan.steps.ramps) },
      standIns: players.targets(light.plan.standIns),
    },
  }));
  return { ...recipe, layers, lights };
}
