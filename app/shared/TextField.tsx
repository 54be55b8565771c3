import type { ComponentProps } from 'react';

interface Props extends Omit<ComponentProps<'input'>, 'value' | 'defaultValue' | 'onBlur' | 'onKeyDown'> {
  readonly value: string;
  /** Nothing may be left in it. */
  readonly mayBeEmpty?: boolean;
  /** Told what was typed, where that is something else than before; `false` where it can't be taken: then the old text comes back. */
  readonly onText: (text: string) => unknown;
}

/** A line of text that holds as soon as it is left, or Enter is pressed; Escape brings the old one back. */
export function TextField({ value, mayBeEmpty = false, onText, ...input }: Props) {
  return (
    <input
      key={value}
      {...input}
      defaultValue={value}
      onKeyDown={(e) => {
        if (e.key === 'Escape') e.currentTarget.value = value;
        if (e.key === 'Enter' || e.key === 'Escape') e.currentTarget.blur();
      }}
      onBlur={(e) => {
        const text = e.target.value.trim();
        const isTaken = text !== value && (text || mayBeEmpty) ? onText(text) !== false : false;
        if (!isTaken) e.target.value = value;
      }}
    />
  );
}
