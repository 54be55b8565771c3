import { useGesture } from '@use-gesture/react';
import { useCallback, useEffect, useRef, useState, type PointerEvent } from 'react';
import { rgbToHex } from '../../core/color';
import type { BoardPlace, Reference } from '../../core/document';
import { type Session, useProject } from '../project';
import { useBoardTaker } from '../shared/board-taker';
import { newGesture } from '../shared/gesture';
import { notify } from '../shared/notify';
import { useUi } from '../shared/ui-store';
import {
  cornersOf,
  fitPictures,
  onPicture,
  pictureAt,
  pixelAt,
  toBoard,
  turnedAndScaled,
  zoomedAt,
  type BoardView,
  type Point,
} from './board-geometry';
import { useBoardLasso } from './board-lasso';
import { pictureColor } from './board-pixels';
import { BoardPicture } from './BoardPicture';

interface Props {
  readonly session: Session;
  /** Pictures are moved, turned and scaled instead of picked from. */
  readonly arranges?: boolean;
  /** Told of a colour that was picked. */
  readonly onTake?: ((color: string) => void) | undefined;
  /** Told when the board is zoomed by hand; above 1: nearer. */
  readonly onZoom?: (at: Point, factor: number) => void;
  /** Lets others zoom and move it; returns how to let go. */
  readonly attach?: (link: {
    zoom(step: { x: number; y: number; factor: number }): void;
    pan(dx: number, dy: number): void;
  }) => () => void;
}

const NONE: readonly Reference[] = [];

/** The pictures of the easel as they lie on its board: the wheel comes nearer, a drag moves it, a click picks a colour. */
export function Board({ session, arranges = false, onTake, onZoom, attach }: Props) {
  const references = useProject((s) => s.document?.references) ?? NONE;
  const chosen = useUi((s) => s.reference);
  const grey = useUi((s) => s.referenceGrey);
  const focus = references.find((r) => r.id === chosen) ?? references[0];
  const host = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [view, setView] = useState<BoardView | null>(null);
  const [ready, setReady] = useState<ReadonlySet<number>>(new Set());
  // Zoomed and moved by hand from this view on; before, the chosen picture fills the board.
  const shown = view ?? fitPictures(focus ? [focus] : [], size);
  const shownNow = useRef(shown);
  shownNow.current = shown;
  const { id: focusId } = focus ?? {};

  useEffect(() => {
    if (!host.current) return;
    const watch = new ResizeObserver(([e]) =>
      setSize({ width: e!.contentRect.width, height: e!.contentRect.height }),
    );
    watch.observe(host.current);
    return () => watch.disconnect();
  }, []);
  useEffect(() => setView(null), [focusId]);

  const zoomAt = useCallback(
    (at: Point, factor: number) => setView(zoomedAt(shownNow.current, at, factor)),
    [],
  );
  const pan = useCallback(
    (dx: number, dy: number) =>
      setView({ ...shownNow.current, x: shownNow.current.x + dx, y: shownNow.current.y + dy }),
    [],
  );
  useEffect(
    () => attach?.({ zoom: ({ x, y, factor }) => zoomAt({ x, y }, factor), pan }),
    [attach, zoomAt, pan],
  );

  const local = (clientX: number, clientY: number): Point => {
    const box = host.current!.getBoundingClientRect();
    return { x: clientX - box.left, y: clientY - box.top };
  };
  const tapped = async (clientX: number, clientY: number): Promise<void> => {
    const at = toBoard(shownNow.current, local(clientX, clientY));
    const picture = pictureAt(references, at);
    if (!picture) return;
    const { take } = useBoardTaker.getState();
    if (take) {
      const scale = 1 / (picture.board.scale * shownNow.current.zoom);
      useBoardTaker.setState({ take: null });
      return take({ reference: picture.id, ...onPicture(picture, at), scale });
    }
    if (arranges) {
      useUi.setState({ reference: picture.id });
      return;
    }
    try {
      const { pickSize } = useUi.getState();
      const color = await pictureColor(session.project, picture.id, pixelAt(picture, at)!, pickSize);
      if (!color) return;
      useUi.setState({ color: rgbToHex(color), picking: false });
      onTake?.(rgbToHex(color));
    } catch {
      notify(`“${picture.name}” can’t be opened. Remove it from the easel and add it again.`);
    }
  };
  const lasso = useBoardLasso(session, references, shown);
  const grip = useRef<{ readonly picture: Reference; readonly gesture: string } | null>(null);
  const move = (picture: Reference, board: BoardPlace, gesture: string): void =>
    void session.command({ do: 'patch-reference', reference: picture.id, patch: { board } }, gesture);

  useGesture(
    {
      onDragStart: ({ xy: [x, y] }) => {
        if (lasso.isOn) return lasso.add(toBoard(shownNow.current, local(x, y)));
        const picture = arranges ? pictureAt(references, toBoard(shownNow.current, local(x, y))) : undefined;
        grip.current = picture ? { picture, gesture: newGesture() } : null;
        if (picture) useUi.setState({ reference: picture.id });
      },
      onDrag: ({ tap, pinching, cancel, xy: [x, y], delta: [dx, dy], movement: [mx, my] }) => {
        if (pinching) return cancel();
        if (tap) return void tapped(x, y);
        if (lasso.isOn) return lasso.add(toBoard(shownNow.current, local(x, y)));
        if (!grip.current) return pan(dx, dy);
        const { picture, gesture } = grip.current;
        const { zoom } = shownNow.current;
        move(
          picture,
          { ...picture.board, x: picture.board.x + mx / zoom, y: picture.board.y + my / zoom },
          gesture,
        );
      },
      onDragEnd: ({ tap }) => lasso.isOn && !tap && lasso.end(),
      onPinch: ({ origin: [x, y], delta: [factor], offset: [scale], memo }) => {
        const before = (memo as number | undefined) ?? scale - factor;
        const at = local(x, y);
        zoomAt(at, scale / before);
        return scale;
      },
      onWheel: ({ event, delta: [, dy], pinching }) => {
        event.preventDefault();
        if (pinching) return;
        const at = local(event.clientX, event.clientY);
        const factor = Math.exp(-Math.max(-400, Math.min(400, dy)) * 0.0016);
        zoomAt(at, factor);
        onZoom?.(at, factor);
      },
    },
    {
      target: host,
      eventOptions: { passive: false },
      drag: { filterTaps: true, tapsThreshold: 4, pointer: { keys: false } },
    },
  );

  return (
    <div
      className={`board${arranges ? ' arranging' : ''}${lasso.isOn ? ' drawing' : ''}`}
      ref={host}
      data-testid="reference"
      data-ready={focusId !== undefined && ready.has(focusId)}
      onDoubleClick={() => setView(null)}
    >
      {references.map((picture) => (
        <BoardPicture
          key={picture.id}
          project={session.project}
          picture={picture}
          view={shown}
          grey={grey || picture.board.values}
          onReady={(id) => setReady((all) => new Set(all).add(id))}
        />
      ))}
      {arranges && focus && (
        <Handles key={focus.id} picture={focus} view={shown} local={local} onMove={move} />
      )}
      {lasso.over}
      {references.length === 0 && (
        <p className="reference-empty">Drop or paste a reference picture here, or add one from a file.</p>
      )}
    </div>
  );
}

/** The corners of the chosen picture: a drag turns and scales it about its middle. */
function Handles({
  picture,
  view,
  local,
  onMove,
}: {
  readonly picture: Reference;
  readonly view: BoardView;
  readonly local: (clientX: number, clientY: number) => Point;
  readonly onMove: (picture: Reference, board: BoardPlace, gesture: string) => void;
}) {
  const drag = useRef<{ readonly from: Point; readonly board: BoardPlace; readonly gesture: string } | null>(
    null,
  );
  const place = ({ x, y }: Point): Point => ({ x: view.x + x * view.zoom, y: view.y + y * view.zoom });
  const corners = cornersOf(picture).map(place);
  const at = (e: PointerEvent): Point => toBoard(view, local(e.clientX, e.clientY));
  return (
    <svg className="board-handles" aria-hidden>
      <polygon points={corners.map(({ x, y }) => `${x},${y}`).join(' ')} />
      {corners.map(({ x, y }, i) => (
        <circle
          key={i}
          cx={x}
          cy={y}
          r={6}
          onPointerDown={(e) => {
            e.stopPropagation();
            e.currentTarget.setPointerCapture(e.pointerId);
            drag.current = { from: at(e), board: picture.board, gesture: newGesture() };
          }}
          onPointerMove={(e) => {
            if (!drag.current) return;
            e.stopPropagation();
            const { from, board, gesture } = drag.current;
            onMove(picture, turnedAndScaled(board, from, at(e), e.shiftKey), gesture);
          }}
          onPointerUp={() => (drag.current = null)}
          onPointerCancel={() => (drag.current = null)}
        >
          <title>Turn and scale; with Shift it turns by 15°</title>
        </circle>
      ))}
    </svg>
  );
}
