import { useEffect } from 'react';
import type { PoseMap } from '../../../core/cues';
import { CoreError, sentenceOf } from '../../../core/errors';
import { isRest } from '../../../core/motion';
import { filledTiles, TILE_BYTES, TILE_TEXELS, tileToRows, type SurfaceMap } from '../../../core/surface';
import { SheetCopy, shownPose, usePose, useProject, type Session } from '../../project';
import { heatTable } from '../../shared/heat-colors';
import { notify } from '../../shared/notify';
import { PAINT } from '../../shared/shown';
import { withTask } from '../../shared/tasks';
import { useUi } from '../../shared/ui-store';
import type { StageView } from '../view/stage-view';

/** A pose that is dragged is reckoned when it has rested for so long, ms. */
const REST_MS = 200;

const LABELS: Readonly<Record<PoseMap, string>> = {
  occlusion: 'Comparing occlusion',
  stretch: 'Measuring stretch',
};

/** Shows how the pose lies to the paint in the place of the paint, while that is asked for. */
export function usePoseMap(view: StageView | null, session: Session, isPosed: boolean): void {
  const map = useUi((s) => (s.shown.of === 'pose' ? s.shown.map : null));
  const pose = usePose(shownPose);
  const playing = usePose((s) => s.playing);
  const surface = useProject((s) => s.surface);
  const layers = useProject((s) => s.document?.layers);
  const isAtRest = !isPosed || isRest(pose);
  useEffect(() => {
    if (map && isAtRest) useUi.setState({ shown: PAINT });
  }, [map, isAtRest]);
  useEffect(() => {
    if (!view || !map || !surface || isAtRest || playing) return;
    const stop = new AbortController();
    const show = async (): Promise<void> => {
      const values = await withTask(LABELS[map], (signal) =>
        session.poseMap(map, pose, AbortSignal.any([signal, stop.signal])),
      );
      if (!stop.signal.aborted && session.sheet) view.setSheet(colored(surface, values), session.sheet);
    };
    const timer = setTimeout(() => {
      show().catch((error: unknown) => {
        if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
      });
    }, REST_MS);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [view, session, map, pose, playing, surface, layers, isAtRest]);
  useEffect(() => {
    if (!view || !map) return;
    return () => {
      if (session.sheet) view.setSheet(session.sheet);
    };
  }, [view, session, map]);
}

/** A byte a texel as colours on the sheets; of texels that several places share, those of the first. */
function colored(surface: SurfaceMap, values: Uint8Array): SheetCopy {
  const table = new Uint32Array(heatTable().buffer);
  const tiles = filledTiles(surface);
  const pixels = new Uint8Array(tiles.length * TILE_BYTES);
  const texels = new Uint32Array(TILE_TEXELS);
  tiles.forEach((tile, t) => {
    const from = surface.slotOfTile[tile]! * TILE_TEXELS;
    for (let i = 0; i < TILE_TEXELS; i++)
      texels[i] = surface.codes[from + i]! >= 0 ? table[values[from + i]!]! : 0;
    tileToRows(new Uint8Array(texels.buffer), pixels.subarray(t * TILE_BYTES, (t + 1) * TILE_BYTES));
  });
  const copy = new SheetCopy(surface.sheets);
  copy.take({ tiles, subs: tiles.map(() => 15), pixels, left: 0 });
  return copy;
}
