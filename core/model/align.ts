import { subjectBounds, diagonalOf, type Mesh } from '../mesh';
import { IDENTITY, type Placing } from '../math';

/** Boxes whose diagonals and middles differ by no more than these parts of the diagonal stand in the same place. */
const SAME_SIZE = 0.25;
const SAME_PLACE = 0.1;

/** Sides of the boxes may differ by so much in their share of the diagonal, and one is still the other at another size. */
const SAME_SHAPE = 0.05;

export interface Alignment {
  /** Takes the new model to where the old one stands. */
  readonly placing: Placing;
  /** False where the boxes are of another shape as well, so that someone should look. */
  readonly certain: boolean;
  /** How many times larger the new model is. */
  readonly times: number;
}

/** Lays the box around a new model over that of the old one, if it stands elsewhere or came in other units. */
export function alignBoxes(from: Mesh, to: Mesh): Alignment {
  const [a, b] = [from, to].map((m) => subjectBounds(m)) as [
    ReturnType<typeof subjectBounds>,
    ReturnType<typeof subjectBounds>,
  ];
  const [da, db] = [diagonalOf(a), diagonalOf(b)];
  if (!(da > 0 && db > 0)) return { placing: IDENTITY, certain: true, times: 1 };
  const middle = ({ min, max }: typeof a): number[] => min.map((x, k) => (x + max[k]!) / 2);
  const [ma, mb] = [middle(a), middle(b)];
  const apart = Math.hypot(...ma.map((x, k) => x - mb[k]!));
  if (Math.abs(da - db) <= SAME_SIZE * da && apart <= SAME_PLACE * da) {
    return { placing: IDENTITY, certain: true, times: 1 };
  }
  const scale = da / db;
  const sides = ({ min, max }: typeof a, d: number): number[] => min.map((x, k) => (max[k]! - x) / d);
  const [sa, sb] = [sides(a, da), sides(b, db)];
  return {
    placing: [0, 1, 2].flatMap((row) => {
      const columns = [0, 0, 0].map((_, k) => (k === row ? scale : 0));
      return [...columns, ma[row]! - mb[row]! * scale];
    }),
    certain: sa.every((x, k) => Math.abs(x - sb[k]!) <= SAME_SHAPE),
    times: db / da,
  };
}
