/** A place on a pane, pixels. */
interface Spot {
  readonly x: number;
  readonly y: number;
}

/**
 * The pen drags on a string behind the pointer: what a hand trembles sideways within its length doesn't reach the stroke.
 *
 * @param length pixels; 0: the pen is where the pointer is
 * @returns where the pen is drawn to; null where the string hangs loose
 */
export function pulled<S extends Spot>(pen: Spot, pointer: S, length: number): S | null {
  const [dx, dy] = [pointer.x - pen.x, pointer.y - pen.y];
  const far = Math.hypot(dx, dy);
  if (!(length > 0)) return pointer;
  if (far <= length) return null;
  const by = 1 - length / far;
  return { ...pointer, x: pen.x + dx * by, y: pen.y + dy * by };
}
