import { CoreError } from '../errors';

/** What a pattern of names may speak of. */
export const NAME_WORDS = ['project', 'sheet', 'what', 'size'] as const;
type NameWord = (typeof NAME_WORDS)[number];

export const USUAL_NAMES = '{project}-{sheet}-{what}';

/** Names that some file systems keep for devices (common practice: those of Windows). */
const KEPT = /^(con|prn|aux|nul|com\d|lpt\d)(?=\.|$)/i;

/** Letters of a name, without its ending; every file system takes 255 bytes, and a letter may be four. */
const LONGEST = 60;

/** A part of a name that every file system takes: letters and digits of any writing, the rest as hyphens; '' if nothing is left. */
export const plainName = (text: string): string =>
  text
    .normalize('NFC')
    .replace(/[^\p{L}\p{M}\p{N}_]+/gu, '-')
    .replace(/^-+|-+$/g, '')
    .toLowerCase();

/**
 * Looks at a pattern before it is used.
 *
 * @throws CoreError `bad-argument` if it speaks of something that is unknown
 */
export function checkNames(pattern: string): void {
  for (const [whole, word] of pattern.matchAll(/\{([^}]*)\}/g)) {
    if (!(NAME_WORDS as readonly string[]).includes(word!)) {
      throw new CoreError(
        'bad-argument',
        `“${whole}” in the names means nothing. Use ${NAME_WORDS.map((w) => `{${w}}`).join(', ')}.`,
      );
    }
  }
}

/** Gives names by a pattern, each only once. */
export class FileNames {
  private readonly pattern: string;
  private readonly given = new Set<string>();

  /** @throws CoreError `bad-argument` as `checkNames` */
  constructor(pattern: string) {
    checkNames(pattern);
    this.pattern = pattern;
  }

  /**
   * @param words what is known; a word that is empty goes, and what parts it from the next goes with it
   * @param ending with its dot
   */
  next(words: Readonly<Partial<Record<NameWord, string>>>, ending: string): string {
    // A blank pattern would name everything alike.
    const filled = (this.pattern.trim() || USUAL_NAMES).replace(/\{([^}]*)\}/g, (_, word: NameWord) =>
      plainName(words[word] ?? ''),
    );
    const safe =
      filled
        .replace(/[<>:"/\\|?*\u0000-\u001f]+/g, '-')
        .replace(/([-_. ])[-_. ]+/g, '$1')
        .replace(/^[-_. ]+|[-_. ]+$/g, '') || 'project';
    const stem = [...safe.replace(KEPT, '$1_')].slice(0, LONGEST).join('');
    let name = `${stem}${ending}`;
    // Some file systems take large and small letters for the same.
    for (let n = 2; this.given.has(name.toLowerCase()); n++) name = `${stem}-${n}${ending}`;
    this.given.add(name.toLowerCase());
    return name;
  }
}
