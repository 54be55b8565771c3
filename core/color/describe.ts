import { rgbToCielab } from './cielab';
import { ciede2000, type ColorDifference } from './ciede2000';
import { rgbToOklch } from './oklab';
import type { Rgb } from './rgb';

export interface ColorComparison extends ColorDifference {
  /** “slightly too warm and dark”, or “no visible difference”. */
  readonly words: string;
}

/** Below this CIEDE2000 two flat colours side by side look the same to most people (common practice: about 1). */
const VISIBLE = 1;

/** OKLCH hue angle of the warmest colour (orange) and of its opposite; common practice among painters. */
const WARMEST_HUE = 55;

function degree(deltaE: number): string {
  if (deltaE < 3) return 'a touch too';
  if (deltaE < 7) return 'slightly too';
  if (deltaE < 15) return 'too';
  return 'far too';
}

/** How the hue of `painted` differs from `wanted`, as a painter would say it; undefined where neither word is true. */
function hueWord(painted: Rgb, wanted: Rgb): string | undefined {
  const p = rgbToOklch(painted);
  const w = rgbToOklch(wanted);
  const warmth = (h: number, c: number): number => c * Math.cos(((h - WARMEST_HUE) * Math.PI) / 180);
  const difference = warmth(p.h, p.C) - warmth(w.h, w.C);
  // 0.004 of OKLab is about half of what is just seen; below it the word would be noise.
  if (Math.abs(difference) > 0.004) return difference > 0 ? 'warm' : 'cool';
  const turn = ((p.h - w.h + 540) % 360) - 180;
  if (Math.min(p.C, w.C) < 0.02 || Math.abs(turn) < 3) return undefined;
  const green = Math.cos(((p.h - 142) * Math.PI) / 180) - Math.cos(((w.h - 142) * Math.PI) / 180);
  return green > 0 ? 'green' : 'red';
}

/**
 * Says how a painted colour differs from the wanted one.
 *
 * @param painted what lies on the model
 * @param wanted what it should be; the differences are painted minus wanted
 */
export function compareColors(painted: Rgb, wanted: Rgb): ColorComparison {
  const difference = ciede2000(rgbToCielab(wanted), rgbToCielab(painted));
  if (difference.deltaE < VISIBLE) return { ...difference, words: 'no visible difference' };

  const candidates: { word: string; weight: number }[] = [
    { word: difference.deltaL > 0 ? 'light' : 'dark', weight: Math.abs(difference.deltaL) },
    { word: difference.deltaC > 0 ? 'vivid' : 'grey', weight: Math.abs(difference.deltaC) },
  ];
  const hue = hueWord(painted, wanted);
  if (hue) candidates.push({ word: hue, weight: Math.abs(difference.deltaH) + 0.01 });
  candidates.sort((a, b) => b.weight - a.weight);
  const [first, second] = candidates;
  // A second word is worth saying when it carries at least half of the first.
  const words = [first!.word];
  if (second && second.weight >= first!.weight * 0.5) words.push(second.word);
  if (words.includes('light') || words.includes('dark')) {
    words.sort((a, b) => Number(a === 'light' || a === 'dark') - Number(b === 'light' || b === 'dark'));
  }
  return { ...difference, words: `${degree(difference.deltaE)} ${words.join(' and ')}` };
}
