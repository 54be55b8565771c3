import { useEffect, useRef } from 'react';
import pages from 'virtual:handbook';
import { Chip } from '../../shared/Chip';

/** Pages of the handbook beside a list of them. */
export default function HandbookPages({
  page,
  onPage,
  onClose,
  onKeys,
}: {
  readonly page: string;
  onPage(name: string): void;
  onClose(): void;
  readonly onKeys: (() => void) | undefined;
}) {
  const text = useRef<HTMLElement>(null);
  const shown = pages.find((p) => p.name === page) ?? pages[0]!;
  useEffect(() => {
    text.current?.scrollTo(0, 0);
  }, [shown]);
  return (
    <div className="handbook">
      <nav aria-label="Pages of the handbook">
        <h2 id="handbook-title">Handbook</h2>
        <ul>
          {pages.slice(1).map(({ name, title }) => (
            <li key={name}>
              <button type="button" aria-current={name === shown.name} onClick={() => onPage(name)}>
                {title}
              </button>
            </li>
          ))}
        </ul>
        {onKeys && <Chip onClick={onKeys}>Keys…</Chip>}
        <Chip onClick={onClose}>Close</Chip>
      </nav>
      <article
        ref={text}
        tabIndex={0}
        aria-label={shown.title}
        onClick={(e) => {
          const link = (e.target as HTMLElement).closest('a');
          if (!link) return;
          // Pages lead to one another; what else they name lies beside the program.
          e.preventDefault();
          const name = /^([\w-]+)\.md$/.exec(link.getAttribute('href') ?? '')?.[1];
          if (name && pages.some((p) => p.name === name)) onPage(name);
        }}
        // Our own pages, made when the application was built.
        dangerouslySetInnerHTML={{ __html: shown.html }}
      />
    </div>
  );
}
