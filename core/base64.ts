/** Decodes base64 (RFC 4648); anything outside its alphabet, padding too, is passed over. */
export function base64ToBytes(text: string): Uint8Array<ArrayBuffer> {
  const alphabet = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';
  const value = new Uint8Array(128);
  for (let i = 0; i < 64; i++) value[alphabet.charCodeAt(i)] = i;
  const clean = text.replace(/[^A-Za-z0-9+/]/g, '');
  const out = new Uint8Array(Math.floor((clean.length * 3) / 4));
  let held = 0;
  let bits = 0;
  let o = 0;
  for (let i = 0; i < clean.length; i++) {
    held = ((held << 6) | value[clean.charCodeAt(i)]!) & 0xffffff;
    bits += 6;
    if (bits >= 8) {
      bits -= 8;
      out[o++] = (held >> bits) & 255;
    }
  }
  return out;
}

/** Encodes base64 (RFC 4648) with padding. */
export function bytesToBase64(bytes: Uint8Array): string {
  const alphabet = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';
  const out: string[] = [];
  for (let i = 0; i < bytes.length; i += 3) {
    const n = (bytes[i]! << 16) | ((bytes[i + 1] ?? 0) << 8) | (bytes[i + 2] ?? 0);
    out.push(
      alphabet[n >> 18]! +
        alphabet[(n >> 12) & 63]! +
        (i + 1 < bytes.length ? alphabet[(n >> 6) & 63]! : '=') +
        (i + 2 < bytes.length ? alphabet[n & 63]! : '='),
    );
  }
  return out.join('');
}
