import { useEffect, useRef, useState, type PointerEvent } from 'react';
import { type Pane } from '../../shared/panes';
import { Chip } from '../../shared/Chip';
import { useCommandBook } from '../../shared/commands';
import { useMatch } from '../match-ui';

/** Where the reference will be. */
export function NoReference({ pane }: { readonly pane: Pane }) {
  const { run } = useCommandBook();
  return (
    <div className="match-none" style={{ left: pane.x, width: pane.width, height: pane.height }}>
      <p>The picture that the model shall look like comes here: drop it, paste it, or</p>
      <Chip primary onClick={() => run('reference-add')}>
        Add a reference…
      </Chip>
    </div>
  );
}

export const clamp = (x: number): number => Math.min(1, Math.max(0, x));

/** True and false in turn. @param rate changes a second; null: it stays true */
export function useFlicker(rate: number | null): boolean {
  const [isPainted, setPainted] = useState(true);
  useEffect(() => {
    if (rate === null) return;
    const timer = setInterval(() => setPainted((p) => !p), 1000 / rate);
    return () => clearInterval(timer);
  }, [rate]);
  return rate === null || isPainted;
}

/** A canvas as large as a pane, in the screen's own pixels. */
export function Drawn({
  pane,
  name,
  children,
}: {
  readonly pane: Pane;
  readonly name: string;
  readonly children: (context: CanvasRenderingContext2D) => void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const element = canvas.current!;
    const ratio = window.devicePixelRatio;
    const [w, h] = [Math.round(pane.width * ratio), Math.round(pane.height * ratio)];
    if (element.width !== w || element.height !== h) Object.assign(element, { width: w, height: h });
    const context = element.getContext('2d')!;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    context.clearRect(0, 0, pane.width, pane.height);
    children(context);
  });
  return <canvas ref={canvas} className="match-canvas" role="img" aria-label={name} />;
}

/** The wipe's line with what it is moved and turned by. */
export function WipeLine({
  at,
  onDrag,
  onMove,
  onEnd,
}: {
  readonly at: { readonly x: number; readonly y: number };
  readonly onDrag: (what: 'wipe' | 'turn') => (e: PointerEvent<HTMLDivElement>) => void;
  readonly onMove: (e: PointerEvent<HTMLDivElement>) => void;
  readonly onEnd: () => void;
}) {
  const { wipe } = useMatch();
  const shared = { onPointerMove: onMove, onPointerUp: onEnd, onPointerCancel: onEnd };
  const degrees = (wipe.angle * 180) / Math.PI;
  const turn = (by: number): void =>
    useMatch.setState((s) => ({ wipe: { ...s.wipe, angle: s.wipe.angle + (by * Math.PI) / 180 } }));
  return (
    <div className="wipe-line" style={{ left: at.x, top: at.y, rotate: `${degrees}deg` }}>
      <div
        className="match-grip wipe-grip"
        onPointerDown={onDrag('wipe')}
        {...shared}
        title="Drag the line"
      />
      <div
        className="match-grip wipe-knob"
        role="slider"
        tabIndex={0}
        aria-label="Angle of the wipe"
        aria-valuenow={Math.round(degrees)}
        onPointerDown={onDrag('turn')}
        {...shared}
        onKeyDown={(e) => {
          const by = { ArrowLeft: -5, ArrowRight: 5 }[e.key];
          if (by === undefined) return;
          e.preventDefault();
          e.stopPropagation();
          turn(by);
        }}
        title="Drag to turn the line"
      />
    </div>
  );
}

export function useSize(host: React.RefObject<HTMLDivElement | null>) {
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    if (!host.current) return;
    const watch = new ResizeObserver(([e]) =>
      setSize({ width: e!.contentRect.width, height: e!.contentRect.height }),
    );
    watch.observe(host.current);
    return () => watch.disconnect();
  }, [host]);
  return size;
}
