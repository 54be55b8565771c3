import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';

/**
 * A short content hash (first 128 bits of SHA-256, in hexadecimal) under which measured data is kept.
 *
 * @param parts what the data was made from; typed arrays are hashed by their bytes, the rest as JSON
 */
export function contentHash(...parts: readonly unknown[]): string {
  const h = sha256.create();
  for (const part of parts) {
    const bytes = ArrayBuffer.isView(part)
      ? new Uint8Array(part.buffer, part.byteOffset, part.byteLength)
      : utf8ToBytes(JSON.stringify(part) ?? 'undefined');
    h.update(utf8ToBytes(`${bytes.length}:`));
    h.update(bytes);
  }
  return bytesToHex(h.digest()).slice(0, 32);
}
