import { pieceOnSheet, type UvMesh } from '../../core/mesh';
import { activeSheet, useProject } from '../project';
import { inStages, type ListedCommand } from '../shared/commands';
import { useLayout, wholeShells } from '../shared/layout-store';

/** Changes which islands are chosen. */
function choose(of: (mesh: UvMesh, chosen: ReadonlySet<number>) => Set<number>): void {
  const { mesh } = useProject.getState();
  if (mesh) useLayout.setState(({ chosen }) => ({ chosen: of(mesh, chosen) }));
}

export const unwrapCommands = (): ListedCommand[] =>
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
    ],
  );
