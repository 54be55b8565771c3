const startsWith = (bytes: Uint8Array, text: string, at = 0): boolean =>
  [...text].every((letter, i) => bytes[at + i] === letter.charCodeAt(0));

/** The kind of a picture file by its first bytes, undefined if it is none that is known. */
export function pictureKind(bytes: Uint8Array): 'PNG' | 'JPEG' | 'WebP' | 'GIF' | 'BMP' | undefined {
  if (bytes[0] === 0x89 && startsWith(bytes, 'PNG', 1)) return 'PNG';
  if (bytes[0] === 0xff && bytes[1] === 0xd8 && bytes[2] === 0xff) return 'JPEG';
  if (startsWith(bytes, 'RIFF') && startsWith(bytes, 'WEBP', 8)) return 'WebP';
  if (startsWith(bytes, 'GIF8')) return 'GIF';
  // “BM” alone would also match text; a bitmap's reserved words at 6 are zero.
  if (startsWith(bytes, 'BM') && bytes.length > 26 && !bytes[6] && !bytes[7] && !bytes[8] && !bytes[9])
    return 'BMP';
  return undefined;
}

/** Whether a file is a KTX 2.0 texture (section 3.1 of the specification). */
export const isKtx2 = (bytes: Uint8Array): boolean => bytes[0] === 0xab && startsWith(bytes, 'KTX 20', 1);

/** Whether bytes begin as a binary glTF does (glTF 2.0, section 4.4.2). */
export const isGlb = (bytes: Uint8Array): boolean =>
  bytes.length >= 4 && bytes[0] === 0x67 && bytes[1] === 0x6c && bytes[2] === 0x54 && bytes[3] === 0x46;
