import { ciede2000, rgbToCielab, type Cielab } from '../../color';
import { CoreError } from '../../errors';
import { nearestTo } from '../camera/silhouette';

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
  const ring = borderOf(width, height);
  const isGround = groundOfBorder(ring.map(labOf));
  ring.forEach((i, k) => {
    if (isGround[k] && from[i]! < 0) reach(i, i);
  });
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
      if (!isNear(here, lab, NEXT) || !isNear(border, lab, FAR)) continue;
      reach(next, from[i]!);
    }
  }
  // The border itself counts as ground whatever it looks like.
  return checked(
    Uint8Array.from(from, (border) => (border < 0 ? 1 : 0)),
    (2 * (width + height)) / count,
  );
}

/** Nearer than this in CIELAB, two colours are well within both limits whatever their hue. */
const SURELY = 1.2;

/** Whether two colours differ by no more than so much, CIEDE2000. */
const isNear = (one: Cielab, other: Cielab, limit: number): boolean =>
  (one.L - other.L) ** 2 + (one.a - other.a) ** 2 + (one.b - other.b) ** 2 < SURELY ** 2 ||
  ciede2000(one, other).deltaE <= limit;

/** Enclosed ground looks like the nearest ground beside the figure within this, CIEDE2000. */
const POCKET = 5;

/** Pockets smaller than this part of the picture stay with the figure. */
const LEAST_POCKET = 1 / 8000;

/** The model covers less of a pocket than this. */
const OPEN = 0.35;

/**
 * A mask with the ground taken out that the figure encloses: an arm on the hip. What looks like ground is ground where the model leaves
 * it open; on the model it is a part that happens to have that colour.
 *
 * @param covered 1 a pixel that the model covers, seen through the picture's camera
 */
export function withoutPockets(
  { width, height, rgba }: Rows,
  mask: Uint8Array,
  covered: Uint8Array,
): Uint8Array {
  const ground = mask.map((m) => 1 - m);
  const nearest = nearestTo(ground, width, height);
  const labOf = (i: number): Cielab =>
    rgbToCielab({ r: rgba[i * 4]!, g: rgba[i * 4 + 1]!, b: rgba[i * 4 + 2]! });
  const known = new Map<number, Cielab>();
  const groundLab = (i: number): Cielab => {
    let lab = known.get(i);
    if (!lab) known.set(i, (lab = labOf(i)));
    return lab;
  };
  const like = mask.map((m, i) =>
    m && !covered[i] && nearest[i]! >= 0 && isNear(labOf(i), groundLab(nearest[i]!), POCKET) ? 1 : 0,
  );
  const out = mask.slice();
  const done = new Uint8Array(mask.length);
  for (let start = 0; start < mask.length; start++) {
    if (!like[start] || done[start]) continue;
    const pocket = [start];
    done[start] = 1;
    let hidden = 0;
    // It grows while it is gone through.
    for (const i of pocket) {
      if (covered[i]) hidden++;
      const x = i % width;
      const here = labOf(i);
      for (const [next, isThere] of [
        [i - 1, x > 0],
        [i + 1, x < width - 1],
        [i - width, i >= width],
        [i + width, i < mask.length - width],
      ] as const) {
        if (!isThere || done[next] || !mask[next] || !isNear(here, labOf(next), NEXT)) continue;
        done[next] = 1;
        pocket.push(next);
      }
    }
    if (pocket.length >= mask.length * LEAST_POCKET && hidden < pocket.length * OPEN)
      for (const i of pocket) out[i] = 0;
  }
  return out;
}

/** All pixels along the picture's border, once around. */
function borderOf(width: number, height: number): number[] {
  const out: number[] = [];
  for (let x = 0; x < width; x++) out.push(x);
  for (let y = 1; y < height; y++) out.push(y * width + width - 1);
  for (let x = width - 2; x >= 0 && height > 1; x--) out.push((height - 1) * width + x);
  for (let y = height - 2; y > 0 && width > 1; y--) out.push(y * width);
  return out;
}

/** Where the figure is cut off by the border, that isn't ground: what differs by more than this from all that is, CIEDE2000. */
const ALIKE = 9;

/** The longest stretch is the ground only if it is at least this part of the border. */
const LEAST_STRETCH = 0.25;

/** So many of its colours stand for a stretch. */
const SAMPLES = 24;

/** Which of the border's pixels are ground: its longest stretch without a step, and what looks like that. */
function groundOfBorder(labs: readonly Cielab[]): boolean[] {
  const steps = labs.map((lab, k) => !isNear(labs[(k + labs.length - 1) % labs.length]!, lab, NEXT));
  const first = steps.indexOf(true);
  if (first < 0) return labs.map(() => true);
  let [longest, from, start] = [0, 0, first];
  for (let n = 1; n <= labs.length; n++) {
    const k = (first + n) % labs.length;
    if (!steps[k]) continue;
    const length = first + n - start;
    if (length > longest) [longest, from] = [length, start];
    start = first + n;
  }
  if (longest < labs.length * LEAST_STRETCH) return labs.map(() => true);
  const known = Array.from(
    { length: SAMPLES },
    (_, i) => labs[(from + Math.floor((i * longest) / SAMPLES)) % labs.length]!,
  );
  return labs.map((lab) => known.some((other) => isNear(lab, other, ALIKE)));
}

/** @param given the part of the picture that is ground in any case. @throws CoreError `bad-argument` */
function checked(mask: Uint8Array, given = 0): Uint8Array {
  const share = mask.reduce((n, m) => n + m, 0) / mask.length;
  if (share >= LEAST && share <= 1 - LEAST - given) return mask;
  throw new CoreError(
    'bad-argument',
    share < LEAST
      ? 'Nothing in the picture stands out of its ground, so no silhouette can be told: it is empty, or shows only a part of the figure up to its border. Give a mask, or a picture on a plain ground of another colour.'
      : 'The picture has no plain ground around the figure, so no silhouette can be told. Give a mask of what belongs to the model.',
  );
}
