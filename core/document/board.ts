import type { BoardPlace, Reference } from './schema';

type Lying = Pick<Reference, 'width' | 'height' | 'board'>;

/** Height at which a picture comes onto the board, units of the board. */
const HEIGHT = 1000;

/** Between two pictures. */
const GAP = 40;

const WHOLE = { left: 0, top: 0, right: 1, bottom: 1 } as const;

/** Half the width that a picture takes on the board, however it is turned. */
function reach({ width, height, board }: Lying): number {
  const [cos, sin] = [Math.abs(Math.cos(board.turn)), Math.abs(Math.sin(board.turn))];
  return ((width * cos + height * sin) * board.scale) / 2;
}

/** A place for another picture: to the right of all that lie there, level with them, and as tall as they usually are. */
export function freePlace(
  references: readonly Lying[],
  { width, height }: { readonly width: number; readonly height: number },
): BoardPlace {
  const scale = HEIGHT / height;
  const right = references.reduce((most, r) => Math.max(most, r.board.x + reach(r) + GAP), -Infinity);
  const x = right === -Infinity ? 0 : right + (width * scale) / 2;
  return { x, y: 0, scale, turn: 0, mirror: false, values: false, crop: WHOLE };
}
