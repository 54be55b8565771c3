import type { ReactNode } from 'react';

interface Props {
  readonly on?: boolean;
  readonly disabled?: boolean;
  readonly title?: string;
  readonly onClick: () => void;
  readonly children: ReactNode;
}

/** A small button; with `on` it is a switch. */
export function Chip({ on, disabled, title, onClick, children }: Props) {
  return (
    <button
      type="button"
      className={on ? 'chip on' : 'chip'}
      {...(on === undefined ? {} : { 'aria-pressed': on })}
      disabled={disabled}
      title={title}
      onClick={onClick}
    >
      {children}
    </button>
  );
}
