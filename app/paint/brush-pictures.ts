import { useEffect, useRef } from 'react';
import { create } from 'zustand';
import { base64ToBytes } from '../../core/base64';
import type { ShownBrush } from '../../core/engine';
import { PICTURE_TIP } from '../../core/paint';
import type { Brush } from '../shared/brush';
import { jobPool } from '../shared/platform';

/** How long a slider must rest before a stroke is made anew, ms. */
const REST_MS = 180;

/** Pictures of strokes by what they were made with, the latest asked for last. */
const useStrokes = create<{ readonly urls: ReadonlyMap<string, string> }>(() => ({ urls: new Map() }));
const asked = new Set<string>();

/** Pictures that are held at the most. */
const MOST = 200;

/** A brush as it is shown: large and small ones are told apart, none fills the picture. */
export const shownOf = ({ shape, size, opacity, erase, picture }: Brush): ShownBrush => ({
  brush: shape,
  radius: Math.min(44, 3 + Math.sqrt(size) * 2.6),
  opacity: 0.35 + 0.65 * opacity,
  erase,
  tip: picture === null || shape.tip !== PICTURE_TIP ? null : base64ToBytes(picture),
});

/** The picture of a brush's stroke, by its URL; null until it is made. */
export function useStrokePicture(brush: Brush): string | null {
  const { tip, ...shown } = shownOf(brush);
  const key = JSON.stringify([shown, tip && brush.picture]);
  const shownNow = useRef(shown);
  shownNow.current = shown;
  const tipNow = useRef(tip);
  tipNow.current = tip;
  const url = useStrokes((s) => s.urls.get(key)) ?? null;
  useEffect(() => {
    if (url) return;
    const timer = setTimeout(() => void make(key, { ...shownNow.current, tip: tipNow.current }), REST_MS);
    return () => clearTimeout(timer);
  }, [key, url]);
  return url;
}

async function make(key: string, shown: ShownBrush): Promise<void> {
  if (asked.has(key)) return;
  asked.add(key);
  try {
    const png = await jobPool.run('brushPicture', shown);
    const url = URL.createObjectURL(new Blob([png as Uint8Array<ArrayBuffer>], { type: 'image/png' }));
    useStrokes.setState(({ urls }) => {
      const next = new Map(urls).set(key, url);
      const [oldest] = next;
      if (next.size > MOST && oldest) {
        URL.revokeObjectURL(oldest[1]);
        next.delete(oldest[0]);
      }
      return { urls: next };
    });
  } catch {
    // Left as it is: the name tells which brush it is, and it paints all the same.
  }
  asked.delete(key);
}
