import type { BoardPlace } from '../../core/engine';
import { type Session, useProject } from '../project';
import type { ListedCommand } from '../shared/commands';
import { useUi } from '../shared/ui-store';
import { ORDERS, sortSwatches, type Order } from './sort-swatches';
import { removeSwatch } from './swatch-actions';
import { choosePictures } from './bring-pictures';

function step(by: number): void {
  const references = useProject.getState().document?.references ?? [];
  if (references.length === 0) return;
  const at = Math.max(
    0,
    references.findIndex((r) => r.id === useUi.getState().reference),
  );
  useUi.setState({ reference: references[(at + by + references.length) % references.length]!.id });
}

/** Changes how the chosen picture lies on the board. */
function patchPicture(session: Session, change: (board: BoardPlace) => Partial<BoardPlace>): unknown {
  const references = useProject.getState().document?.references ?? [];
  const picture = references.find((r) => r.id === useUi.getState().reference) ?? references[0];
  if (!picture) return undefined;
  const board = { ...picture.board, ...change(picture.board) };
  return session.command({ do: 'patch-reference', reference: picture.id, patch: { board } });
}

export const easelCommands = (session: Session): ListedCommand[] => [
  {
    id: 'reference-values',
    title: 'Reference in values only: on or off',
    keys: 'shift+v',
    run: () => useUi.setState((s) => ({ referenceGrey: !s.referenceGrey })),
  },
  {
    id: 'reference-add',
    title: 'Add reference pictures',
    keys: 'mod+shift+o',
    run: () => choosePictures(session),
  },
  { id: 'reference-next', title: 'Next reference picture', keys: 'period', run: () => step(1) },
  { id: 'reference-previous', title: 'Previous reference picture', keys: 'comma', run: () => step(-1) },
  {
    id: 'reference-arrange',
    title: 'Arrange the pictures on the board: on or off',
    keys: 'shift+a',
    run: () => useUi.setState((s) => ({ arrangesBoard: !s.arrangesBoard })),
  },
  {
    id: 'reference-float',
    title: 'Floating reference: open or close',
    keys: 'shift+r',
    run: () =>
      useUi.setState((s) => ({ floating: s.floating ? null : { x: 40, y: 60, width: 200, height: 240 } })),
  },
  {
    id: 'swatch-add',
    title: 'Add the colour in hand to the palette',
    keys: 'shift+s',
    run: () =>
      session.command({ do: 'add-swatches', swatches: [{ name: '', color: useUi.getState().color }] }),
  },
  ...(Object.keys(ORDERS) as Order[]).map((order) => ({
    id: `swatches-${order}`,
    title: `Sort the palette ${ORDERS[order].toLowerCase()}`,
    keys: '',
    run: () => {
      const palette = useProject.getState().document?.palette ?? [];
      if (palette.length > 1)
        return session.command({ do: 'order-swatches', swatches: sortSwatches(palette, order) });
    },
  })),
  {
    id: 'reference-mirror',
    title: 'Mirror the chosen reference picture',
    keys: '',
    run: () => patchPicture(session, ({ mirror }) => ({ mirror: !mirror })),
  },
  {
    id: 'reference-values-one',
    title: 'Chosen reference picture in values only: on or off',
    keys: '',
    run: () => patchPicture(session, ({ values }) => ({ values: !values })),
  },
  {
    id: 'swatch-replace',
    title: 'Chosen swatch: give it the colour in hand',
    keys: '',
    run: () => {
      const { swatch, color } = useUi.getState();
      if (swatch !== null) return session.command({ do: 'patch-swatch', swatch, patch: { color } });
    },
  },
  {
    id: 'swatch-copy',
    title: 'Copy the colour in hand as hex',
    keys: '',
    run: () => navigator.clipboard.writeText(useUi.getState().color),
  },
  {
    id: 'swatch-remove',
    title: 'Remove the chosen swatch',
    keys: '',
    run: () => removeSwatch(session),
  },
];
