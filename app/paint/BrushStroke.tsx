import { useRef } from 'react';
import type { Brush } from '../shared/brush';
import { useStrokePicture } from './brush-pictures';

/** A stroke of the brush, made as on the model. While another one is made the last one stays. */
export function BrushStroke({ brush }: { readonly brush: Brush }) {
  const url = useStrokePicture(brush);
  const last = useRef<string | null>(null);
  if (url) last.current = url;
  const seen = url ?? last.current;
  return seen ? (
    <img className="brush-stroke" src={seen} alt="" draggable={false} />
  ) : (
    <i className="brush-stroke" aria-hidden />
  );
}
