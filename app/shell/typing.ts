/** Input fields in which nothing is typed. */
const UNTYPED = new Set(['range', 'checkbox', 'radio', 'button', 'submit', 'reset', 'color', 'file']);

/** Whether a key press belongs to the field that has the focus: to what is typed, or to the letters by which a list is searched. */
export function keepsKey({ target, ctrlKey, metaKey, altKey }: KeyboardEvent): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target instanceof HTMLSelectElement) return !ctrlKey && !metaKey && !altKey;
  if (target instanceof HTMLInputElement) return !UNTYPED.has(target.type);
  return target instanceof HTMLTextAreaElement || target.isContentEditable;
}
