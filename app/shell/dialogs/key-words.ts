const isMac = (): boolean => /Mac|iPhone|iPad/.test(navigator.userAgent);

/** Names of keys as they stand on keyboards; the rest are their own letters. */
const WORDS: Record<string, string> = {
  shift: 'Shift',
  up: '↑',
  down: '↓',
  left: '←',
  right: '→',
  bracketleft: '[',
  bracketright: ']',
  delete: 'Del',
  backspace: 'Backspace',
  home: 'Home',
  space: 'Space',
  escape: 'Esc',
  comma: ',',
  period: '.',
};

const OTHERS = { mod: 'Ctrl', ctrl: 'Ctrl', alt: 'Alt', meta: 'Win' };
const MACS = { mod: '⌘', ctrl: '⌃', alt: '⌥', meta: '⌘' };

/** The first of a command's keys as a person reads it. @param keys as react-hotkeys-hook writes them */
export function keyWords(keys: string, mac = isMac()): string {
  const own: Record<string, string> = { ...WORDS, ...(mac ? MACS : OTHERS) };
  return (keys.split(', ')[0] ?? '')
    .split('+')
    .map((key) => own[key] ?? key.toUpperCase())
    .join(' ');
}
