/**
 * Numbers a sample, one after the other:
 *
 *     0..2  position            3..5  unit normal         6  radius, model units       7  pressure 0..1
 *     8     tilt, 0 upright to 1 lying flat               9  where it leans to, radians from `up` against the clock
 *     10    time since the stroke began, ms
 */
export const SAMPLE_STRIDE = 11;
