/** A place on a pane, pixels. */
interface Spot {
  readonly x: number;
  readonly y: number;
}

/** An angle of fifteen degrees. */
const STEP = Math.PI / 12;

/** The end of a line that may only lie in steps of fifteen degrees, as far from its beginning. */
export function stepped<S extends Spot>(from: Spot, to: S): S {
  const far = Math.hypot(to.x - from.x, to.y - from.y);
  const angle = Math.round(Math.atan2(to.y - from.y, to.x - from.x) / STEP) * STEP;
  return { ...to, x: from.x + Math.cos(angle) * far, y: from.y + Math.sin(angle) * far };
}

/** Pixels between two points of an arc. */
const PIECE = 4;

/** Pixels by which an arc must stand off its chord to be one. */
const FLAT = 0.5;

/** Points of the arc of a circle from one place to another, through a third; of the line between them where the three lie on one. */
export function arcThrough(from: Spot, to: Spot, bend: Spot): Spot[] {
  const [ax, ay] = [to.x - from.x, to.y - from.y];
  const [bx, by] = [bend.x - from.x, bend.y - from.y];
  const cross = ax * by - ay * bx;
  const chord = Math.hypot(ax, ay);
  if (Math.abs(cross) < FLAT * chord || chord === 0) return [from, to];
  // The circle through three points, seen from the first.
  const [a2, b2] = [ax * ax + ay * ay, bx * bx + by * by];
  const x = (by * a2 - ay * b2) / (2 * cross);
  const y = (ax * b2 - bx * a2) / (2 * cross);
  const radius = Math.hypot(x, y);
  const begin = Math.atan2(-y, -x);
  const end = Math.atan2(ay - y, ax - x);
  const turn = 2 * Math.PI;
  // From the beginning to the end on that side on which the third lies.
  const wrapped = (angle: number): number => ((angle % turn) + turn) % turn;
  const ahead = wrapped(end - begin);
  const sweep = cross < 0 ? ahead : ahead - turn;
  const pieces = Math.min(400, Math.max(8, Math.ceil((Math.abs(sweep) * radius) / PIECE)));
  return Array.from({ length: pieces + 1 }, (_, i) => {
    const angle = begin + (sweep * i) / pieces;
    return { x: from.x + x + Math.cos(angle) * radius, y: from.y + y + Math.sin(angle) * radius };
  });
}
