import {
  alignMoves,
  snapMoves,
  spreadMoves,
  type IslandMoves,
  type Projection,
  type SheetBox,
} from '../../core/unwrap';
import { activeSheet, subjectNow, saveRegion, type Session, sheetSizes, useProject } from '../project';
import type { ListedCommand } from '../shared/commands';
import { islandsFor, useLayout, wholeIslands } from '../shared/layout-store';
import type { ViewportContext } from '../viewport';
import {
  boxOnSheet,
  editLayout,
  moveAboutMiddle,
  moveEach,
  pinChosen,
  splitChosen,
  stackTwins,
  takeTwinsApart,
} from './layout-actions';

type Command = Omit<ListedCommand, 'stages'>;

/** What the right button offers for an island. */
export const ISLAND_ENTRIES = [
  'choose-linked',
  'islands-whole-part',
  null,
  'islands-turn',
  'islands-straighten',
  'islands-pin',
  'islands-twins',
  'islands-apart',
  null,
  'islands-region',
  'islands-part',
] as const;

/** Ways to project islands onto the sheet anew, by the ends of their commands' ids. */
export const PROJECTIONS: Readonly<Record<string, Projection>> = {
  front: { kind: 'plane', right: [1, 0, 0], up: [0, 1, 0] },
  side: { kind: 'plane', right: [0, 0, -1], up: [0, 1, 0] },
  top: { kind: 'plane', right: [1, 0, 0], up: [0, 0, -1] },
  box: { kind: 'box' },
  cylinder: { kind: 'cylinder' },
  ball: { kind: 'sphere' },
};

const chosenFaces = (): number[] => [...useLayout.getState().chosen];

/** Moves each chosen island in its own way. @param moves by the islands' boxes */
function each(
  session: Session,
  label: string,
  moves: (boxes: Map<number, SheetBox>, size: number) => IslandMoves,
): void {
  const mesh = subjectNow();
  const { chosen } = useLayout.getState();
  const sheet = activeSheet();
  if (!mesh || !sheet || chosen.size === 0) return;
  const { ofFace } = islandsFor(mesh);
  const lists = new Map<number, number[]>();
  for (const f of chosen) lists.set(ofFace[f]!, [...(lists.get(ofFace[f]!) ?? []), f]);
  const boxes = new Map([...lists].map(([island, list]) => [island, boxOnSheet(mesh, list)]));
  const made = moves(boxes, sheet.size);
  void moveEach(session, label, (f) => (chosen.has(f) ? made.get(ofFace[f]!)! : null));
}

function project(session: Session, label: string, projection: Projection): void {
  const faces = chosenFaces();
  if (faces.length) void editLayout(session, label, { do: 'project', faces, projection });
}

function chooseWholeParts(): void {
  const mesh = subjectNow();
  if (!mesh) return;
  const parts = new Set(chosenFaces().map((f) => mesh.faceParts[f]));
  const faces = [...mesh.faceParts.keys()].filter((f) => parts.has(mesh.faceParts[f]));
  useLayout.setState({ chosen: wholeIslands(mesh, faces) });
}

/** What can be done with the chosen islands. */
export function islandCommands(session: Session, viewport: ViewportContext): Command[] {
  const align = (id: string, edge: keyof SheetBox, where: string): Command => ({
    id: `islands-align-${id}`,
    title: `Align the chosen islands ${where}`,
    keys: '',
    run: () => each(session, `Align ${where}`, (boxes) => alignMoves(boxes, edge)),
  });
  return [
    {
      id: 'islands-turn',
      title: 'Turn the chosen islands by 90°',
      keys: '',
      run: () => moveAboutMiddle(session, 'Turn islands', { turn: Math.PI / 2 }),
    },
    {
      id: 'islands-flip-across',
      title: 'Flip the chosen islands sideways',
      keys: '',
      run: () => moveAboutMiddle(session, 'Flip islands', { scaleU: -1 }),
    },
    {
      id: 'islands-flip-upward',
      title: 'Flip the chosen islands upside down',
      keys: '',
      run: () => moveAboutMiddle(session, 'Flip islands', { scaleV: -1 }),
    },
    {
      id: 'islands-snap',
      title: 'Snap the chosen islands to texels',
      keys: '',
      run: () => each(session, 'Snap to texels', snapMoves),
    },
    align('left', 'left', 'at their left edge'),
    align('right', 'right', 'at their right edge'),
    align('upper', 'high', 'at their upper edge'),
    align('lower', 'low', 'at their lower edge'),
    {
      id: 'islands-spread-across',
      title: 'Spread the chosen islands sideways, with even gaps',
      keys: '',
      run: () => each(session, 'Spread sideways', (boxes) => spreadMoves(boxes, 'across')),
    },
    {
      id: 'islands-spread-upward',
      title: 'Spread the chosen islands upward, with even gaps',
      keys: '',
      run: () => each(session, 'Spread upward', (boxes) => spreadMoves(boxes, 'upward')),
    },
    {
      id: 'islands-twins',
      title: 'Stack mirrored twins',
      keys: '',
      run: () => stackTwins(session, chosenFaces()),
    },
    {
      id: 'islands-apart',
      title: 'Separate twins',
      keys: '',
      run: () => takeTwinsApart(session, chosenFaces()),
    },
    {
      id: 'islands-straighten',
      title: 'Straighten the chosen islands',
      keys: '',
      run: () => editLayout(session, 'Straighten', { do: 'straighten', faces: chosenFaces() }),
    },
    {
      id: 'islands-borders',
      title: 'Straight borders of the chosen islands, or of all, onto whole texels',
      keys: '',
      run: () =>
        editLayout(session, 'Borders onto texels', {
          do: 'snap-borders',
          faces: chosenFaces(),
          sizes: sheetSizes(),
        }),
    },
    {
      id: 'islands-slant',
      title: 'A slight hand slant for the chosen islands, or for all',
      keys: '',
      run: () =>
        editLayout(session, 'Hand slant', {
          do: 'slant',
          faces: chosenFaces(),
          sizes: sheetSizes(),
          slant: { degrees: 2, seed: useProject.getState().history.done },
        }),
    },
    {
      id: 'islands-pin',
      title: 'Pin the chosen islands, or let them go',
      keys: '',
      run: () => pinChosen(session),
    },
    {
      id: 'islands-whole-part',
      title: 'Choose every island of the same parts',
      keys: '',
      run: chooseWholeParts,
    },
    {
      id: 'islands-part',
      title: 'Make a part of the chosen islands',
      keys: '',
      run: () => splitChosen(session),
    },
    {
      id: 'islands-region',
      title: 'Keep the chosen islands as a region',
      keys: '',
      run: () => saveRegion(session, chosenFaces()),
    },
    {
      id: 'islands-project-view',
      title: 'Project the chosen islands from the present view',
      keys: '',
      run: () => {
        const [right, up] = viewport.view?.axes() ?? [
          [1, 0, 0],
          [0, 1, 0],
        ];
        project(session, 'Project from the view', { kind: 'plane', right, up });
      },
    },
    ...Object.entries(PROJECTIONS).map(([name, projection]) => ({
      id: `islands-project-${name}`,
      title: `Project the chosen islands: ${name}`,
      keys: '',
      run: () => project(session, `Project: ${name}`, projection),
    })),
  ];
}
