// eslint-disable-next-line @typescript-eslint/triple-slash-reference -- every folder that imports this checks it with its own tsconfig
/// <reference path="./upng-js.d.ts" />
import { CoreError } from '../errors';
import type { Picture } from './png';

/**
 * Pictures of one size as an animated PNG that goes round for ever, without loss (PNG third edition, section 4.9).
 *
 * @param delay of each frame, ms
 * @throws CoreError `bad-argument` without frames, or of several sizes
 */
export async function encodeApng(frames: readonly Picture[], delay: number): Promise<Uint8Array> {
  const [first] = frames;
  if (!first || frames.some((f) => f.width !== first.width || f.height !== first.height)) {
    throw new CoreError('bad-argument', 'An animated picture has one frame or more, all of one size.');
  }
  const { default: UPNG } = await import('upng-js');
  const buffers = frames.map(({ rgba }) => rgba.slice().buffer);
  const delays = frames.map(() => Math.max(1, Math.round(delay)));
  return new Uint8Array(UPNG.encode(buffers, first.width, first.height, 0, delays));
}
