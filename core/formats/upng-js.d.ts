/** What is used of upng-js, which brings no types. */
declare module 'upng-js' {
  const UPNG: {
    /** @param colors how many at the most; 0: all, without loss. @param delays ms a frame */
    encode(
      frames: ArrayBuffer[],
      width: number,
      height: number,
      colors: number,
      delays: number[],
    ): ArrayBuffer;
  };
  export default UPNG;
}
