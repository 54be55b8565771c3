import { ciede2000 } from './ciede2000';
import { rgbToCielab, type Cielab } from './cielab';

/** Beyond the tolerance likeness fades over so much of it, and this at the least, so that smooth borders stay smooth. */
const FADE = 0.5;
const LEAST_FADE = 1;

const labOf = (word: number): Cielab =>
  rgbToCielab({ r: word & 255, g: (word >> 8) & 255, b: (word >> 16) & 255 });

/**
 * How much colours are like one, 0..255.
 *
 * @param like sRGB-encoded, red in the lowest byte
 * @param tolerance how much they may differ, CIEDE2000
 * @returns asked with colours of the same form; alpha isn't looked at
 */
export function likeness(like: number, tolerance: number): (word: number) => number {
  const start = labOf(like);
  const fade = Math.max(LEAST_FADE, tolerance * FADE);
  const known = new Map<number, number>();
  return (word) => {
    let value = known.get(word);
    if (value === undefined) {
      const beyond = ciede2000(start, labOf(word)).deltaE - tolerance;
      value = beyond <= 0 ? 255 : Math.max(0, Math.round(255 * (1 - beyond / fade)));
      known.set(word, value);
    }
    return value;
  };
}
