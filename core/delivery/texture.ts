import {
  encodeDeepPng,
  encodeKtx2,
  encodePngBeside,
  encodeWebp,
  type DeepPicture,
  type Picture,
} from '../formats';
import { dithered, rounded } from './dither';
import { mipLevels } from '../picture';
import type { DeliverySettings, TextureFormat } from './settings';

type TextureHow = Pick<DeliverySettings, 'format' | 'quality' | 'halving' | 'effort'> & {
  /** Values (a detail sheet) are neither halved nor told as colours. */
  readonly isColor: boolean;
  readonly onProgress?: (done: number) => void;
};

const isDeepPicture = (picture: Picture | DeepPicture): picture is DeepPicture =>
  picture.rgba instanceof Uint16Array;

/** A sheet with 8 bit a channel, as a format has it. */
export function plainPicture(picture: Picture | DeepPicture, format: TextureFormat): Picture {
  if (!isDeepPicture(picture)) return picture;
  return format === 'png-dithered' ? dithered(picture) : rounded(picture);
}

/** A sheet as the file that it leaves as. Halvings are made of what is bled already, so that borders don't mix with what lies beside them. */
export async function encodeTexture(picture: Picture | DeepPicture, how: TextureHow): Promise<Uint8Array> {
  if (how.format === 'png-16' && isDeepPicture(picture)) return encodeDeepPng(picture);
  const plain = plainPicture(picture, how.format);
  switch (how.format) {
    case 'webp':
      return encodeWebp(plain, { quality: 'lossless' });
    case 'webp-small':
      return encodeWebp(plain, { quality: how.quality });
    case 'ktx2':
      return encodeKtx2(mipLevels(plain, how.isColor ? how.halving : 'encoded'), {
        isSrgb: how.isColor,
        effort: how.effort,
        ...(how.onProgress && { onProgress: how.onProgress }),
      });
    case 'png':
    case 'png-dithered':
    case 'png-16':
      return encodePngBeside(plain);
  }
}
