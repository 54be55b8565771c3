import { describe, expect, it } from 'vitest';
import { keyWords } from './key-words';
import { keysPressed } from './KeysPage';

const press = (
  code: string,
  key: string,
  held: Partial<Record<'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey', true>> = {},
) => keysPressed({ code, key, ctrlKey: false, metaKey: false, altKey: false, shiftKey: false, ...held });

describe('keys in words', () => {
  it('are named as they stand on the keyboard, on a Mac by its signs', () => {
    expect(keyWords('mod+shift+z, mod+y', false)).toBe('Ctrl Shift Z');
    expect(keyWords('mod+shift+z, mod+y', true)).toBe('⌘ Shift Z');
    expect(keyWords('alt+shift+down', false)).toBe('Alt Shift ↓');
    expect(keyWords('alt+shift+down', true)).toBe('⌥ Shift ↓');
    expect(keyWords('bracketleft', false)).toBe('[');
    expect(keyWords('', false)).toBe('');
  });
});

describe('keys that are pressed to be chosen', () => {
  it('are written as the commands write them', () => {
    expect(press('KeyG', 'g')).toBe('g');
    expect(press('KeyZ', 'Z', { ctrlKey: true, shiftKey: true })).toBe('mod+shift+z');
    expect(press('KeyZ', 'z', { metaKey: true })).toBe('mod+z');
    expect(press('ArrowDown', 'ArrowDown', { altKey: true })).toBe('alt+down');
    expect(press('Digit3', '#', { shiftKey: true })).toBe('shift+3');
    expect(press('F2', 'F2')).toBe('f2');
    expect(press('BracketLeft', '[')).toBe('bracketleft');
  });

  it('wait for more than Shift or Ctrl alone', () => {
    expect(press('ShiftLeft', 'Shift', { shiftKey: true })).toBeNull();
  });
});
