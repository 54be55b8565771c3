import { commandLabel, paintedChannel, type CheckedCommand } from '../../commands';
import { CoreError } from '../../errors';
import type { Channel } from '../../layers';
import { StrokeReplayer } from '../../model';
import { SAMPLE_STRIDE, type Stroke, type ToolName } from '../../paint';
import { IDENTITY, placed, scaleOf, type Placing } from '../../math';
import { sameTile, type TileState } from '../../pixels';
import type { CommandHow } from '../commit';
import type { ProjectState } from '../project-state';

/** Points of a stroke's way that are told at the most. */
const MOST_POINTS = 32;

/** A stroke as it is listed. */
export interface StrokeSummary {
  /** Its number among all of its plane. */
  readonly number: number;
  readonly tool: ToolName;
  readonly erases: boolean;
  /** Null where the tool lays no colour of its own. */
  readonly color: string | null;
  readonly opacity: number;
  /** Half its width at its widest, model units; 0 where it has no samples. */
  readonly radius: number;
  /** Some places of its way, xyz each. */
  readonly way: readonly number[];
}

type EditCommand = Extract<CheckedCommand, { do: 'edit-strokes' }>;

/** Strokes of a plane that lie on its base, the oldest first: those that can be changed. */
export function listStrokes(
  { document, planes }: ProjectState,
  layer: number,
  channel: Channel,
): StrokeSummary[] {
  const plane = paintedChannel(document, layer, channel);
  const under = document.bases.find((b) => b.plane === plane)?.strokes ?? 0;
  return planes
    .strokesOf(plane)
    .map((stroke, number) =>
      summaryOf(stroke, number, document.frames.find((f) => f.id === stroke.frame)?.placing ?? IDENTITY),
    )
    .slice(under);
}

function summaryOf(stroke: Stroke, number: number, placing: Placing): StrokeSummary {
  const all = stroke.runs.flat();
  const count = all.length / SAMPLE_STRIDE;
  const step = Math.max(1, Math.ceil(count / MOST_POINTS));
  const way: number[] = [];
  let radius = 0;
  for (let i = 0; i < count; i++) {
    const o = i * SAMPLE_STRIDE;
    radius = Math.max(radius, all[o + 6]!);
    if (i % step === 0 || i === count - 1) way.push(...placed([all[o]!, all[o + 1]!, all[o + 2]!], placing));
  }
  return {
    number,
    tool: stroke.tool,
    erases: 'erase' in stroke && stroke.erase,
    color: 'color' in stroke ? stroke.color : null,
    opacity: stroke.opacity,
    radius: radius * scaleOf(placing),
    way,
  };
}

/**
 * Changes strokes that were made, or removes them, and paints their layer again from what lies under its strokes.
 *
 * @returns the step's number
 * @throws CoreError `bad-argument` if a stroke isn't there, or lies under what was painted or resampled since
 */
export function editStrokes(state: ProjectState, command: EditCommand, how: CommandHow): number {
  const { document, planes, surface, kernels } = state;
  const { layer, channel, change } = command;
  const plane = paintedChannel(document, layer, channel);
  const all = planes.strokesOf(plane);
  const under = document.bases.find((b) => b.plane === plane)?.strokes ?? 0;
  const chosen = new Set(command.strokes);
  const first = Math.min(...chosen);
  const last = Math.max(...chosen);
  if (first < under || last >= all.length) {
    throw new CoreError(
      'bad-argument',
      'Some of these strokes can’t be changed any more: they were merged, filled over or resampled since.',
    );
  }
  const before = all.slice(first, last + 1);
  const after = before.flatMap((stroke, i) =>
    chosen.has(first + i) ? (change === 'remove' ? [] : [changed(stroke, change)]) : [stroke],
  );
  // From what lies under the strokes.
  const next = new Map(planes.paintOf(document, plane).base);
  const replayer = new StrokeReplayer(surface, kernels, {
    ...document,
    files: state.files,
    motions: state.motions,
  });
  replayer.replay([...all.slice(under, first), ...after, ...all.slice(last + 1)], next);
  const present = new Map([...state.pixels.states(plane)].map(({ tile, bytes }) => [tile, bytes]));
  const differing = [...new Set([...present.keys(), ...next.keys()])].filter(
    (tile) => !sameTile(present.get(tile), next.get(tile)),
  );
  const states = differing.map((tile): TileState => ({ plane, tile, bytes: next.get(tile) ?? null }));
  const was = differing.map((tile): TileState => ({ plane, tile, bytes: present.get(tile) ?? null }));
  return state.record({
    label: commandLabel(command, document),
    kind: `edit-strokes ${plane} ${command.strokes.join()}`,
    after: document,
    tiles: states,
    baseTiles: planes.baseBefore(document, plane, was),
    edit: { plane, at: first, before, after },
    ...how,
  });
}

function changed(stroke: Stroke, change: Exclude<EditCommand['change'], 'remove'>): Stroke {
  const { color, opacity, size } = change;
  return {
    ...stroke,
    ...(color !== undefined && 'color' in stroke && { color }),
    ...(opacity !== undefined && { opacity }),
    ...(size !== undefined && { runs: stroke.runs.map((run) => scaled(run, size)) }),
  };
}

/** Samples of a stroke that is so many times as wide. */
const scaled = (run: readonly number[], by: number): number[] =>
  run.map((x, i) => (i % SAMPLE_STRIDE === 6 ? Number((x * by).toPrecision(7)) : x));
