import { useEffect, useRef, useState, type PointerEvent } from 'react';
import type { ScratchStroke } from '../../core/engine';
import type { Brush } from '../shared/brush';
import { Chip } from '../shared/Chip';
import { jobPool } from '../shared/platform';
import { useUi } from '../shared/ui-store';
import { BrushStroke } from './BrushStroke';
import { shownOf } from './brush-pictures';

/** Strokes that are kept on it: the oldest goes. */
const MOST = 14;

/** Pixels of the patch's picture: see `scratchPicture`. */
const WIDE = 256;

/** A place to try the brush in hand: what is drawn is made as on the model, and belongs to no project. */
export function ScratchPatch({ brush }: { readonly brush: Brush }) {
  const strokes = useRef<ScratchStroke[]>([]);
  const [url, setUrl] = useState<string | null>(null);
  const working = useRef(false);
  const asked = useRef(false);
  const draws = useRef<number | null>(null);
  const color = useUi((s) => s.color);
  useEffect(() => () => void (url && URL.revokeObjectURL(url)), [url]);

  const draw = async (): Promise<void> => {
    asked.current = true;
    if (working.current) return;
    working.current = true;
    while (asked.current) {
      asked.current = false;
      const png = await jobPool.run('scratchPicture', { strokes: strokes.current }).catch(() => null);
      if (png) setUrl(URL.createObjectURL(new Blob([png as Uint8Array<ArrayBuffer>], { type: 'image/png' })));
    }
    working.current = false;
  };
  const put = (e: PointerEvent<HTMLDivElement>): void => {
    const box = e.currentTarget.getBoundingClientRect();
    const k = WIDE / box.width;
    const { samples } = strokes.current.at(-1)!;
    samples.push(
      (e.clientX - box.left) * k,
      (e.clientY - box.top) * k,
      e.pointerType === 'pen' ? Math.max(0.02, e.pressure) : 1,
      e.timeStamp,
    );
    void draw();
  };
  return (
    <div className="scratch">
      <div
        className="scratch-patch"
        role="img"
        aria-label="A patch to try the brush on: draw here"
        title="Draw here to try it"
        onPointerDown={(e) => {
          if (e.button !== 0) return;
          e.currentTarget.setPointerCapture(e.pointerId);
          draws.current = e.pointerId;
          const shown = { ...shownOf(brush), radius: Math.min(48, Math.max(1, brush.size / 2)) };
          const next = { ...shown, opacity: brush.opacity, color, samples: [] };
          strokes.current = [...strokes.current.slice(1 - MOST), next];
          put(e);
        }}
        onPointerMove={(e) => draws.current === e.pointerId && put(e)}
        onPointerUp={() => (draws.current = null)}
        onPointerCancel={() => (draws.current = null)}
      >
        {url ? <img src={url} alt="" draggable={false} /> : <BrushStroke brush={brush} />}
      </div>
      {url && (
        <Chip
          title="An empty patch"
          onClick={() => {
            strokes.current = [];
            setUrl(null);
          }}
        >
          Clear
        </Chip>
      )}
    </div>
  );
}
