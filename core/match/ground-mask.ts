import { ciede2000, rgbToCielab, type Cielab } from '../color';
import { CoreError } from '../errors';

export interface Rows {
  readonly width: number;
  readonly height: number;
  readonly rgba: Uint8Array;
}

/** Pixels of the ground differ from the next by no more than this, and from the border's by no more than that, CIEDE2000: a plain or gently shaded ground (common practice). */
const NEXT = 2.2;
const FAR = 22;

/** A ground or a figure that takes less of the picture than this was not told apart. */
const LEAST = 0.01;

/**
 * What of a picture belongs to the figure on a plain ground: all that can't be reached from the picture's border over pixels that hardly
 * differ from one to the next. A picture with transparent places has its own answer.
 *
 * @returns 1 a pixel of the figure
 * @throws CoreError `bad-argument` where nothing tells the figure from its ground
 */
export function maskFromGround({ width, height, rgba }: Rows): Uint8Array {
  const count = width * height;
  let clear = 0;
  for (let i = 0; i < count; i++) if (rgba[i * 4 + 3]! < 128) clear++;
  if (clear > count * LEAST) {
    const own = Uint8Array.from({ length: count }, (_, i) => (rgba[i * 4 + 3]! >= 128 ? 1 : 0));
    return checked(own);
  }
  const labs = new Map<number, Cielab>();
  const labOf = (i: number): Cielab => {
    const key = (rgba[i * 4]! << 16) | (rgba[i * 4 + 1]! << 8) | rgba[i * 4 + 2]!;
    let lab = labs.get(key);
    if (!lab) labs.set(key, (lab = rgbToCielab({ r: key >> 16, g: (key >> 8) & 255, b: key & 255 })));
    return lab;
  };
  /** For each pixel of the ground the border pixel from which it was reached. */
  const from = new Int32Array(count).fill(-1);
  const queue = new Int32Array(count);
  let [head, tail] = [0, 0];
  const reach = (i: number, border: number): void => {
    from[i] = border;
    queue[tail++] = i;
  };
  for (let x = 0; x < width; x++) {
    for (const y of [0, height - 1]) if (from[y * width + x]! < 0) reach(y * width + x, y * width + x);
  }
  for (let y = 0; y < height; y++) {
    for (const x of [0, width - 1]) if (from[y * width + x]! < 0) reach(y * width + x, y * width + x);
  }
  while (head < tail) {
    const i = queue[head++]!;
    const x = i % width;
    const here = labOf(i);
    const border = labOf(from[i]!);
    for (const [next, isThere] of [
      [i - 1, x > 0],
      [i + 1, x < width - 1],
      [i - width, i >= width],
      [i + width, i < count - width],
    ] as const) {
      if (!isThere || from[next]! >= 0) continue;
      const lab = labOf(next);
      if (ciede2000(here, lab).deltaE > NEXT || ciede2000(border, lab).deltaE > FAR) continue;
      reach(next, from[i]!);
    }
  }
  // The border itself counts as ground whatever it looks like.
  return checked(
    Uint8Array.from(from, (border) => (border < 0 ? 1 : 0)),
    (2 * (width + height)) / count,
  );
}

/** @param given the part of the picture that is ground in any case. @throws CoreError `bad-argument` */
function checked(mask: Uint8Array, given = 0): Uint8Array {
  const share = mask.reduce((n, m) => n + m, 0) / mask.length;
  if (share >= LEAST && share <= 1 - LEAST - given) return mask;
  throw new CoreError(
    'bad-argument',
    share < LEAST
      ? 'Nothing in the picture stands out of its ground, so no silhouette can be told. Give a mask, or a picture on a plain ground of another colour.'
      : 'The picture has no plain ground around the figure, so no silhouette can be told. Give a mask of what belongs to the model.',
  );
}
