import { type SeenModel } from './see-model';

export interface SmallMask {
  readonly mask: Uint8Array;
  /** It has no holes: then those of the model don't count either, for ground that a figure encloses was taken for the figure. */
  readonly isSolid: boolean;
  readonly width: number;
  readonly height: number;
}

/** A mask in fewer pixels: the nearest of each. */
export function smallerPicture(mask: Uint8Array, width: number, height: number, side: number): SmallMask {
  const k = Math.min(1, side / Math.max(width, height));
  const [w, h] = [Math.max(1, Math.round(width * k)), Math.max(1, Math.round(height * k))];
  const out = new Uint8Array(w * h);
  for (let y = 0; y < h; y++) {
    const from = Math.floor(((y + 0.5) * height) / h) * width;
    for (let x = 0; x < w; x++) out[y * w + x] = mask[from + Math.floor(((x + 0.5) * width) / w)]!;
  }
  const isSolid = filled(out, w, h).every((m, i) => m === out[i]);
  return { mask: out, isSolid, width: w, height: h };
}

export function boxOf({ mask, width, height }: SmallMask) {
  let [x0, y0, x1, y1] = [width, height, -1, -1];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (!mask[y * width + x]) continue;
      x0 = Math.min(x0, x);
      x1 = Math.max(x1, x);
      y0 = Math.min(y0, y);
      y1 = Math.max(y1, y);
    }
  }
  return x1 < 0 ? null : { x0, y0, x1: x1 + 1, y1: y1 + 1 };
}

export function likeness(covered: Uint8Array, mask: Uint8Array): number {
  let [both, either] = [0, 0];
  for (let i = 0; i < mask.length; i++) {
    const is = covered[i]! > 0;
    if (is && mask[i]) both++;
    if (is || mask[i]) either++;
  }
  return either > 0 ? both / either : 0;
}

export function coverageOf({ faces, width, height }: SeenModel, { isSolid }: SmallMask): Uint8Array {
  const out = new Uint8Array(faces.length);
  for (let i = 0; i < faces.length; i++) if (faces[i]! >= 0) out[i] = 1;
  return isSolid ? filled(out, width, height) : out;
}

/** A mask with its holes filled: all that can't be reached from the picture's border. */
function filled(mask: Uint8Array, width: number, height: number): Uint8Array {
  const out = new Uint8Array(mask.length).fill(1);
  const queue: number[] = [];
  const reach = (i: number): void => {
    if (mask[i] || !out[i]) return;
    out[i] = 0;
    queue.push(i);
  };
  for (let x = 0; x < width; x++) {
    reach(x);
    reach((height - 1) * width + x);
  }
  for (let y = 0; y < height; y++) {
    reach(y * width);
    reach(y * width + width - 1);
  }
  while (queue.length > 0) {
    const i = queue.pop()!;
    const x = i % width;
    if (x > 0) reach(i - 1);
    if (x < width - 1) reach(i + 1);
    if (i >= width) reach(i - width);
    if (i < mask.length - width) reach(i + width);
  }
  return out;
}

export function markedOf(marked: Uint8Array): number[] {
  const all: number[] = [];
  for (let i = 0; i < marked.length; i++) if (marked[i]) all.push(i);
  return all;
}

/** The pixel of a list that is nearest to another; -1 if the list is empty. */
export function nearestAmong(pixels: readonly number[], pixel: number, width: number): number {
  const [x, y] = [pixel % width, Math.floor(pixel / width)];
  let [best, least] = [-1, Infinity];
  for (const other of pixels) {
    const dx = (other % width) - x;
    const dy = Math.floor(other / width) - y;
    const d = dx * dx + dy * dy;
    if (d < least) [best, least] = [other, d];
  }
  return best;
}

export const everyFew = (marked: Uint8Array, most: number): number[] => few(markedOf(marked), most);

/** Pixels of a list, evenly thinned. */
export function few(all: readonly number[], most: number): number[] {
  const step = Math.max(1, all.length / most);
  const out: number[] = [];
  for (let k = 0; k < all.length; k += step) out.push(all[Math.floor(k)]!);
  return out;
}

/** Unit vectors out of a mask at its contour: down the slope of the mask averaged over 5 x 5 pixels. */
export function slopesOf(mask: Uint8Array, width: number, height: number): Float32Array {
  const out = new Float32Array(mask.length * 2);
  const at = (x: number, y: number): number =>
    mask[Math.min(height - 1, Math.max(0, y)) * width + Math.min(width - 1, Math.max(0, x))]!;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (!mask[i]) continue;
      let [gx, gy] = [0, 0];
      for (let dy = -2; dy <= 2; dy++) {
        for (let dx = -2; dx <= 2; dx++) {
          const m = at(x + dx, y + dy);
          gx -= dx * m;
          gy -= dy * m;
        }
      }
      const l = Math.hypot(gx, gy);
      if (l > 0) {
        out[i * 2] = gx / l;
        out[i * 2 + 1] = gy / l;
      }
    }
  }
  return out;
}
