import { Vector3 } from 'three';
import type { ReactNode } from 'react';
import type { Vec3 } from '../../../core/math';
import { useEveryPicture } from '../view/viewport-context';
import type { StageView } from '../view/stage-view';

/** A line in model space over the picture, with what is drawn on it. */
export function LineOver({
  view,
  line,
  children,
}: {
  readonly view: StageView;
  readonly line: readonly [Vec3, Vec3];
  /** Told where its ends lie, pixels of the pane. */
  readonly children?: (a: Point, b: Point) => ReactNode;
}) {
  useEveryPicture(view);
  const pane = view.pane('model');
  if (!pane) return null;
  const [a, b] = line.map((p) => view.rig.project(new Vector3(...(p as [number, number, number])))) as [
    Point,
    Point,
  ];
  return (
    <svg className="ramp-line" style={{ left: pane.x }} width={pane.width} height={pane.height}>
      <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} className="under" />
      <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} />
      {children?.(a, b)}
    </svg>
  );
}

export interface Point {
  readonly x: number;
  readonly y: number;
}
