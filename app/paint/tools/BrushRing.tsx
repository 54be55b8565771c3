import { useImperativeHandle, useRef, type Ref } from 'react';
import { brushInHand, useUi } from '../../shared/ui-store';
import { usePaint } from '../paint-store';

/** A ring in the whole picture, pixels. */
export interface GhostAt {
  readonly x: number;
  readonly y: number;
  readonly diameter: number;
}

export interface RingPlace {
  /** Moves the ring's middle, pixels of the picture; null hides it. */
  put(at: GhostAt | null): void;
  /** Shows where else the stroke would be made. */
  ghosts(list: readonly GhostAt[]): void;
  /** Shows the string from the pen to the pointer; without a pen none. */
  pull(pen: { x: number; y: number } | null, pointer: { screenX: number; screenY: number }): void;
}

/**
 * The brush's reach: the outer ring where it ends, the inner one where it covers fully. It follows the pointer without React:
 * drawing the component anew for each event took longer than the stroke.
 */
export function BrushRing({ place }: { readonly place: Ref<RingPlace> }) {
  const brush = useUi(brushInHand);
  const svg = useRef<SVGSVGElement>(null);
  const string = useRef<SVGLineElement>(null);
  const others = useRef<SVGPathElement>(null);
  const erasing = usePaint((s) => s.erasing);
  const size = useRef(brush.size);
  size.current = brush.size;
  useImperativeHandle(
    place,
    () => ({
      put: (at) => {
        if (!svg.current) return;
        svg.current.style.visibility = at ? 'visible' : 'hidden';
        if (!at) return;
        // A size that isn't told in pixels depends on the place.
        svg.current.style.transform = `translate(${at.x}px, ${at.y}px) scale(${at.diameter / size.current})`;
      },
      ghosts: (list) => others.current?.setAttribute('d', list.map(circle).join(' ')),
      pull: (pen, { screenX, screenY }) => {
        const line = string.current;
        if (!line) return;
        const isTight = pen !== null && Math.hypot(pen.x - screenX, pen.y - screenY) > 2;
        line.style.visibility = isTight ? 'visible' : 'hidden';
        if (!isTight) return;
        line.setAttribute('x1', String(pen.x));
        line.setAttribute('y1', String(pen.y));
        line.setAttribute('x2', String(screenX));
        line.setAttribute('y2', String(screenY));
      },
    }),
    [],
  );
  const r = Math.max(1, brush.size / 2);
  const inner = r * (1 - brush.shape.edge);
  return (
    <>
      <svg className="steady-string" aria-hidden>
        <line ref={string} style={{ visibility: 'hidden' }} />
        <path ref={others} className="ghost" />
      </svg>
      <svg
        ref={svg}
        className="brush-ring"
        style={{ left: -r - 2, top: -r - 2, visibility: 'hidden', transformOrigin: 'center' }}
        width={r * 2 + 4}
        height={r * 2 + 4}
        aria-hidden
      >
        <circle cx={r + 2} cy={r + 2} r={r} className="dark" />
        <circle cx={r + 2} cy={r + 2} r={r} className={brush.erase !== erasing ? 'light dashed' : 'light'} />
        {inner > 3 && inner < r - 2 && <circle cx={r + 2} cy={r + 2} r={inner} className="light faint" />}
      </svg>
    </>
  );
}

/** A circle as a path. */
const circle = ({ x, y, diameter }: GhostAt): string => {
  const r = Math.max(1.5, diameter / 2);
  return `M${x - r},${y} a${r},${r} 0 1 0 ${2 * r},0 a${r},${r} 0 1 0 ${-2 * r},0`;
};
