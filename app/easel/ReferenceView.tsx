import { useCallback, useEffect, useRef, useState } from 'react';
import { rgbToHex, type Rgb } from '../../core/color';
import { notify } from '../shared/notify';
import { useProject } from '../project';
import { useUi } from '../shared/ui-store';
import { averageColor } from './average-color';
import { useReferenceUrl } from './reference-pictures';

interface Place {
  readonly x: number;
  readonly y: number;
  readonly zoom: number;
}

interface Props {
  readonly project: string;
  /** Told when the picture is zoomed or moved by hand. */
  readonly onZoom?: (x: number, y: number, factor: number) => void;
  /** Lets others zoom and move it; returns how to let go. */
  readonly attach?: (link: {
    zoom(step: { x: number; y: number; factor: number }): void;
    pan(dx: number, dy: number): void;
  }) => () => void;
}

/** The reference picture: wheel zooms to the pointer, a drag moves it, a click takes a colour. */
export function ReferenceView({ project, onZoom, attach }: Props) {
  const references = useProject((s) => s.document?.references);
  const chosen = useUi((s) => s.reference);
  const grey = useUi((s) => s.referenceGrey);
  const pickSize = useUi((s) => s.pickSize);
  const reference = references?.find((r) => r.id === chosen) ?? references?.[0] ?? null;
  const url = useReferenceUrl(project, reference?.id ?? null);
  const host = useRef<HTMLDivElement>(null);
  const pixels = useRef<ImageData | null>(null);
  const [place, setPlace] = useState<Place>({ x: 0, y: 0, zoom: 1 });
  const [size, setSize] = useState({ width: 1, height: 1 });
  const drag = useRef<{ x: number; y: number; moved: boolean } | null>(null);

  useEffect(() => {
    if (!host.current) return;
    const watch = new ResizeObserver(([e]) =>
      setSize({ width: e!.contentRect.width, height: e!.contentRect.height }),
    );
    watch.observe(host.current);
    return () => watch.disconnect();
  }, []);

  useEffect(() => setPlace({ x: 0, y: 0, zoom: 1 }), [reference?.id]);

  useEffect(() => {
    pixels.current = null;
    if (!url) return;
    let gone = false;
    void (async () => {
      const bitmap = await createImageBitmap(await (await fetch(url)).blob(), {
        colorSpaceConversion: 'none',
      });
      const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
      const context = canvas.getContext('2d', { willReadFrequently: true })!;
      context.drawImage(bitmap, 0, 0);
      if (!gone) pixels.current = context.getImageData(0, 0, bitmap.width, bitmap.height);
      bitmap.close();
    })().catch(() =>
      notify('The reference picture can’t be opened. Take it off the easel and bring it again.'),
    );
    return () => void (gone = true);
  }, [url]);

  const zoomAt = useCallback((x: number, y: number, factor: number) => {
    setPlace((p) => {
      const zoom = Math.min(40, Math.max(0.2, p.zoom * factor));
      const k = zoom / p.zoom;
      return { zoom, x: x - (x - p.x) * k, y: y - (y - p.y) * k };
    });
  }, []);

  useEffect(
    () =>
      attach?.({
        zoom: ({ x, y, factor }) => zoomAt(x, y, factor),
        pan: (dx, dy) => setPlace((p) => ({ ...p, x: p.x + dx, y: p.y + dy })),
      }),
    [attach, zoomAt],
  );

  useEffect(() => {
    const element = host.current;
    if (!element) return;
    const wheel = (e: WheelEvent): void => {
      e.preventDefault();
      const box = element.getBoundingClientRect();
      const factor = Math.exp(-Math.max(-400, Math.min(400, e.deltaY)) * 0.0016);
      zoomAt(e.clientX - box.left, e.clientY - box.top, factor);
      onZoom?.(e.clientX - box.left, e.clientY - box.top, factor);
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [zoomAt, onZoom]);

  // The whole picture fits at zoom 1.
  const fit = reference ? Math.min(size.width / reference.width, size.height / reference.height) : 1;
  const scale = fit * place.zoom;
  const left = reference ? place.x + ((size.width - reference.width * fit) / 2) * place.zoom : 0;
  const top = reference ? place.y + ((size.height - reference.height * fit) / 2) * place.zoom : 0;

  const colorUnder = (clientX: number, clientY: number): Rgb | null => {
    const box = host.current?.getBoundingClientRect();
    if (!box || !pixels.current) return null;
    return averageColor(
      pixels.current,
      Math.floor((clientX - box.left - left) / scale),
      Math.floor((clientY - box.top - top) / scale),
      pickSize,
    );
  };

  return (
    <div
      className="reference"
      ref={host}
      data-testid="reference"
      onPointerDown={(e) => {
        drag.current = { x: e.clientX, y: e.clientY, moved: false };
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={(e) => {
        const d = drag.current;
        if (!d) return;
        const dx = e.clientX - d.x;
        const dy = e.clientY - d.y;
        // A hand shakes a little when it clicks.
        if (!d.moved && Math.hypot(dx, dy) < 4) return;
        drag.current = { x: e.clientX, y: e.clientY, moved: true };
        setPlace((p) => ({ ...p, x: p.x + dx, y: p.y + dy }));
      }}
      onPointerUp={(e) => {
        const d = drag.current;
        drag.current = null;
        if (!d || d.moved) return;
        const color = colorUnder(e.clientX, e.clientY);
        if (color) useUi.setState({ color: rgbToHex(color), picking: false });
      }}
      onDoubleClick={() => setPlace({ x: 0, y: 0, zoom: 1 })}
    >
      {reference && url ? (
        <img
          src={url}
          alt={`Reference: ${reference.name}`}
          draggable={false}
          className={scale > 2 ? 'pixelated' : ''}
          style={{
            width: reference.width * scale,
            height: reference.height * scale,
            left,
            top,
            filter: grey ? 'grayscale(1)' : undefined,
          }}
        />
      ) : (
        <p className="reference-empty">
          {reference ? 'Opening the picture…' : 'Drop or paste a reference picture here.'}
        </p>
      )}
    </div>
  );
}
