import type { ClipboardEvent } from 'react';

const HEX = /^#?([0-9a-f]{6})$/i;

/** A colour in the clipboard's text, as #rrggbb. */
function colorIn(text: string): string | null {
  const found = HEX.exec(text.trim());
  return found ? `#${found[1]!.toLowerCase()}` : null;
}

/** Whether text is being chosen or typed, which copying and pasting belong to then. */
const isText = (target: EventTarget): boolean =>
  (target instanceof HTMLInputElement && target.type !== 'range') ||
  target instanceof HTMLTextAreaElement ||
  Boolean(getSelection()?.toString());

/** For an element that stands for a colour: the usual keys copy it as hex, and paste another one onto it. */
export const colorClipboard = (color: string, onPaste?: (color: string) => unknown) => ({
  onCopy: (e: ClipboardEvent) => {
    if (isText(e.target)) return;
    e.clipboardData.setData('text/plain', color);
    e.preventDefault();
  },
  onPaste: (e: ClipboardEvent) => {
    const pasted = colorIn(e.clipboardData.getData('text/plain'));
    if (!onPaste || !pasted || isText(e.target)) return;
    onPaste(pasted);
    e.preventDefault();
    e.stopPropagation();
  },
});
