import type { Detail } from '../../core/document';

/** What the masks of the detail sheet are called, and what they do. */
export const DETAIL_WORDS: Readonly<Record<Detail, readonly [name: string, says: string]>> = {
  dark: ['Darkens first', 'dark where the light leaves first, bright where it stays longest'],
  line: ['Line weight', 'white the full outline, black none'],
  shine: ['Keeps a highlight', 'the brighter, the larger the highlight'],
};
