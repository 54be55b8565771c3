import { hexToRgb } from '../core/color';
import type { Picture } from '../core/formats';

type Point = readonly [x: number, y: number];

/** Letters as a painter brushes them through a stencil: lines on a field of 4 by 6, y downward. */
const LETTERS: Readonly<Record<string, readonly (readonly Point[])[]>> = {
  T: [
    [
      [0, 0],
      [4, 0],
    ],
    [
      [2, 0],
      [2, 6],
    ],
  ],
  U: [
    [
      [0, 0],
      [0, 4.4],
      [0.6, 5.6],
      [2, 6],
      [3.4, 5.6],
      [4, 4.4],
      [4, 0],
    ],
  ],
  R: [
    [
      [0, 6],
      [0, 0],
      [2.6, 0],
      [3.7, 0.6],
      [3.9, 1.6],
      [3.6, 2.6],
      [2.5, 3.1],
      [0, 3.1],
    ],
    [
      [2, 3.1],
      [4, 6],
    ],
  ],
  N: [
    [
      [0, 6],
      [0, 0],
      [4, 6],
      [4, 0],
    ],
  ],
  I: [
    [
      [2, 0],
      [2, 6],
    ],
  ],
  P: [
    [
      [0, 6],
      [0, 0],
      [2.6, 0],
      [3.8, 0.7],
      [3.9, 1.8],
      [3.6, 2.8],
      [2.5, 3.3],
      [0, 3.3],
    ],
  ],
  S: [
    [
      [3.8, 0.9],
      [3, 0.2],
      [1.4, 0],
      [0.3, 0.7],
      [0.2, 1.8],
      [1.1, 2.6],
      [2.9, 3.3],
      [3.8, 4.2],
      [3.7, 5.3],
      [2.6, 6],
      [1, 5.9],
      [0.1, 5.1],
    ],
  ],
};

/** From one letter to the next, and half the width of a line. */
const STEP = 5.6;
const HALF = 0.52;

/** Pixels a unit of the field. */
const SCALE = 18;

/** Words as a picture on a transparent ground, drawn by code. */
export function pictureOfLetters(text: string, color: string): Picture {
  const { r, g, b } = hexToRgb(color);
  const width = Math.ceil((text.length * STEP - (STEP - 4) + 4 * HALF) * SCALE);
  const height = Math.ceil((6 + 4 * HALF) * SCALE);
  const lines = [...text].flatMap((letter, i) =>
    (LETTERS[letter] ?? []).map((line) =>
      line.map(([x, y]): Point => [x + i * STEP + 2 * HALF, y + 2 * HALF]),
    ),
  );
  const rgba = new Uint8Array(width * height * 4);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at: Point = [(x + 0.5) / SCALE, (y + 0.5) / SCALE];
      const d = Math.min(...lines.map((line) => toLine(at, line)));
      // Smooth over one pixel.
      const alpha = Math.min(1, Math.max(0, (HALF - d) * SCALE + 0.5));
      rgba.set([r, g, b, Math.round(alpha * 255)], (y * width + x) * 4);
    }
  }
  return { width, height, rgba };
}

function toLine([x, y]: Point, line: readonly Point[]): number {
  let least = Infinity;
  line.slice(1).forEach(([bx, by], i) => {
    const [ax, ay] = line[i]!;
    const [dx, dy] = [bx - ax, by - ay];
    const t = Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy)));
    least = Math.min(least, Math.hypot(x - ax - dx * t, y - ay - dy * t));
  });
  return least;
}
