import type { Lost } from '../../workers';
import { notify } from '../shared/notify';

/** Says what of a project couldn't be read when it was opened. */
export function tellLost({ strokes, tiles }: Lost): void {
  if (strokes > 0) {
    notify(
      `${strokes} ${strokes === 1 ? 'stroke' : 'strokes'} of this project can’t be read any more. The paint itself is there; it just can’t be made again from its strokes on another layout.`,
    );
  }
  if (tiles > 0) {
    notify(
      `${tiles} ${tiles === 1 ? 'patch' : 'patches'} of paint, 64 × 64 texels each, can’t be read and stay empty. If you have a project file, compare with it before you paint on.`,
    );
  }
}
