import { pieceOnSheet, type UvMesh } from '../../core/mesh';
import type { UnwrapOptions } from '../../core/unwrap';
import { activeSheet, saveRegion, sheetSizes, type Session, useProject } from '../project';
import { inStages, type ListedCommand } from '../shared/commands';
import {
  DEFAULT_MARGIN,
  editLayout,
  moveAboutMiddle,
  pinChosen,
  splitChosen,
  stackTwins,
} from './layout-actions';
import { useLayout, wholeShells } from '../shared/layout-store';

/** Changes which islands are chosen. */
function choose(of: (mesh: UvMesh, chosen: ReadonlySet<number>) => Set<number>): void {
  const { mesh } = useProject.getState();
  if (mesh) useLayout.setState(({ chosen }) => ({ chosen: of(mesh, chosen) }));
}

export const unwrapCommands = (session: Session): ListedCommand[] =>
  inStages(
    ['unwrap'],
    [
      {
        id: 'choose-linked',
        title: 'Chosen islands: all that hang together with them',
        keys: 'w',
        run: () => choose((mesh, chosen) => wholeShells(mesh, chosen)),
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
      ...layoutCommands(session),
    ],
  );

/** The layout and the chosen islands. */
function layoutCommands(session: Session): Omit<ListedCommand, 'stages'>[] {
  const chosen = (): number[] => [...useLayout.getState().chosen];
  const layOut = (seams: UnwrapOptions['seams']): void => {
    const { document } = useProject.getState();
    if (!document) return;
    void editLayout(session, 'Lay out the model', {
      do: 'unwrap',
      how: { margin: DEFAULT_MARGIN, seams, weights: new Map(document.weights) },
      sizes: sheetSizes(),
      sheet: document.sheets.length > 1 ? (activeSheet()?.index ?? 0) : null,
    });
  };
  const pack = (even: boolean): void => {
    const { document } = useProject.getState();
    if (!document) return;
    void editLayout(session, 'Pack the islands', {
      do: 'pack',
      how: {
        margin: DEFAULT_MARGIN,
        even,
        turn: true,
        weights: new Map(document.weights),
        pins: document.pins,
      },
      sizes: sheetSizes(),
      sheet: activeSheet()?.index ?? 0,
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
    { id: 'pack-even', title: 'Pack the islands evenly', keys: 'mod+p', run: () => pack(true) },
    { id: 'pack', title: 'Pack the islands as they are', keys: '', run: () => pack(false) },
    {
      id: 'islands-straighten',
      title: 'Straighten the chosen islands',
      keys: '',
      run: () => void editLayout(session, 'Straighten', { do: 'straighten', faces: chosen() }),
    },
    {
      id: 'islands-turn',
      title: 'Turn the chosen islands by 90°',
      keys: '',
      run: () => moveAboutMiddle(session, 'Turn islands', { turn: Math.PI / 2 }),
    },
    {
      id: 'islands-twins',
      title: 'Stack mirrored twins',
      keys: '',
      run: () => void stackTwins(session, chosen()),
    },
    {
      id: 'islands-region',
      title: 'Keep the chosen islands as a region',
      keys: '',
      run: () => saveRegion(session, chosen()),
    },
    {
      id: 'islands-part',
      title: 'Make a part of the chosen islands',
      keys: '',
      run: () => void splitChosen(session),
    },
    {
      id: 'islands-pin',
      title: 'Pin the chosen islands, or let them go',
      keys: '',
      run: () => pinChosen(session),
    },
  ];
}
