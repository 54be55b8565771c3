import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { monotoneCurve } from '../../core/math';
import { newGesture, useKeyRun } from './gesture';

type Point = [x: number, y: number];

interface Props {
  readonly points: readonly Point[];
  readonly onChange: (points: Point[], gesture: string) => void;
}

const SIDE = 100;
const MOST = 16;

/** Points stay this far apart from left to right. */
const APART = 0.01;

/** A curve from dark to light: a click puts a point in, a drag moves one, Delete takes the one in hand out. */
export function CurveEditor({ points, onChange }: Props) {
  const area = useRef<SVGSVGElement>(null);
  const gesture = useRef('');
  const keyRun = useKeyRun<readonly Point[]>(points);
  const [held, setHeld] = useState<number | null>(null);
  const at = (e: PointerEvent): Point => {
    const box = area.current!.getBoundingClientRect();
    const part = (v: number): number => Math.min(1, Math.max(0, v));
    return [part((e.clientX - box.left) / box.width), part(1 - (e.clientY - box.top) / box.height)];
  };
  const move = (from: readonly Point[], index: number, [x, y]: Point): Point[] => {
    const low = index > 0 ? from[index - 1]![0] + APART : 0;
    const high = index < from.length - 1 ? from[index + 1]![0] - APART : 1;
    return [...from].with(index, [Math.min(high, Math.max(low, x)), Math.min(1, Math.max(0, y))]);
  };
  const press = (e: PointerEvent): void => {
    e.currentTarget.setPointerCapture(e.pointerId);
    gesture.current = newGesture();
    const [x, y] = at(e);
    const near = points.findIndex((p) => Math.hypot(p[0] - x, p[1] - y) < 0.06);
    if (near >= 0) {
      setHeld(near);
      return;
    }
    const index = points.filter((p) => p[0] < x).length;
    const free = points.every((p) => Math.abs(p[0] - x) >= APART);
    if (points.length >= MOST || !free) return;
    setHeld(index);
    onChange(points.toSpliced(index, 0, [x, y]), gesture.current);
  };
  const keys = (e: KeyboardEvent, index: number): void => {
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
    if (step) {
      const by = (from: readonly Point[]): Point[] => {
        const [x, y] = from[index]!;
        return move(from, index, [x + step[0]! * 0.01, y + step[1]! * 0.01]);
      };
      keyRun(e.timeStamp, by, (next, g) => onChange([...next], g));
    } else if ((e.key === 'Delete' || e.key === 'Backspace') && points.length > 2) {
      onChange(points.toSpliced(index, 1), newGesture());
    } else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const curve = monotoneCurve(points);
  const line = Array.from({ length: 101 }, (_, i) => `${i},${(1 - curve(i / 100)) * SIDE}`).join(' ');
  return (
    <svg
      ref={area}
      className="curve-editor"
      viewBox={`-4 -4 ${SIDE + 8} ${SIDE + 8}`}
      role="group"
      aria-label="Curve from dark to light"
      onPointerDown={press}
      onPointerMove={(e) =>
        held !== null && e.buttons > 0 && onChange(move(points, held, at(e)), gesture.current)
      }
    >
      <rect width={SIDE} height={SIDE} className="curve-ground" />
      <path d={`M25 0V100M50 0V100M75 0V100M0 25H100M0 50H100M0 75H100`} className="curve-grid" />
      <line x1={0} y1={SIDE} x2={SIDE} y2={0} className="curve-grid" />
      <polyline points={line} className="curve-line" />
      {points.map(([x, y], i) => (
        <circle
          key={i}
          cx={x * SIDE}
          cy={(1 - y) * SIDE}
          r={3.2}
          className={held === i ? 'curve-point on' : 'curve-point'}
          tabIndex={0}
          role="slider"
          aria-label={`Point ${i + 1}`}
          aria-valuenow={Math.round(y * 100)}
          aria-valuetext={`${Math.round(x * 100)} becomes ${Math.round(y * 100)}`}
          onFocus={() => setHeld(i)}
          onKeyDown={(e) => keys(e, i)}
        />
      ))}
    </svg>
  );
}
