import { useEffect, useMemo, useState } from 'react';
import { CoreError } from '../../../core/errors';
import { type Session, useMatchView } from '../../project';
import { bitmapsOf, heatBitmap, type LookBitmaps } from './draw-looks';
import { isLive, useMatch } from '../match-ui';

/** Both pictures as they are looked at, made anew when paint or reference have changed; null while they aren't wanted or can't be had. */
export function useLooks(session: Session): LookBitmaps | null {
  const how = useMatch((s) => s.how);
  const isWanted = useMatch((s) => !isLive(s));
  const report = useMatchView((s) => s.report);
  const [pictures, setPictures] = useState<LookBitmaps | null>(null);
  useEffect(() => {
    if (!isWanted || !report) {
      setPictures(null);
      return;
    }
    let isHere = true;
    session.matcher
      .ask('look', { how })
      .then((look) => isHere && setPictures(bitmapsOf(look)))
      .catch((error: unknown) => {
        // Why nothing can be told stands in the panel already.
        if (!(error instanceof CoreError)) throw error;
      });
    return () => {
      isHere = false;
    };
  }, [session, how, isWanted, report]);
  return pictures;
}

/** Differences on the picture, while they are looked at. */
export function useHeatPicture(): OffscreenCanvas | null {
  const heat = useMatchView((s) => s.heat);
  return useMemo(() => heat && heatBitmap(heat.picture, heat.width, heat.height), [heat]);
}
