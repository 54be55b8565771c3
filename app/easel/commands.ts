import type { BoardPlace, Reference } from '../../core/document';
import { type Session, useProject } from '../project';
import type { ListedCommand } from '../shared/commands';
import { useUi } from '../shared/ui-store';
import { cropped, halfTurns } from './board-geometry';
import { ORDERS, sortSwatches, type Order } from './sort-swatches';
import { addPaletteFiles, mergeAlike } from './palette-import';
import { addPictureColors, USUAL_COLORS } from './picture-palette';
import { removePicture } from './remove-picture';
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

function chosenPicture(): Reference | undefined {
  const references = useProject.getState().document?.references ?? [];
  return references.find((r) => r.id === useUi.getState().reference) ?? references[0];
}

/** Changes how the chosen picture lies on the board. */
function patchPicture(session: Session, change: (board: BoardPlace) => Partial<BoardPlace>): unknown {
  const picture = chosenPicture();
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
    id: 'palette-add-file',
    title: 'Add colours to the palette from a file: design tokens, a strip or a picture',
    keys: '',
    run: () => addPaletteFiles(session),
  },
  {
    id: 'palette-merge',
    title: 'Merge the colours of the palette that look alike',
    keys: '',
    run: () => mergeAlike(session),
  },
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
  ...(['clockwise', 'anticlockwise'] as const).map((way) => ({
    id: `reference-turn-${way}`,
    title: `Turn the chosen reference picture by 90° ${way}`,
    keys: '',
    run: () =>
      patchPicture(session, ({ turn }) => ({
        // Within half a turn each way, as its slider shows it.
        turn: halfTurns(turn + (way === 'clockwise' ? Math.PI / 2 : -Math.PI / 2)),
      })),
  })),
  ...(['left', 'top', 'right', 'bottom'] as const).map((side) => ({
    id: `reference-crop-${side}`,
    title: `Crop the chosen reference picture by a tenth: ${side}`,
    keys: '',
    run: () => patchPicture(session, ({ crop }) => ({ crop: cropped(crop, side, 0.1) })),
  })),
  {
    id: 'reference-uncrop',
    title: 'Chosen reference picture: whole and upright again',
    keys: '',
    run: () => patchPicture(session, () => ({ turn: 0, crop: { left: 0, top: 0, right: 1, bottom: 1 } })),
  },
  {
    id: 'reference-palette',
    title: 'Add the main colours of the chosen reference to the palette',
    keys: '',
    run: () => {
      const picture = chosenPicture();
      if (picture) return addPictureColors(session, [picture], USUAL_COLORS);
    },
  },
  {
    id: 'reference-palette-lasso',
    title: 'Add the colours within a line drawn on the reference to the palette',
    keys: '',
    run: () => useUi.setState({ lassoColors: USUAL_COLORS, arrangesBoard: false, picking: false }),
  },
  {
    id: 'reference-palette-all',
    title: 'Add the main colours of all references to the palette',
    keys: '',
    run: () => addPictureColors(session, useProject.getState().document?.references ?? [], USUAL_COLORS),
  },
  {
    id: 'reference-remove',
    title: 'Remove the chosen reference picture from the easel',
    keys: '',
    run: () => {
      const picture = chosenPicture();
      if (picture) return removePicture(session, picture);
    },
  },
  {
    id: 'reference-pick-size',
    title: 'Pick from references: 1, 5 or 15 pixels across',
    keys: '',
    run: () => useUi.setState(({ pickSize }) => ({ pickSize: pickSize === 1 ? 5 : pickSize === 5 ? 15 : 1 })),
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
