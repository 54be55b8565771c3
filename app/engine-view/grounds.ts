import type { CSSProperties } from 'react';
import { chooseFiles } from '../shared/files';
import { notify } from '../shared/notify';

/** What stands behind it: a plain ground by its lightness, or a picture. */
export type Ground =
  | { readonly kind: 'plain'; readonly grey: number }
  | { readonly kind: 'picture'; readonly name: string; readonly url: string };

export const CANAL = { kind: 'picture', name: 'Canal', url: '/demo/stall-reference.png' } satisfies Ground;
export const PLAIN_GROUNDS: readonly (readonly [name: string, grey: number])[] = [
  ['Grey', 0.5],
  ['Dark', 0.12],
  ['Light', 0.92],
];
export const GREY_GROUND: Ground = { kind: 'plain', grey: 0.5 };

export function groundStyle(ground: Ground): CSSProperties {
  if (ground.kind === 'picture') return { background: `center / cover url("${ground.url}")` };
  const level = Math.round(ground.grey * 255);
  return { background: `rgb(${level} ${level} ${level})` };
}

/** Lets a picture be chosen to stand behind. @param before goes. @returns null if none was chosen, or it can't be shown, which is told */
export async function chooseGround(before: Ground): Promise<Ground | null> {
  const [file] = await chooseFiles('image/*', false);
  if (!file) return null;
  const url = URL.createObjectURL(file);
  try {
    await createImageBitmap(file).then((bitmap) => bitmap.close());
  } catch {
    URL.revokeObjectURL(url);
    notify(`“${file.name}” is no picture that can be shown. Choose a PNG, JPEG or WebP file.`);
    return null;
  }
  if (before.kind === 'picture' && before.url.startsWith('blob:')) URL.revokeObjectURL(before.url);
  return { kind: 'picture', name: file.name, url };
}
