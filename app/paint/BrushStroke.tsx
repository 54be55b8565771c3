import { useId } from 'react';
import type { Brush } from '../shared/ui-store';

const PATH = 'M8 26 C 20 6, 32 8, 42 20 S 66 32, 80 11';

/** A stroke of the brush, as it would come out. */
export function BrushStroke({ brush }: { readonly brush: Brush }) {
  const id = useId();
  const width = Math.min(20, 1.5 + Math.sqrt(brush.size) * 1.5);
  const blur = (brush.edge * width) / 5;
  return (
    <svg viewBox="0 0 88 38" aria-hidden>
      <defs>
        <filter id={id} x="-20%" y="-40%" width="140%" height="180%">
          <feGaussianBlur stdDeviation={blur} />
        </filter>
        <mask id={`${id}m`}>
          <rect width="88" height="38" fill="#fff" />
          <path d={PATH} fill="none" stroke="#000" strokeWidth={width * 0.8} strokeLinecap="round" />
        </mask>
      </defs>
      {brush.erase ? (
        <rect x="3" y="4" width="82" height="30" rx="4" fill="#8d8891" mask={`url(#${id}m)`} />
      ) : (
        <path
          d={PATH}
          fill="none"
          stroke="#35323a"
          strokeOpacity={0.35 + 0.65 * brush.opacity}
          strokeWidth={width}
          strokeLinecap="round"
          filter={`url(#${id})`}
        />
      )}
    </svg>
  );
}
