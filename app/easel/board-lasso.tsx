import { useEffect, useRef, useState, type ReactNode } from 'react';
import type { Reference } from '../../core/document';
import type { Session } from '../project';
import { useUi } from '../shared/ui-store';
import { onPicture, pictureAt, type BoardView, type Point } from './board-geometry';
import { addPictureColors } from './picture-palette';

interface Lasso {
  /** A drag draws a line just now, or the next will. */
  readonly isOn: boolean;
  /** Takes a point of the board; the first begins the line. */
  add(at: Point): void;
  end(): void;
  /** The line as it is being drawn. */
  readonly over: ReactNode;
}

/** A line drawn on the board: the colours of what it holds of the picture that it begins on come into the palette. */
export function useBoardLasso(session: Session, references: readonly Reference[], view: BoardView): Lasso {
  const count = useUi((s) => s.lassoColors);
  const [line, setLine] = useState<readonly Point[]>([]);
  const points = useRef<Point[]>([]);
  const isOn = count !== null;
  const clear = (): void => {
    points.current = [];
    setLine([]);
    useUi.setState({ lassoColors: null });
  };
  useEffect(() => {
    if (!isOn) return;
    const leave = (e: KeyboardEvent): void => {
      if (e.key === 'Escape') clear();
    };
    window.addEventListener('keydown', leave);
    return () => window.removeEventListener('keydown', leave);
  }, [isOn]);
  return {
    isOn,
    add: (at) => {
      points.current.push(at);
      setLine([...points.current]);
    },
    end: () => {
      const drawn = points.current;
      clear();
      const picture = drawn[0] && pictureAt(references, drawn[0]);
      if (!picture || count === null || drawn.length < 3) return;
      const within = drawn.map((p) => onPicture(picture, p)).map(({ x, y }) => [x, y] as const);
      void addPictureColors(session, [{ ...picture, within }], count);
    },
    over: line.length > 1 && (
      <svg className="board-lasso" aria-hidden>
        <polygon
          points={line.map(({ x, y }) => `${view.x + x * view.zoom},${view.y + y * view.zoom}`).join(' ')}
        />
      </svg>
    ),
  };
}
