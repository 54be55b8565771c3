/** A picture as rows from the top, straight alpha. */
export interface Picture {
  readonly width: number;
  readonly height: number;
  /** RGBA, 8 bit, sRGB-encoded. */
  readonly rgba: Uint8Array;
}

/** The same with 16 bit a channel. */
export interface DeepPicture {
  readonly width: number;
  readonly height: number;
  /** RGBA, 65535 = 1, sRGB-encoded. */
  readonly rgba: Uint16Array;
}
