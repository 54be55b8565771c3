import type { CueName } from '../../core/cues';

/** What cues are called, by themselves and within a sentence. */
export const CUE_WORDS: Readonly<Record<CueName, readonly [name: string, within: string]>> = {
  occlusion: ['Occlusion', 'occlusion'],
  height: ['Height', 'height'],
  facing: ['Facing', 'facing'],
  ridge: ['Ridge', 'ridges'],
  crease: ['Crease', 'creases'],
  nearness: ['Nearness', 'nearness'],
  along: ['Along', 'ways along the form'],
  cast: ['Cast shadow', 'the cast shadow'],
  thickness: ['Thickness', 'thickness'],
  grain: ['Grain', 'grain'],
  bounce: ['Bounce', 'bounced light'],
};
