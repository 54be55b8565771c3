import { useEffect, useRef } from 'react';

/** A name while it is changed: Enter or leaving takes it, Escape leaves it. */
export function RenameField({
  name,
  label,
  most,
  onDone,
}: {
  readonly name: string;
  readonly label: string;
  /** Letters at the most. */
  readonly most: number;
  /** Told the new name; null where nothing changed. */
  readonly onDone: (name: string | null) => void;
}) {
  const field = useRef<HTMLInputElement>(null);
  // The focus goes back to the row whose name it was.
  useEffect(() => {
    const row = field.current?.parentElement;
    return () =>
      void requestAnimationFrame(() => {
        if (document.activeElement === document.body) {
          row?.querySelector<HTMLElement>('button, [tabindex="0"]')?.focus();
        }
      });
  }, []);
  return (
    <input
      ref={field}
      className="part-rename"
      autoFocus
      defaultValue={name}
      maxLength={most}
      aria-label={label}
      onFocus={(e) => e.target.select()}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Enter') e.currentTarget.blur();
        if (e.key === 'Escape') {
          e.currentTarget.value = name;
          onDone(null);
        }
      }}
      onBlur={(e) => {
        const clean = e.target.value.trim();
        onDone(clean && clean !== name ? clean : null);
      }}
    />
  );
}
