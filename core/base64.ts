import { base64, base64nopad } from '@scure/base';
import { CoreError } from './errors';

/**
 * Decodes base64 (RFC 4648); anything outside its alphabet, padding too, is passed over.
 *
 * @throws CoreError `file-truncated` where the last byte is cut off
 */
export function base64ToBytes(text: string): Uint8Array<ArrayBuffer> {
  try {
    return base64nopad.decode(text.replace(/[^A-Za-z0-9+/]/g, '')) as Uint8Array<ArrayBuffer>;
  } catch (cause) {
    throw new CoreError('file-truncated', 'Text that stands for bytes (base64) is cut off or damaged.', {
      cause,
    });
  }
}

/** Encodes base64 (RFC 4648) with padding. */
export const bytesToBase64 = (bytes: Uint8Array): string => base64.encode(bytes);
