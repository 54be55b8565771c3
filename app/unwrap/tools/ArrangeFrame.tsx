import { useEffect, useRef, useState } from 'react';
import { sheetOfFace, type UvMesh } from '../../../core/mesh';
import { boxOf, IDENTITY_MOVE, sheetMove, type SheetMove } from '../../../core/unwrap';
import { useLayout } from '../../shared/layout-store';
import { useEveryPicture, type StageView } from '../../viewport';

type Handle = 'turn' | `${'low' | 'high'} ${'left' | 'right'}`;

const CORNERS = ['low left', 'low right', 'high left', 'high right'] as const;

/** With Shift, turning goes by this. */
const STEP = Math.PI / 12;

/** Above this, chips lie over the picture: the knob stands below the box then, CSS pixels. */
const CHIPS_BELOW = 50;

/** How far the turning knob stands off the box, CSS pixels. */
const KNOB_AWAY = 22;

interface Drag {
  readonly handle: Handle;
  readonly move: SheetMove;
  /** What is told beside the pointer. */
  readonly words: string;
}

interface Props {
  readonly view: StageView;
  readonly mesh: UvMesh;
  readonly onMove: (label: string, move: SheetMove) => void;
}

/** The box round the chosen islands in the flat view: corners scale it, the knob turns it. */
export function ArrangeFrame({ view, mesh, onMove }: Props) {
  useEveryPicture(view);
  const chosen = useLayout((s) => s.chosen);
  const [drag, setDrag] = useState<Drag | null>(null);
  const dragNow = useRef<Drag | null>(null);
  const pane = view.pane('sheet');
  useEffect(() => {
    const cancel = (e: KeyboardEvent): void => {
      if (e.key !== 'Escape' || !dragNow.current) return;
      // Only the drag is given up, not what is chosen.
      e.preventDefault();
      dragNow.current = null;
      setDrag(null);
      view.moveChosen(IDENTITY_MOVE);
    };
    window.addEventListener('keydown', cancel, { capture: true });
    return () => window.removeEventListener('keydown', cancel, { capture: true });
  }, [view]);
  if (!pane || chosen.size === 0) return null;
  const points: number[] = [];
  for (const f of chosen) {
    if (sheetOfFace(mesh, f) !== view.sheet) continue;
    for (let k = 0; k < 3; k++) {
      const v = mesh.indices[f * 3 + k]! * 2;
      points.push(mesh.uvs[v]!, mesh.uvs[v + 1]!);
    }
  }
  if (points.length === 0) return null;
  const box = boxOf(points);
  const side = view.flat.pixels;
  const place = (u: number, v: number): { x: number; y: number } => ({
    x: view.flat.place.x + u * side,
    y: view.flat.place.y + (1 - v) * side,
  });
  const middle = [(box.left + box.right) / 2, (box.low + box.high) / 2] as const;
  const isBelow = place(0, box.high).y - KNOB_AWAY < CHIPS_BELOW;
  const corner = (name: (typeof CORNERS)[number]): readonly [number, number] => {
    const [v, u] = name.split(' ') as ['low' | 'high', 'left' | 'right'];
    return [box[u], box[v]];
  };
  const moved = ([u, v]: readonly [number, number]): { x: number; y: number } => {
    const m = drag?.move ?? IDENTITY_MOVE;
    return place(m.a * u + m.b * v + m.e, m.c * u + m.d * v + m.f);
  };
  const uvUnder = (e: React.PointerEvent<SVGElement>): readonly [number, number] => {
    const svg = (e.currentTarget.ownerSVGElement ?? e.currentTarget).getBoundingClientRect();
    return [
      (e.clientX - svg.left - view.flat.place.x) / side,
      1 - (e.clientY - svg.top - view.flat.place.y) / side,
    ];
  };
  const dragTo = (handle: Handle, at: readonly [number, number], shift: boolean): Drag => {
    if (handle === 'turn') {
      const raw = Math.atan2(at[1] - middle[1], at[0] - middle[0]) + (isBelow ? 1 : -1) * (Math.PI / 2);
      const turn = shift ? Math.round(raw / STEP) * STEP : raw;
      const degrees = Math.round(((((turn * 180) / Math.PI + 540) % 360) - 180) * 10) / 10;
      return { handle, move: sheetMove(middle, { turn }), words: `${degrees}°` };
    }
    const from = corner(handle);
    const [oppositeV, oppositeU] = handle.split(' ').map((w) => OPPOSITE[w as keyof typeof OPPOSITE]);
    const fixed = corner(`${oppositeV} ${oppositeU}` as (typeof CORNERS)[number]);
    const ratio = (k: 0 | 1): number =>
      Math.abs(from[k] - fixed[k]) > 1e-9 ? (at[k] - fixed[k]) / (from[k] - fixed[k]) : 1;
    const diagonal = [from[0] - fixed[0], from[1] - fixed[1]] as const;
    const even =
      ((at[0] - fixed[0]) * diagonal[0] + (at[1] - fixed[1]) * diagonal[1]) /
      (diagonal[0] ** 2 + diagonal[1] ** 2 || 1);
    const [scaleU, scaleV] = (shift ? [ratio(0), ratio(1)] : [even, even]).map((s) => Math.max(0.02, s)) as [
      number,
      number,
    ];
    const percent = (s: number): string => `${Math.round(s * 1000) / 10} %`;
    return {
      handle,
      move: sheetMove(fixed, { scaleU, scaleV }),
      words: shift ? `${percent(scaleU)} × ${percent(scaleV)}` : percent(scaleU),
    };
  };
  const handlers = (handle: Handle) => ({
    onPointerDown: (e: React.PointerEvent<SVGElement>): void => {
      if (e.button !== 0) return;
      e.stopPropagation();
      e.currentTarget.setPointerCapture(e.pointerId);
      dragNow.current = { handle, move: IDENTITY_MOVE, words: '' };
      setDrag(dragNow.current);
    },
    onPointerMove: (e: React.PointerEvent<SVGElement>): void => {
      if (dragNow.current?.handle !== handle) return;
      e.stopPropagation();
      dragNow.current = dragTo(handle, uvUnder(e), e.shiftKey);
      setDrag(dragNow.current);
      view.moveChosen(dragNow.current.move);
    },
    onPointerUp: (e: React.PointerEvent<SVGElement>): void => {
      if (dragNow.current?.handle !== handle) return;
      e.stopPropagation();
      const { move, words } = dragNow.current;
      dragNow.current = null;
      setDrag(null);
      view.moveChosen(IDENTITY_MOVE);
      if (words) onMove(handle === 'turn' ? 'Turn islands' : 'Scale islands', move);
    },
    onPointerCancel: (): void => {
      dragNow.current = null;
      setDrag(null);
      view.moveChosen(IDENTITY_MOVE);
    },
  });
  const outline = (['low left', 'low right', 'high right', 'high left'] as const).map((c) =>
    moved(corner(c)),
  );
  const top = moved([middle[0], isBelow ? box.low : box.high]);
  const centre = moved(middle);
  const length = Math.hypot(top.x - centre.x, top.y - centre.y) || 1;
  const knob = {
    x: top.x + ((top.x - centre.x) / length) * KNOB_AWAY,
    y: top.y + ((top.y - centre.y) / length) * KNOB_AWAY,
  };
  return (
    <svg className="arrange-frame" style={{ left: pane.x }} width={pane.width} height={pane.height}>
      <polygon points={outline.map(({ x, y }) => `${x},${y}`).join(' ')} />
      <line x1={top.x} y1={top.y} x2={knob.x} y2={knob.y} />
      <circle className="handle turn" cx={knob.x} cy={knob.y} r={6} {...handlers('turn')}>
        <title>Turn; with Shift by 15°</title>
      </circle>
      {CORNERS.map((name) => {
        const { x, y } = moved(corner(name));
        return (
          <rect
            key={name}
            className={`handle ${name.replace(' ', '-')}`}
            x={x - 5}
            y={y - 5}
            width={10}
            height={10}
            rx={2}
            {...handlers(name)}
          >
            <title>Scale; with Shift each way by itself</title>
          </rect>
        );
      })}
      {drag?.words && (
        <text x={knob.x + 12} y={knob.y + 4}>
          {drag.words}
        </text>
      )}
    </svg>
  );
}

const OPPOSITE = { low: 'high', high: 'low', left: 'right', right: 'left' } as const;
