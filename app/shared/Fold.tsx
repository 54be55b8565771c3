import { useState, type ReactNode } from 'react';
import { CaretDown } from '@phosphor-icons/react/CaretDown';
import { CaretRight } from '@phosphor-icons/react/CaretRight';

/** Settings that are folded away until they are wanted. */
export function Fold({
  title,
  note = '',
  begins = false,
  children,
}: {
  readonly title: string;
  /** What is set there, in a word or two. */
  readonly note?: string;
  /** Whether it is open at first. */
  readonly begins?: boolean;
  readonly children: ReactNode;
}) {
  const [isOpen, setOpen] = useState(begins);
  return (
    <div className="fold-section">
      <button type="button" className="fold-title" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        {isOpen ? <CaretDown size={12} aria-hidden /> : <CaretRight size={12} aria-hidden />}
        <span>{title}</span>
        <small>{note}</small>
      </button>
      {isOpen && <div className="fold-body">{children}</div>}
    </div>
  );
}
