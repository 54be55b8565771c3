import { layerFromRamps, towardLight } from '../../../core/proposals';
import { projectionLayer, projectionStroke } from '../../../core/engine';
import type { Pattern } from '../../../core/document';
import { CoreError, sentenceOf } from '../../../core/errors';
import { backdropFaces, centreOf, subjectBounds } from '../../../core/mesh';
import { copiesOf } from '../../../core/paint';
import { matchedReference, type Session, useMatchView, useProject, type Commander } from '../../project';
import { notify, undoable } from '../../shared/notify';
import { jobPool } from '../../shared/platform';
import { useUi } from '../../shared/ui-store';
import { chosenParts } from '../../viewport';
import { matchOf } from '../camera/camera-actions';

/** Colours of a part's palette. */
const PALETTE = 5;

async function told<T>(work: Promise<T>): Promise<T | null> {
  try {
    return await work;
  } catch (error) {
    if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
    return null;
  }
}

/** Names of the parts that are chosen; all that are seen in the reference if none is. */
function partsWanted(): string[] {
  const { mesh } = useProject.getState();
  const chosen = chosenParts().map((p) => mesh!.parts[p]!);
  if (chosen.length > 0) return chosen;
  return (useMatchView.getState().report?.parts ?? []).map((a) => a.part);
}

/** The main colours that the chosen parts have in the reference, as groups of the palette. */
export async function takePalettes(session: Session): Promise<void> {
  const parts = partsWanted();
  const found = await told(session.matcher.ask('palettes', { parts, count: PALETTE }));
  if (!found || found.length === 0) return;
  const swatches = found.flatMap(({ part, palette }) =>
    palette.map(({ hex }, i) => ({ name: `${part} ${i + 1}`, color: hex, group: part.slice(0, 60) })),
  );
  const done = await session.command({ do: 'add-swatches', swatches });
  undoable(
    session,
    `${swatches.length} colours of ${found.length === 1 ? found[0]!.part : `${found.length} parts`} came into the palette.`,
  )(done);
}

/** A tone ramp for each part, as the reference has it by how much of the key light falls there. */
export async function takeRamps(session: Session): Promise<void> {
  const { document } = useProject.getState();
  const reference = matchedReference();
  if (!document || !reference) return;
  const toward = towardLight(document, useMatchView.getState().report);
  const all = await told(session.matcher.ask('ramps', { toward }));
  if (!all) return;
  const wanted = new Set(partsWanted());
  const ramps = all.filter(({ part }) => wanted.has(part));
  if (ramps.length === 0) {
    notify('Nothing of these parts is seen in the reference.');
    return;
  }
  const layer = layerFromRamps(ramps, toward, 'Tones of the reference');
  const names = ramps.map((r) => r.part);
  const isAll = names.length === useProject.getState().mesh?.parts.length;
  const mask = isAll
    ? []
    : [
        {
          from: 'parts' as const,
          join: 'multiply' as const,
          levels: { low: 0, high: 1, gamma: 1 },
          invert: false,
          parts: names,
        },
      ];
  const done = await session.command({ do: 'add-layer', layer: { ...layer, mask }, at: aboveForm() });
  undoable(
    session,
    `${ramps.length} ramps of the reference lie over the form, in a layer that can be changed.`,
  )(done);
}

/** Above what is derived from the form, under what is painted by hand. */
function aboveForm(): number {
  const layers = useProject.getState().document?.layers ?? [];
  const first = layers.findIndex(
    (n) => n.kind === 'paint' || n.kind === 'ink' || (n.kind === 'group' && n.detail !== null),
  );
  return first < 0 ? layers.length : first;
}

/** A reference among the project's pictures, no larger than a pattern; it is brought there once. */
async function patternOf(
  session: Session,
  as: Commander,
): Promise<Pick<Pattern, 'id' | 'width' | 'height'> | null> {
  const reference = matchedReference();
  const { document } = useProject.getState();
  if (!reference || !document) return null;
  const name = `Through: ${reference.name}`.slice(0, 80);
  const known = document.patterns.find((p) => !p.listed && p.name === name);
  if (known) return known;
  const file = await session.file(reference.id);
  if (!file) return null;
  const { png, width, height } = await jobPool.run('patternPng', { file });
  const done = await as.attach({ do: 'add-pattern', pattern: { name, width, height, listed: false } }, png);
  return done ? { id: done.ids[0]!, width, height } : null;
}

/** Lays the reference onto what it sees, as a paint layer whose mask fades with facing and depth and can be painted on. */
export async function projectReference(session: Session): Promise<void> {
  const reference = matchedReference();
  const { mesh } = useProject.getState();
  const { camera, mirror } = matchOf(reference);
  if (!reference || !mesh) return;
  if (!camera) {
    notify('Where the reference was drawn from isn’t known yet. Let its camera be found first.');
    return;
  }
  const layer = await session.deed('Project the reference', async (as) => {
    const pattern = await patternOf(session, as);
    if (!pattern) return undefined;
    const { document } = useProject.getState();
    const layerBase = projectionLayer(mesh, camera, `Projected: ${reference.name}`);
    const added = await as.command({
      do: 'add-layer',
      layer: { ...layerBase, mask: [...(layerBase.mask ?? []), { from: 'painted' }] },
      at: document ? albedoTop(document.layers) : 0,
    });
    const id = added?.ids[0];
    if (id === undefined) return undefined;
    const done = await as.command(projectionStroke(id, pattern, camera, mirror, backdropFaces(mesh)));
    return done ? id : undefined;
  });
  if (layer === undefined) return;
  useUi.setState({ target: { layer, channel: 'pixels' } });
  notify(
    'The reference lies on what it sees, as a layer. Its mask fades with facing and depth; paint on it to hide or show more.',
  );
}

const albedoTop = (layers: readonly { readonly kind: string; readonly detail?: unknown }[]): number => {
  const first = layers.findIndex((n) => n.kind === 'group' && n.detail !== null);
  return first < 0 ? layers.length : first;
};

/** The layer that was projected last. */
const projectedLayer = () =>
  useProject
    .getState()
    .document?.layers.findLast((n) => n.kind === 'paint' && n.name.startsWith('Projected: '));

/** Fills what the projected reference doesn't see, in a layer under it that says so. @param how along the surface, or from the other side */
export async function fillRest(session: Session, how: 'along' | 'mirror'): Promise<void> {
  const reference = matchedReference();
  const { document, mesh } = useProject.getState();
  const from = projectedLayer();
  if (!document || !mesh || !reference || !from) {
    notify('Project the reference first: the rest is filled from what that shows.');
    return;
  }
  const { camera, mirror } = matchOf(reference);
  const at = document.layers.findIndex((n) => n.id === from.id);
  const name = how === 'along' ? 'Guessed along the surface' : 'Guessed from the other side';
  const isDone = await session.deed(name, async (as) => {
    const added = await as.command({ do: 'add-layer', layer: { kind: 'paint', name }, at });
    const layer = added?.ids[0];
    if (layer === undefined) return false;
    if (how === 'along') return (await as.command({ do: 'fill-along', layer, from: from.id })) !== null;
    const pattern = camera && (await patternOf(session, as));
    if (!pattern) return false;
    const [x, y, z] = centreOf(subjectBounds(mesh));
    const planes = [
      { point: [x!, y!, z!] as [number, number, number], normal: [1, 0, 0] as [number, number, number] },
    ];
    for (const copy of copiesOf({ planes, axis: null }).slice(1))
      await as.command(projectionStroke(layer, pattern, camera, mirror, backdropFaces(mesh), copy));
    return true;
  });
  if (!isDone) return;
  notify(`“${name}” lies under the projected reference. It is a guess: paint over it where it is wrong.`);
}
