import { useEffect, useLayoutEffect, useRef } from 'react';
import { Dropdown } from 'react-bootstrap';
import { useCommandBook } from '../../shared/commands';
import { closeMenu, useContextMenu } from '../../shared/context-menu';

/** Of the window, that stays free around it, pixels. */
const EDGE = 8;

/** The menu that the right button opens, with what can be done with what lies under it. */
export function ContextMenuView() {
  const menu = useContextMenu((s) => s.menu);
  const { commands, run, keysOf } = useCommandBook();
  const host = useRef<HTMLDivElement>(null);
  const before = useRef<Element | null>(null);
  // Wholly in the window, however long its words are.
  useLayoutEffect(() => {
    const box = host.current;
    if (!box || !menu) return;
    box.style.left = `${Math.max(EDGE, Math.min(menu.x, window.innerWidth - box.offsetWidth - EDGE))}px`;
    box.style.top = `${Math.max(EDGE, Math.min(menu.y, window.innerHeight - box.offsetHeight - EDGE))}px`;
  }, [menu]);
  useEffect(() => {
    if (!menu) return;
    before.current = document.activeElement;
    host.current?.querySelector<HTMLElement>('button')?.focus();
    const close = (e: Event): void => {
      if (!(e.target instanceof Node && host.current?.contains(e.target))) closeMenu();
    };
    window.addEventListener('pointerdown', close, { capture: true });
    window.addEventListener('resize', closeMenu);
    return () => {
      window.removeEventListener('pointerdown', close, { capture: true });
      window.removeEventListener('resize', closeMenu);
    };
  }, [menu]);
  if (!menu) return null;
  const leave = (): void => {
    closeMenu();
    if (before.current instanceof HTMLElement) before.current.focus();
  };
  const step = (by: number): void => {
    const buttons = [...(host.current?.querySelectorAll<HTMLElement>('button') ?? [])];
    const at = buttons.findIndex((b) => b === document.activeElement);
    buttons[(at + by + buttons.length) % buttons.length]?.focus();
  };
  const known = menu.entries.filter((id) => id === null || commands.some((c) => c.id === id));
  return (
    <div
      ref={host}
      className="dropdown-menu show context-menu"
      role="menu"
      aria-label={menu.title}
      style={{ left: menu.x, top: menu.y }}
      onKeyDown={(e) => {
        if (e.key === 'Escape') leave();
        else if (e.key === 'ArrowDown') step(1);
        else if (e.key === 'ArrowUp') step(-1);
        else return;
        e.preventDefault();
        e.stopPropagation();
      }}
    >
      <div className="dropdown-header" role="presentation">
        {menu.title}
      </div>
      {known.map((id, i) => {
        if (id === null) return <Dropdown.Divider key={i} />;
        return (
          <button
            key={id}
            type="button"
            role="menuitem"
            className="dropdown-item with-keys"
            onClick={() => {
              leave();
              run(id);
            }}
          >
            {commands.find((c) => c.id === id)!.title}
            {keysOf(id) && <kbd>{keysOf(id)}</kbd>}
          </button>
        );
      })}
    </div>
  );
}
