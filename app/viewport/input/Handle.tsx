import { useRef, type PointerEvent } from 'react';
import { newGesture } from '../../shared/gesture';
import type { Point } from './LineOver';

/** Something on the model that is dragged. */
export function Handle({
  at,
  kind,
  color,
  name,
  onDrag,
}: {
  readonly at: Point;
  readonly kind: 'square' | 'round' | 'ring';
  readonly color: string;
  readonly name: string;
  /** @param to pixels of the pane @param from where it was taken hold of */
  readonly onDrag: (to: Point, gesture: string, from: Point) => void;
}) {
  const hold = useRef({ gesture: '', from: { x: 0, y: 0 } });
  const placeOf = (e: PointerEvent<SVGElement>): Point => {
    const { left, top } = e.currentTarget.ownerSVGElement!.getBoundingClientRect();
    return { x: e.clientX - left, y: e.clientY - top };
  };
  const shared = {
    className: `model-handle ${kind}`,
    fill: kind === 'ring' ? 'none' : color,
    role: 'img',
    'aria-label': name,
    onPointerDown: (e: PointerEvent<SVGElement>) => {
      if (e.button !== 0) return;
      e.stopPropagation();
      e.currentTarget.setPointerCapture(e.pointerId);
      hold.current = { gesture: newGesture(), from: placeOf(e) };
    },
    onPointerMove: (e: PointerEvent<SVGElement>) => {
      if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
      onDrag(placeOf(e), hold.current.gesture, hold.current.from);
    },
  };
  if (kind === 'ring') {
    return (
      <g className="ring-handle">
        <circle cx={at.x} cy={at.y} r={26} className="model-handle ring" fill="none" />
        {/* Broader than it looks, and without gaps: that is what is taken hold of. */}
        <circle cx={at.x} cy={at.y} r={26} {...shared} className="ring-grip" />
      </g>
    );
  }
  return kind === 'square' ? (
    <rect x={at.x - 6} y={at.y - 6} width={12} height={12} {...shared}>
      <title>{name}</title>
    </rect>
  ) : (
    <circle cx={at.x} cy={at.y} r={8} {...shared}>
      <title>{name}</title>
    </circle>
  );
}
