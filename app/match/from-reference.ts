import { layerFromRamps, lightInUse, type Command, type Pattern } from '../../core/engine';
import { CoreError, sentenceOf } from '../../core/errors';
import { axesOf, cameraRows, pictureRows, type MatchCamera } from '../../core/match';
import { sub, type Vec3 } from '../../core/math';
import { boundsOf, centreOf, type UvMesh } from '../../core/mesh';
import { compose, copiesOf, inverse, PLAIN_BRUSH, placeDirection, SEEN_SIDE } from '../../core/paint';
import { matchedReference, type Session, useMatchView, useProject } from '../project';
import { notify, undoable } from '../shared/notify';
import { jobPool } from '../shared/platform';
import { useUi } from '../shared/ui-store';
import { chosenParts } from '../viewport';
import { matchOf } from './camera-actions';

/** Colours of a part's palette. */
const PALETTE = 5;

/** What turns away from the camera more than this is left out, and all of what turns toward it more than that is in: cosines as `facing` has them, (1 + cos) / 2. */
const FACING = { low: 0.58, high: 0.72, gamma: 1 } as const;

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
  const light = lightInUse(document);
  const { key } = document.lights.find((l) => l.id === light)!.plan;
  const all = await told(session.matcher.ask('ramps', { key: { direction: key.direction, wrap: key.wrap } }));
  if (!all) return;
  const wanted = new Set(partsWanted());
  const ramps = all.filter(({ part }) => wanted.has(part));
  if (ramps.length === 0) {
    notify('Nothing of these parts is seen in the reference.');
    return;
  }
  const command = layerFromRamps(ramps, light, 'Tones of the reference');
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
  const done = await session.command({ ...command, layer: { ...command.layer, mask }, at: aboveForm() });
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
async function patternOf(session: Session): Promise<Pick<Pattern, 'id' | 'width' | 'height'> | null> {
  const reference = matchedReference();
  const { document } = useProject.getState();
  if (!reference || !document) return null;
  const name = `Through: ${reference.name}`.slice(0, 80);
  const known = document.patterns.find((p) => !p.listed && p.name === name);
  if (known) return known;
  const file = await session.file(reference.id);
  if (!file) return null;
  const { png, width, height } = await jobPool.run('patternPng', { file });
  const done = await session.attach(
    { do: 'add-pattern', pattern: { name, width, height, listed: false } },
    png,
  );
  return done ? { id: done.ids[0]!, width, height } : null;
}

/** How the model is seen through a camera, for strokes that change only what is seen. */
function seenThrough(camera: MatchCamera) {
  const { back } = axesOf(camera);
  return {
    view: cameraRows(camera).map((v, i) =>
      i < 4 ? (v * SEEN_SIDE) / camera.width : i < 8 ? (v * SEEN_SIDE) / camera.height : v,
    ),
    eye: [...back] as [number, number, number],
    hidden: [],
  };
}

/** Toward the camera, so that what is edge on fades out; and how far off, if depth counts. */
function fades(camera: MatchCamera, mesh: UvMesh) {
  const bounds = boundsOf(mesh.positions);
  const toward = sub(camera.position, centreOf(bounds) as Vec3);
  const l = Math.hypot(...toward) || 1;
  const direction: [number, number, number] = [toward[0] / l, toward[1] / l, toward[2] / l];
  const step = { from: 'cue' as const, join: 'multiply' as const, invert: false };
  return [
    { ...step, levels: FACING, cue: { cue: 'facing' as const, direction } },
    // What lies behind the nearest half fades: a hand reaches less far back.
    {
      ...step,
      levels: { low: 0, high: 0.25, gamma: 1 },
      cue: { cue: 'height' as const, direction, from: 0, to: 1 },
    },
  ];
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
  const pattern = await patternOf(session);
  if (!pattern) return;
  const { document } = useProject.getState();
  const added = await session.command({
    do: 'add-layer',
    layer: {
      kind: 'paint',
      name: `Projected: ${reference.name}`.slice(0, 80),
      mask: [...fades(camera, mesh), { from: 'painted' }],
    },
    at: document ? albedoTop(document.layers) : 0,
  });
  const layer = added?.ids[0];
  if (layer === undefined) return;
  // The mask is white where it isn't painted: all of it shows until the hand hides some.
  await session.command({ do: 'fill', layer, channel: 'mask', color: '#ffffff' });
  const done = await session.command(
    strokeThrough(layer, pattern.id, pictureRows(camera, mirror, pattern), seenThrough(camera)),
  );
  useUi.setState({ target: { layer, channel: 'pixels' } });
  if (done)
    notify(
      'The reference lies on what it sees, as a layer. Its mask fades with facing and depth; paint on it to hide or show more.',
    );
}

const albedoTop = (layers: readonly { readonly kind: string; readonly detail?: unknown }[]): number => {
  const first = layers.findIndex((n) => n.kind === 'group' && n.detail !== null);
  return first < 0 ? layers.length : first;
};

function strokeThrough(
  layer: number,
  picture: number,
  view: readonly number[],
  seen: ReturnType<typeof seenThrough>,
): Command {
  return {
    do: 'stroke',
    layer,
    channel: 'pixels',
    guard: null,
    keepAlpha: false,
    stroke: {
      tool: 'through',
      picture,
      view: [...view],
      whole: true,
      seen,
      opacity: 1,
      brush: PLAIN_BRUSH,
      seed: 0,
      up: [0, 1, 0],
      eye: seen.eye,
      nearSide: true,
      runs: [],
    },
  };
}

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
  const added = await session.command({ do: 'add-layer', layer: { kind: 'paint', name }, at });
  const layer = added?.ids[0];
  if (layer === undefined) return;
  if (how === 'along') {
    await session.command({ do: 'fill-along', layer, from: from.id });
  } else if (camera) {
    const pattern = await patternOf(session);
    if (!pattern) return;
    const rows = pictureRows(camera, mirror, pattern);
    const seen = seenThrough(camera);
    const middle = centreOf(boundsOf(mesh.positions)) as Vec3;
    for (const copy of copiesOf({ planes: [{ point: [...middle], normal: [1, 0, 0] }], axis: null }).slice(
      1,
    )) {
      const back = inverse(copy);
      await session.command(
        strokeThrough(layer, pattern.id, compose(rows, back), {
          ...seen,
          view: compose(seen.view, back),
          eye: [...placeDirection(seen.eye, copy)],
        }),
      );
    }
  }
  notify(`“${name}” lies under the projected reference. It is a guess: paint over it where it is wrong.`);
}
