import { useRef } from 'react';
import type { Session } from '../project';
import { useUi } from '../shared/ui-store';
import { Board } from './Board';

/** A small board that floats over the picture: dragged by its upper edge, sized by its corner. */
export function FloatingBoard({
  session,
  onTake,
}: {
  readonly session: Session;
  readonly onTake?: ((color: string) => void) | undefined;
}) {
  const place = useUi((s) => s.floating);
  const drag = useRef<{ readonly x: number; readonly y: number } | null>(null);
  if (!place) return null;
  const moveBy = (dx: number, dy: number): void =>
    useUi.setState(({ floating }) => ({
      floating: floating && {
        ...floating,
        x: Math.max(0, floating.x + dx),
        y: Math.max(0, floating.y + dy),
      },
    }));
  return (
    <section
      className="floating-board"
      aria-label="Floating reference"
      style={{ left: place.x, top: place.y, width: place.width, height: place.height }}
      onPointerUp={({ currentTarget: { offsetWidth: width, offsetHeight: height } }) =>
        useUi.setState(({ floating }) => ({ floating: floating && { ...floating, width, height } }))
      }
    >
      <header
        tabIndex={0}
        role="group"
        aria-label="Move the floating reference with the arrow keys"
        onKeyDown={(e) => {
          const [dx, dy] = { ArrowLeft: [-8, 0], ArrowRight: [8, 0], ArrowUp: [0, -8], ArrowDown: [0, 8] }[
            e.key
          ] ?? [0, 0];
          if (dx || dy) moveBy(dx!, dy!);
        }}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          drag.current = { x: e.clientX, y: e.clientY };
        }}
        onPointerMove={(e) => {
          if (!drag.current) return;
          moveBy(e.clientX - drag.current.x, e.clientY - drag.current.y);
          drag.current = { x: e.clientX, y: e.clientY };
        }}
        onPointerUp={() => (drag.current = null)}
      >
        Reference
        <button
          type="button"
          aria-label="Close the floating reference"
          onPointerDown={(e) => e.stopPropagation()}
          onClick={() => useUi.setState({ floating: null })}
        >
          ×
        </button>
      </header>
      <Board session={session} onTake={onTake} />
    </section>
  );
}
