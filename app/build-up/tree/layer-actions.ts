import { chosenLines, INK_EDITS, inkLayer } from '../ink/ink-actions';
import {
  findNode,
  levelOf,
  nodesOf,
  placeOf,
  type Detail,
  type LayerNode,
  type NodePlace,
} from '../../../core/document';
import { isPaintedMask, type MaskStep, PLAIN_LEVELS } from '../../../core/layers';
import type { Command, NewLayer, NodePatch } from '../../../core/commands';
import { type Commander, type Session, activeNode, hiddenParts, useProject } from '../../project';
import { undoable } from '../../shared/notify';
import { DETAIL_WORDS } from '../../shared/detail-words';
import type { Offer } from './new-layers';
import { firstPattern } from '../fields/patterns';
import { useUi, type EditTarget } from '../../shared/ui-store';

/** The chosen layers that are there: the one in hand first. */
export function chosenIds(): number[] {
  const { document } = useProject.getState();
  const { target, alsoChosen } = useUi.getState();
  const ids = [...(target ? [target.layer] : []), ...alsoChosen];
  return [...new Set(ids)].filter((id) => document && findNode(document.layers, id));
}

/** Takes a layer in hand. A layer or a mask that is looked at by itself becomes that of this one. */
export const choose = (id: number | null): void =>
  useUi.setState(({ shown }) => ({
    target: id === null ? null : { layer: id, channel: 'pixels' },
    alsoChosen: new Set(),
    seesAlbedo: false,
    shown: id !== null && 'layer' in shown ? { ...shown, layer: id } : shown,
  }));

/** Adds a layer to those that are chosen, or takes it off. */
export function alsoChoose(id: number): void {
  useUi.setState(({ target, alsoChosen }) => {
    const next = new Set(alsoChosen);
    if (id === target?.layer) {
      const [first] = next;
      if (first === undefined) return {};
      next.delete(first);
      return { target: { layer: first, channel: 'pixels' }, alsoChosen: next };
    }
    if (!next.delete(id)) next.add(id);
    return { alsoChosen: next };
  });
}

/** Just above the chosen layer, where its effect is expected; into the chosen group. */
function placeAbove(): NodePlace {
  const { document } = useProject.getState();
  const node = activeNode();
  if (!document || !node) return { into: null, at: document?.layers.length ?? 0 };
  if (node.kind === 'group') return { into: node.id, at: node.layers.length };
  const { into, at } = placeOf(document.layers, node.id);
  return { into, at: at + 1 };
}

/** Does a command and chooses what it has made. */
async function make(session: Commander, command: Command, which: 'first' | 'last' = 'last'): Promise<void> {
  const done = await session.command(command);
  const id = which === 'first' ? done?.ids[0] : done?.ids.at(-1);
  if (id !== undefined) choose(id);
}

const addLayer = (session: Commander, layer: NewLayer): Promise<void> =>
  make(session, { do: 'add-layer', layer: { ...layer, name: freeName(layer.name) }, ...placeAbove() });

/** Adds what was offered; a pattern begins with one that is there. */
export async function addOffer(session: Session, { layer }: Offer): Promise<void> {
  if (typeof layer !== 'function') return addLayer(session, layer);
  await session.deed('Add layer', async (as) => {
    const pattern = await firstPattern(as);
    if (pattern !== null) await addLayer(as, layer(pattern));
  });
}

/** A name that no layer has yet: five layers that are all called Paint can't be told apart. */
function freeName(name: string): string {
  const taken = new Set(
    [...nodesOf(useProject.getState().document?.layers ?? [])].map(({ node }) => node.name),
  );
  let free = name;
  for (let n = 2; taken.has(free); n++) free = `${name} ${n}`;
  return free;
}

export const addGroup = (session: Session): Promise<void> =>
  make(session, { do: 'add-group', name: 'Group', ...placeAbove() });

/** A group that goes into a mask of the detail sheet, with a layer to paint on. */
export async function addDetail(session: Session, detail: Detail): Promise<void> {
  const at = useProject.getState().document?.layers.length ?? 0;
  const [name] = DETAIL_WORDS[detail];
  await session.deed(`Add “${name}”`, async (as) => {
    const group = await as.command({ do: 'add-group', name: freeName(name), detail, into: null, at });
    const into = group?.ids[0];
    if (into === undefined) return;
    const layer: NewLayer = { kind: 'paint', name: freeName(`${name}, painted`) };
    await make(as, { do: 'add-layer', layer, into, at: 0 });
  });
}

export async function groupChosen(session: Session): Promise<void> {
  const layers = chosenIds();
  if (layers.length > 0) await make(session, { do: 'group-layers', layers, name: 'Group' });
}

export function ungroupChosen(session: Session): void {
  const node = activeNode();
  if (node?.kind === 'group') void session.command({ do: 'ungroup', layer: node.id });
}

export function removeChosen(session: Session): void {
  const layers = chosenIds();
  const { document } = useProject.getState();
  const [first] = layers;
  if (!document || first === undefined) return;
  const name =
    layers.length === 1 ? `“${findNode(document.layers, first)!.name}”` : `${layers.length} layers`;
  void session
    .command({ do: 'remove-layers', layers })
    .then(undoable(session, `${name} ${layers.length === 1 ? 'was' : 'were'} removed.`));
}

export async function duplicateChosen(session: Session): Promise<void> {
  const layers = chosenIds();
  if (layers.length > 0) await make(session, { do: 'duplicate-layers', layers }, 'first');
}

export async function mergeDown(session: Session): Promise<void> {
  const { document } = useProject.getState();
  const node = activeNode();
  if (!document || !node) return;
  const { into, at } = placeOf(document.layers, node.id);
  const below = levelOf(document.layers, into)[at - 1];
  const done = await session.command({ do: 'merge-down', layer: node.id });
  if (done && below) choose(below.id);
}

export const mergeVisible = (session: Session): Promise<void> =>
  make(session, { do: 'merge-visible', name: 'Merged' });

export async function flatten(session: Session): Promise<void> {
  const done = await session.command({ do: 'flatten', name: 'Flattened' });
  if (!done) return;
  choose(done.ids[0] ?? null);
  undoable(session, 'The whole build-up is one layer of paint now.')(done);
}

/** What the hand is on: pixels, or what is painted on a mask. */
function handOn(): EditTarget | null {
  const node = activeNode();
  if (!node) return null;
  const onMask = useUi.getState().target?.channel === 'mask' && isPaintedMask(node.mask);
  return { layer: node.id, channel: onMask ? 'mask' : 'pixels' };
}

/** Empties what the hand works on; the layer stays. */
export async function clearChosen(session: Session): Promise<void> {
  const hand = handOn();
  if (!hand) return;
  const done = await session.command({ do: 'clear', ...hand });
  if (done)
    undoable(session, hand.channel === 'mask' ? 'The mask is cleared.' : 'The layer is cleared.')(done);
}

/** Removes the chosen lines, where there are some, or else the chosen layers. */
export function removeInHand(session: Session): void {
  if (inkLayer() && chosenLines().length > 0) void INK_EDITS.remove(session);
  else removeChosen(session);
}

export function fillChosen(session: Session): void {
  const hand = handOn();
  if (!hand) return;
  const { color, maskHides } = useUi.getState();
  const fill = hand.channel === 'mask' ? (maskHides ? '#000000' : '#ffffff') : color;
  void session.command({ do: 'fill', ...hand, color: fill, except: hiddenParts() });
}

/** Changes every chosen layer as one step. */
export function patchChosen(session: Session, patch: NodePatch, label: string): void {
  const layers = chosenIds();
  const commands = layers.map((layer) => ({ do: 'patch-layer' as const, layer, patch }));
  if (commands.length === 1) void session.command(commands[0]!);
  else if (commands.length > 1) void session.command({ do: 'several', label, commands });
}

export function toggleVisible(session: Session): void {
  const node = activeNode();
  if (node) patchChosen(session, { visible: !node.visible }, node.visible ? 'Hide layers' : 'Show layers');
}

export function toggleClip(session: Session): void {
  const node = activeNode();
  if (node) patchChosen(session, { clip: !node.clip }, 'Clip layers');
}

/** Moves the chosen layer one place up or down; at the end of a group it goes out of it. */
export function moveChosen(session: Session, by: 1 | -1): void {
  const { document } = useProject.getState();
  const node = activeNode();
  if (!document || !node) return;
  const { into, at } = placeOf(document.layers, node.id);
  const level = levelOf(document.layers, into);
  const to = at + by;
  const layers = [node.id];
  if (to >= 0 && to < level.length) void session.command({ do: 'move-layers', layers, into, at: to });
  else if (into !== null) {
    const outer = placeOf(document.layers, into);
    const place = { into: outer.into, at: by > 0 ? outer.at + 1 : outer.at };
    void session.command({ do: 'move-layers', layers, ...place });
  }
}

// ---- masks -----------------------------------------------------------------------------------------------------------

/** Puts a step into a mask; what is painted by hand stays the last. */
export function addStep(session: Session, node: LayerNode, step: MaskStep): void {
  const painted = node.mask.filter((s) => s.from === 'painted');
  const others = node.mask.filter((s) => s.from !== 'painted');
  void session.command({ do: 'patch-layer', layer: node.id, patch: { mask: [...others, step, ...painted] } });
}

/** Changes the mask of the chosen layer, where it has one. */
export function changeMask(
  session: Session,
  change: (mask: readonly MaskStep[]) => readonly MaskStep[],
): Promise<unknown> | undefined {
  const node = activeNode();
  if (!node || node.mask.length === 0) return undefined;
  const mask = change(node.mask);
  if (!isPaintedMask(mask)) useUi.setState({ target: { layer: node.id, channel: 'pixels' } });
  return session.command({ do: 'patch-layer', layer: node.id, patch: { mask: [...mask] } });
}

/** Begins or ends painting on a layer's mask; the painted step is added if it isn't there. */
export async function paintOnMask(session: Session, node: LayerNode): Promise<void> {
  if (useUi.getState().target?.channel === 'mask') {
    useUi.setState({ target: { layer: node.id, channel: 'pixels' } });
    return;
  }
  if (!isPaintedMask(node.mask)) {
    const mask: MaskStep[] = [...node.mask, { from: 'painted', levels: PLAIN_LEVELS, invert: false }];
    if (!(await session.command({ do: 'patch-layer', layer: node.id, patch: { mask } }))) return;
  }
  useUi.setState({ target: { layer: node.id, channel: 'mask' } });
}
