import { CoreError } from '../../errors';
import { maskFromGround, withoutPockets, type Rows } from './ground-mask';
import type { MaskMark, PictureMatch } from '../camera/on-picture';

/** What of a picture belongs to the model, and which part of it where that was told. */
export interface PictureMask {
  /** 1 a pixel that does. */
  readonly mask: Uint8Array;
  /** 1 a pixel that is compared at all. */
  readonly within: Uint8Array;
  /** Number of a part; -1 where none was told. */
  readonly partMask: Int16Array;
  /** Why the ground told nothing; empty where it did. Then all that is within counts as the model's, but for what was painted out. */
  readonly problem: string;
}

/**
 * A reference's mask: what its ground tells, within its crop, with the marks of a brush over it.
 *
 * @param picture mirrored already, if it is
 * @param scale pixels of this picture a pixel of the reference, in whose pixels marks are told
 * @param covered 1 a pixel that the model covers, where the camera is known: tells pockets of ground from parts
 */
export function pictureMask(
  picture: Rows,
  match: PictureMatch,
  parts: readonly string[],
  scale: number,
  covered: Uint8Array | null,
): PictureMask {
  const { width, height } = picture;
  const within = croppedTo(match.crop, width, height);
  let mask: Uint8Array;
  let problem = '';
  try {
    const cut = cutOut(picture, match.crop);
    const own = maskFromGround(cut.rows);
    mask = new Uint8Array(width * height);
    for (let y = 0; y < cut.rows.height; y++) {
      mask.set(own.subarray(y * cut.rows.width, (y + 1) * cut.rows.width), (y + cut.y) * width + cut.x);
    }
    if (covered) mask = withoutPockets(picture, mask, covered);
  } catch (error) {
    if (!(error instanceof CoreError)) throw error;
    problem = error.message;
    mask = within.slice();
  }
  const partMask = new Int16Array(width * height).fill(-1);
  for (const mark of match.mask) layMark(mark, parts, scale, width, height, mask, partMask);
  mask.forEach((m, i) => {
    if (!m || !within[i]) {
      mask[i] = 0;
      partMask[i] = -1;
    }
  });
  return { mask, within, partMask, problem };
}

interface Box {
  readonly x: number;
  readonly y: number;
  readonly rows: Rows;
}

function edges({ left, top, right, bottom }: PictureMatch['crop'], width: number, height: number) {
  const x0 = Math.min(width - 1, Math.floor(left * width));
  const y0 = Math.min(height - 1, Math.floor(top * height));
  return {
    x0,
    y0,
    x1: Math.max(x0 + 1, Math.ceil(right * width)),
    y1: Math.max(y0 + 1, Math.ceil(bottom * height)),
  };
}

function croppedTo(crop: PictureMatch['crop'], width: number, height: number): Uint8Array {
  const { x0, y0, x1, y1 } = edges(crop, width, height);
  const out = new Uint8Array(width * height);
  for (let y = y0; y < y1; y++) out.fill(1, y * width + x0, y * width + x1);
  return out;
}

function cutOut({ rgba, width, height }: Rows, crop: PictureMatch['crop']): Box {
  const { x0, y0, x1, y1 } = edges(crop, width, height);
  const [w, h] = [x1 - x0, y1 - y0];
  const out = new Uint8Array(w * h * 4);
  for (let y = 0; y < h; y++) {
    const from = ((y + y0) * width + x0) * 4;
    out.set(rgba.subarray(from, from + w * 4), y * w * 4);
  }
  return { x: x0, y: y0, rows: { rgba: out, width: w, height: h } };
}

function layMark(
  { adds, part, size, points }: MaskMark,
  parts: readonly string[],
  scale: number,
  width: number,
  height: number,
  mask: Uint8Array,
  partMask: Int16Array,
): void {
  const radius = Math.max(0.5, (size * scale) / 2);
  const number = part === null ? -1 : parts.indexOf(part);
  for (let k = 0; k + 1 < points.length; k += 2) {
    const [ax, ay] = [points[Math.max(0, k - 2)]! * scale, points[Math.max(0, k - 2) + 1]! * scale];
    const [bx, by] = [points[k]! * scale, points[k + 1]! * scale];
    const [dx, dy] = [bx - ax, by - ay];
    const length2 = dx * dx + dy * dy;
    const y1 = Math.min(height - 1, Math.ceil(Math.max(ay, by) + radius));
    const x1 = Math.min(width - 1, Math.ceil(Math.max(ax, bx) + radius));
    for (let y = Math.max(0, Math.floor(Math.min(ay, by) - radius)); y <= y1; y++) {
      for (let x = Math.max(0, Math.floor(Math.min(ax, bx) - radius)); x <= x1; x++) {
        const [qx, qy] = [x + 0.5 - ax, y + 0.5 - ay];
        const t = length2 > 0 ? Math.min(1, Math.max(0, (qx * dx + qy * dy) / length2)) : 0;
        if ((qx - t * dx) ** 2 + (qy - t * dy) ** 2 > radius * radius) continue;
        const i = y * width + x;
        mask[i] = adds ? 1 : 0;
        partMask[i] = adds ? number : -1;
      }
    }
  }
}
