import { useEffect, useRef } from 'react';
import type { Reference } from '../../../core/document';
import type { ReferenceRead } from '../../../workers';
import type { PicturePlace } from '../../viewport';
import { useMatch } from '../match-ui';

/** What doesn't belong to the model is veiled; the stroke in hand lies over it. */
export function MaskOver({
  read,
  place,
  reference,
  points,
}: {
  readonly read: ReferenceRead;
  readonly place: PicturePlace;
  readonly reference: Reference;
  readonly points: readonly number[];
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const size = useMatch((s) => s.maskSize);
  const adds = useMatch((s) => s.maskAdds);
  useEffect(() => {
    const { width, height, mask } = read;
    const image = new ImageData(width, height);
    mask.forEach((m, i) => {
      if (m) return;
      // Slanted lines, so that it isn't told by colour alone.
      const isLine = ((i % width) + Math.floor(i / width)) % 8 < 2;
      image.data.set(isLine ? [250, 250, 250, 150] : [30, 28, 32, 165], i * 4);
    });
    canvas.current!.getContext('2d')!.putImageData(image, 0, 0);
  }, [read]);
  const path = points
    .map((_, i) => (i % 2 === 0 ? `${i ? 'L' : 'M'}${points[i]!} ${points[i + 1]!}` : ''))
    .join(' ');
  const box = {
    left: place.x,
    top: place.y,
    width: reference.width * place.scale,
    height: reference.height * place.scale,
  };
  return (
    <>
      <canvas
        ref={canvas}
        className="mask-over"
        width={read.width}
        height={read.height}
        style={box}
        data-testid="mask"
      />
      {points.length > 0 && (
        <svg className="mask-stroke" style={box} viewBox={`0 0 ${reference.width} ${reference.height}`}>
          <path
            d={points.length === 2 ? `${path} l0.1 0` : path}
            strokeWidth={size}
            className={adds ? 'adds' : ''}
          />
        </svg>
      )}
    </>
  );
}
