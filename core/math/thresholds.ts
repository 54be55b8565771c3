/** Texels a side of the square over which thresholds are laid: that of a sub-tile. */
const SIDE = 32;

/** Nearer to 0 and 1 than this no threshold comes, so that a whole number, reckoned with a small error, stays what it is. */
const MARGIN = 1 / 256;

/**
 * Where each texel of a 32 x 32 square is rounded up, instead of at a half: evenly spread in any neighbourhood, so that a ramp of few levels
 * has no bands, and no noise that is coarser than some texels (the R2 sequence as a dither mask, M. Roberts 2018, after R. Ulichney,
 * "Digital Halftoning", 1987).
 */
export const THRESHOLDS: Float32Array = Float32Array.from({ length: SIDE * SIDE }, (_, i) => {
  const at = (i % SIDE) * 0.7548776662466927 + Math.floor(i / SIDE) * 0.5698402909980532;
  return MARGIN + (at - Math.floor(at)) * (1 - 2 * MARGIN);
});
