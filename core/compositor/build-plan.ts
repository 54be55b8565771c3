import { clipRuns, isGroup, type Group, type LayerNode } from '../document';
import type { BlendMode } from '../composite';
import type { Layer } from '../layers';

/** What is laid in which order, the same for every tile. */
export type PlanStep =
  | { readonly do: 'lay'; readonly layer: Layer; readonly how: Laid; readonly name: string }
  | { readonly do: 'push'; readonly through: boolean; readonly name: string }
  /** `group`: whose mask holds; null: layers that are clipped to one, which has its own. */
  | {
      readonly do: 'pop';
      readonly through: boolean;
      readonly group: Group | null;
      readonly how: Laid;
      readonly name: string;
    };

interface Laid {
  readonly mode: BlendMode;
  readonly opacity: number;
  readonly clip: boolean;
}

/**
 * The build-up as a flat list. Layers that are clipped to the one under them become a group with it: the lowest is laid plainly, the
 * others clipped, and all of it is laid as the lowest would be.
 *
 * @param signature names what a node is made from; steps with equal names do the same
 */
export function planOf(tree: readonly LayerNode[], signature: (node: LayerNode) => string): PlanStep[] {
  const out: PlanStep[] = [];
  const level = (nodes: readonly LayerNode[]): void => {
    for (const run of clipRuns(nodes)) {
      const { base } = run;
      const clipped = run.clipped.filter(shows);
      if (!shows(base)) continue;
      const how = { mode: base.blend, opacity: base.opacity, clip: false };
      if (clipped.length === 0) {
        lay(base, how);
        continue;
      }
      out.push({ do: 'push', through: false, name: 'push' });
      lay(base, { mode: 'normal', opacity: 1, clip: false }, true);
      for (const node of clipped) {
        lay(node, { mode: node.blend, opacity: node.opacity, clip: true }, true);
      }
      out.push({ do: 'pop', through: false, group: null, how, name: `pop ${howName(how)}` });
    }
  };
  /** @param apart whether a group must be composited by itself, since it has a shape to clip to or be clipped by */
  const lay = (node: LayerNode, how: Laid, apart = false): void => {
    const name = `${node.id} ${howName(how)} ${signature(node)}`;
    if (!isGroup(node)) {
      out.push({ do: 'lay', layer: node, how, name });
      return;
    }
    const through = !node.isolated && !apart && how.mode === 'normal';
    out.push({ do: 'push', through, name: `push ${through}` });
    level(node.layers);
    out.push({ do: 'pop', through, group: node, how, name: `pop ${through} ${name}` });
  };
  level(tree);
  return out;
}

const shows = (node: LayerNode): boolean => node.visible && node.opacity > 0;

const howName = ({ mode, opacity, clip }: Laid): string => `${mode} ${opacity} ${clip}`;

/** The steps that two plans don't have in common, when what is the same at both ends is left out. */
export function differingSteps(a: readonly PlanStep[], b: readonly PlanStep[]): readonly PlanStep[] {
  const most = Math.min(a.length, b.length);
  let start = 0;
  while (start < most && a[start]!.name === b[start]!.name) start++;
  let end = 0;
  while (end < most - start && a[a.length - 1 - end]!.name === b[b.length - 1 - end]!.name) end++;
  return [...a.slice(start, a.length - end), ...b.slice(start, b.length - end)];
}
