import { pieceOnSheet, type UvMesh } from '../../core/mesh';
import { SHEET_SIZES } from '../../core/surface';
import type { UnwrapOptions } from '../../core/unwrap';
import {
  activeSheet,
  subjectNow,
  removeSheet,
  resizeSheet,
  type Session,
  sheetSizes,
  useProject,
} from '../project';
import { inStages, type ListedCommand } from '../shared/commands';
import { useLayout, wholeComponents, type LayoutTool } from '../shared/layout-store';
import { useUi } from '../shared/ui-store';
import type { ViewportContext } from '../viewport';
import { islandCommands } from './island-commands';
import { keptSeams } from './natural-cut';
import { editLayout, joinSheets, packIslands, tell } from './layout-actions';

/** Changes which islands are chosen. */
function choose(of: (mesh: UvMesh, chosen: ReadonlySet<number>) => Set<number>): void {
  const mesh = subjectNow();
  if (mesh) useLayout.setState(({ chosen }) => ({ chosen: of(mesh, chosen) }));
}

/** What the menu of a sheet offers. */
export const SHEET_ENTRIES = [
  'sheet-rename',
  null,
  ...SHEET_SIZES.filter((size) => size >= 512 && size <= 4096).map((size) => `sheet-size-${size}`),
  null,
  'sheets-join',
  'sheet-remove',
];

export const unwrapCommands = (session: Session, viewport: ViewportContext): ListedCommand[] =>
  inStages(
    ['unwrap'],
    [
      {
        id: 'choose-linked',
        title: 'Chosen islands: all that hang together with them',
        keys: 'w',
        run: () => choose((mesh, chosen) => wholeComponents(mesh, chosen)),
      },
      {
        id: 'choose-all',
        title: 'Choose every island of the sheet',
        keys: 'mod+a',
        run: () => choose((mesh) => new Set(pieceOnSheet(mesh, activeSheet()?.index ?? 0).faces)),
      },
      {
        id: 'choose-none',
        title: 'Choose no island',
        keys: 'mod+shift+a',
        run: () => choose(() => new Set()),
      },
      ...layoutCommands(session, viewport),
    ],
  );

/** The layout and the chosen islands. */
function layoutCommands(session: Session, viewport: ViewportContext): Omit<ListedCommand, 'stages'>[] {
  const chosen = (): number[] => [...useLayout.getState().chosen];
  const layOut = (seams: UnwrapOptions['seams']): void => {
    const { document } = useProject.getState();
    if (!document) return;
    void editLayout(session, 'Lay out the model', {
      do: 'unwrap',
      how: {
        margin: useLayout.getState().margin,
        seams,
        weights: new Map(document.weights),
        kept: keptSeams(document),
        wishes: document.seamWishes,
      },
      sizes: sheetSizes(),
      sheet: document.sheets.length > 1 ? (activeSheet()?.index ?? 0) : null,
    });
  };
  return [
    { id: 'lay-out', title: 'Lay out the model anew', keys: '', run: () => layOut('auto') },
    {
      id: 'unwrap-seams',
      title: 'Unwrap along the seams',
      keys: 'mod+u',
      run: () => {
        const { document } = useProject.getState();
        if (!document) return;
        const how = { seams: document.seams, faces: chosen() };
        void editLayout(session, 'Unwrap along the seams', { do: 'flatten', how });
      },
    },
    {
      id: 'pack-even',
      title: 'Pack the islands evenly',
      keys: 'mod+p',
      run: () => packIslands(session, true),
    },
    { id: 'pack', title: 'Pack the islands as they are', keys: '', run: () => packIslands(session, false) },
    ...islandCommands(session, viewport),
    ...seamCommands(session),
    ...FILES.map(([id, title, save]) => ({
      id,
      title,
      keys: '',
      run: () => import('./layout-files').then((files) => files[save](session)),
    })),
    {
      id: 'sheet-rename',
      title: 'Rename the sheet that is shown',
      keys: 'f2',
      run: () => useUi.setState({ renaming: { of: 'sheet', id: activeSheet()?.index ?? 0 } }),
    },
    ...SHEET_SIZES.map((size) => ({
      id: `sheet-size-${size}`,
      title: `Sheet that is shown: ${size} × ${size}`,
      keys: '',
      run: async () => {
        const sheet = activeSheet();
        if (!sheet || sheet.size === size) return;
        tell(session, `${sheet.name} of ${size}`, await resizeSheet(session, sheet.index, size));
      },
    })),
    {
      id: 'sheets-join',
      title: 'Join all sheets to one',
      keys: '',
      run: () => joinSheets(session),
    },
    {
      id: 'sheet-remove',
      title: 'Remove the sheet that is shown, if nothing lies on it',
      keys: '',
      run: () => removeSheet(session, activeSheet()?.index ?? 0),
    },
  ];
}

const FILES = [
  ['save-layout-svg', 'Download the layout as SVG', 'saveLayoutSvg'],
  ['save-layout-png', 'Download the layout as PNG', 'saveLayoutPng'],
  ['save-layout-glb', 'Download the model with this layout as GLB', 'saveLayoutGlb'],
  ['save-layout-obj', 'Download the model with this layout as OBJ', 'saveLayoutObj'],
] as const;

const TOOL_TITLES: Readonly<Record<LayoutTool, string>> = {
  island: 'Choose islands by click',
  seam: 'Draw seams by click',
  loop: 'Mark loops of edges by click',
  edge: 'Mark single edges by click',
  slide: 'Drag seams over the model',
  wish: 'Paint where seams are wanted, and where not',
};

const WISH_TITLES = {
  never: 'no seam is wanted there',
  gladly: 'a seam is wanted there',
  none: 'seams as it comes',
} as const;

/** Where the surface is cut. */
function seamCommands(session: Session): Omit<ListedCommand, 'stages'>[] {
  const actions = () => import('./seam-actions');
  return [
    ...(Object.keys(TOOL_TITLES) as LayoutTool[]).map((tool) => ({
      id: `layout-tool-${tool}`,
      title: TOOL_TITLES[tool],
      keys: '',
      run: () => actions().then((a) => a.takeTool(tool)),
    })),
    {
      id: 'seams-unmark',
      title: 'Seams: mark or unmark from now on',
      keys: '',
      run: () => useLayout.setState(({ takeOff }) => ({ takeOff: !takeOff, from: null, ahead: [] })),
    },
    {
      id: 'seams-mirror',
      title: 'Seams: the same on the other side, on or off',
      keys: '',
      run: () => useLayout.setState(({ mirror }) => ({ mirror: !mirror })),
    },
    ...(['creases', 'islands', 'parts'] as const).map((run) => ({
      id: `seams-${run}`,
      title: `Seams along ${{ creases: 'creases', islands: 'the present islands', parts: 'the borders of parts' }[run]}`,
      keys: '',
      run: () => actions().then((a) => a.markRun(session, run)),
    })),
    {
      id: 'seams-suggest',
      title: 'Suggest seams',
      keys: '',
      run: () => actions().then((a) => a.suggestSeams()),
    },
    ...(['never', 'gladly', 'none'] as const).map((wish) => ({
      id: `seam-wish-${wish}`,
      title: `Chosen islands: ${WISH_TITLES[wish]}`,
      keys: '',
      run: () => actions().then((a) => a.wishForChosen(session, wish)),
    })),
    {
      id: 'seam-points-clear',
      title: 'Let go of seams that are held',
      keys: '',
      run: () => void session.command({ do: 'set-layout', seamPoints: [] }),
    },
    {
      id: 'seams-cut-through',
      title: 'Cut seams straight, through triangles',
      keys: '',
      run: () => actions().then((a) => a.cutSeamsThrough(session)),
    },
    {
      id: 'seams-clear',
      title: 'Unmark every seam',
      keys: '',
      run: () => actions().then((a) => a.clearSeams(session)),
    },
  ];
}
