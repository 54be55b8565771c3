import { useEffect, useState } from 'react';

interface Props {
  readonly value: number;
  readonly label?: string;
  readonly title?: string;
  readonly className?: string;
  /** How it is told while nobody types. */
  readonly show: (value: number) => string;
  /** Least and most that it may be. */
  readonly range: readonly [number, number];
  readonly onChange: (value: number) => void;
}

/** A number that is typed: it holds as soon as it is left, and what is none or out of range changes nothing. */
export function TypedNumber({ value, label, title, className, show, range: [least, most], onChange }: Props) {
  const told = show(value);
  const [text, setText] = useState(told);
  useEffect(() => setText(told), [told]);
  const done = (): void => {
    const wanted = Number.parseFloat(text.replace(/^\D*?(?=[-.,\d])/, '').replace(',', '.'));
    if (text !== told && wanted >= least && wanted <= most) onChange(wanted);
    else setText(told);
  };
  return (
    <input
      value={text}
      inputMode="decimal"
      {...(label && { 'aria-label': label })}
      {...(title && { title })}
      {...(className && { className })}
      onChange={(e) => setText(e.target.value)}
      onFocus={(e) => e.target.select()}
      onBlur={done}
      onKeyDown={(e) => {
        if (e.key === 'Enter') done();
        if (e.key === 'Escape') setText(told);
      }}
    />
  );
}
