import type { RefObject } from 'react';
import { useUi } from '../shared/ui-store';

/** Moves the border between two panes. */
export function Divider({ host }: { readonly host: RefObject<HTMLDivElement | null> }) {
  const split = useUi((s) => s.panes.split);
  const moveTo = (value: number): void =>
    useUi.setState(({ panes }) => ({ panes: { ...panes, split: Math.min(0.85, Math.max(0.15, value)) } }));
  return (
    <div
      className="divider"
      role="separator"
      aria-orientation="vertical"
      aria-label="Border between the panes"
      aria-valuenow={Math.round(split * 100)}
      tabIndex={0}
      style={{ left: `${split * 100}%` }}
      onKeyDown={(e) => {
        if (e.key === 'ArrowLeft') moveTo(split - 0.02);
        if (e.key === 'ArrowRight') moveTo(split + 0.02);
      }}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={(e) => {
        e.stopPropagation();
        if (!e.currentTarget.hasPointerCapture(e.pointerId) || !host.current) return;
        const box = host.current.getBoundingClientRect();
        moveTo((e.clientX - box.left) / box.width);
      }}
      onDoubleClick={() => moveTo(0.66)}
    />
  );
}
