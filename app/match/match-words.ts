import type { ColorVision } from '../../core/color';
import type { Difference } from '../../core/match';
import type { Arranged, MatchUi } from './match-ui';

export const ARRANGED_WORDS: Record<Arranged, readonly [name: string, says: string]> = {
  beside: ['Beside', 'One beside the other'],
  over: ['Overlaid', 'The painting over the reference'],
  wipe: ['Wipe', 'The painting on one side of a line, the reference on the other'],
  difference: ['Difference', 'What one has and the other hasn’t'],
  flicker: ['Flicker', 'One and the other in turn: what jumps is different'],
};

export const DIFFERENCE_WORDS: Record<Difference, string> = {
  all: 'All',
  lightness: 'Lightness',
  chroma: 'Chroma',
  hue: 'Hue',
};

export const VISION_WORDS: Record<ColorVision, readonly [name: string, says: string]> = {
  protan: ['No red', 'As seen without cones for red (protanopia)'],
  deutan: ['No green', 'As seen without cones for green (deuteranopia)'],
  tritan: ['No blue', 'As seen without cones for blue (tritanopia)'],
};

/** What is chosen behind the last chip. */
export function howWords({ how, gameSize, mirrored, upsideDown, outlines }: MatchUi): string {
  const words = [
    how.as === 'tones' && `${how.count} tones`,
    how.as === 'palette' && `${how.count} colours`,
    how.as === 'vision' && VISION_WORDS[how.vision][0],
    gameSize !== null && `${gameSize} px`,
    mirrored && 'mirrored',
    upsideDown && 'upside down',
    outlines && 'outlines',
  ].filter(Boolean);
  return words.length > 0 ? words.slice(0, 2).join(', ') : 'More…';
}
