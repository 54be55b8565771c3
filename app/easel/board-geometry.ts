import type { BoardPlace, Reference } from '../../core/document';

export interface Point {
  readonly x: number;
  readonly y: number;
}

/** How a board is looked at: the unit of the board in CSS pixels, and where its origin lies. */
export interface BoardView {
  readonly x: number;
  readonly y: number;
  readonly zoom: number;
}

interface Size {
  readonly width: number;
  readonly height: number;
}

/** The view in which one picture, or all of some, just fit. */
export function fitPictures(pictures: readonly Reference[], { width, height }: Size): BoardView {
  const corners = pictures.flatMap(cornersOf);
  if (corners.length === 0) return { x: width / 2, y: height / 2, zoom: 1 };
  const xs = corners.map((c) => c.x);
  const ys = corners.map((c) => c.y);
  const [left, right, top, bottom] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const zoom = Math.min(width / (right - left || 1), height / (bottom - top || 1));
  return {
    zoom,
    x: width / 2 - ((left + right) / 2) * zoom,
    y: height / 2 - ((top + bottom) / 2) * zoom,
  };
}

/** Comes nearer (above 1) or goes away, so that what is under a point stays there. */
export function zoomedAt(view: BoardView, at: Point, factor: number): BoardView {
  const zoom = Math.min(200, Math.max(0.002, view.zoom * factor));
  const k = zoom / view.zoom;
  return { zoom, x: at.x - (at.x - view.x) * k, y: at.y - (at.y - view.y) * k };
}

export const toBoard = (view: BoardView, { x, y }: Point): Point => ({
  x: (x - view.x) / view.zoom,
  y: (y - view.y) / view.zoom,
});

/** A point of a picture, pixels from its upper left, on the board. */
function onBoard({ width, height, board }: Reference, { x, y }: Point): Point {
  const px = (x - width / 2) * board.scale * (board.mirror ? -1 : 1);
  const py = (y - height / 2) * board.scale;
  const [cos, sin] = [Math.cos(board.turn), Math.sin(board.turn)];
  return { x: board.x + px * cos - py * sin, y: board.y + px * sin + py * cos };
}

/** Corners of what is seen of a picture, on the board, in order around it from the upper left. */
export function cornersOf(picture: Reference): Point[] {
  const { left, top, right, bottom } = picture.board.crop;
  return (
    [
      [left, top],
      [right, top],
      [right, bottom],
      [left, bottom],
    ] as const
  ).map(([u, v]) => onBoard(picture, { x: u * picture.width, y: v * picture.height }));
}

/** A point of the board in pixels of a picture, from its upper left. */
export function onPicture({ width, height, board }: Reference, at: Point): Point {
  const [dx, dy] = [at.x - board.x, at.y - board.y];
  const [cos, sin] = [Math.cos(board.turn), Math.sin(board.turn)];
  return {
    x: ((dx * cos + dy * sin) / board.scale) * (board.mirror ? -1 : 1) + width / 2,
    y: (dy * cos - dx * sin) / board.scale + height / 2,
  };
}

/** The pixel of a picture at a point of the board; null outside of what is seen of it. */
export function pixelAt(picture: Reference, at: Point): Point | null {
  const { width, height, board } = picture;
  const { x, y } = onPicture(picture, at);
  const { left, top, right, bottom } = board.crop;
  const isSeen = x >= left * width && x < right * width && y >= top * height && y < bottom * height;
  return isSeen ? { x: Math.floor(x), y: Math.floor(y) } : null;
}

/** The picture that lies on top at a point of the board: later ones lie over earlier ones. */
export const pictureAt = (pictures: readonly Reference[], at: Point): Reference | undefined =>
  pictures.findLast((p) => pixelAt(p, at) !== null);

/** A picture turned and scaled by a drag of its corner, about its middle. */
export function turnedAndScaled(board: BoardPlace, from: Point, to: Point, steps: boolean): BoardPlace {
  const [a, b] = [from, to].map((p) => ({
    angle: Math.atan2(p.y - board.y, p.x - board.x),
    far: Math.hypot(p.x - board.x, p.y - board.y),
  })) as [{ angle: number; far: number }, { angle: number; far: number }];
  const raw = board.turn + b.angle - a.angle;
  const step = Math.PI / 12;
  return {
    ...board,
    turn: steps ? Math.round(raw / step) * step : raw,
    scale: Math.min(1000, Math.max(0.001, (board.scale * b.far) / (a.far || 1))),
  };
}

type Crop = BoardPlace['crop'];

/** What of a picture is left at the least, each way. */
const LEAST_SEEN = 0.02;

/** A crop that takes more away at a side, parts of the picture; less than 0 gives back. Something is always left. */
export function cropped(crop: Crop, side: keyof Crop, by: number): Crop {
  switch (side) {
    case 'left':
    case 'top': {
      const far = crop[side === 'left' ? 'right' : 'bottom'];
      return { ...crop, [side]: Math.max(0, Math.min(crop[side] + by, far - LEAST_SEEN)) };
    }
    case 'right':
    case 'bottom': {
      const near = crop[side === 'right' ? 'left' : 'top'];
      return { ...crop, [side]: Math.min(1, Math.max(crop[side] - by, near + LEAST_SEEN)) };
    }
  }
}

/** An angle within half a turn each way, radians. */
export const halfTurns = (angle: number): number => angle - 2 * Math.PI * Math.round(angle / (2 * Math.PI));
