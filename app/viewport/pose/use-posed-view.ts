import { useEffect } from 'react';
import type { UvMesh } from '../../../core/mesh';
import { isRest, Poser } from '../../../core/motion';
import { shownPose, usePose, useProject } from '../../project';
import type { StageView } from '../view/stage-view';

/** Shows the model in the pose in hand, at once. @param isPosed whether poses are shown here */
export function usePosedView(view: StageView | null, mesh: UvMesh | null, isPosed: boolean): void {
  const motion = usePose((s) => s.motion);
  const placing = useProject((s) => s.document?.modelFile?.placing ?? null);
  const form = view?.form;
  useEffect(() => {
    if (!view || !form || !motion || !isPosed || !form.origins) return;
    const poser = new Poser(form, motion, placing);
    let last: unknown = null;
    const show = (): void => {
      const pose = shownPose(usePose.getState());
      if (pose === last) return;
      last = pose;
      view.setPose(isRest(pose) ? null : poser.pose(pose));
    };
    show();
    const stop = usePose.subscribe(show);
    return () => {
      stop();
      view.setPose(null);
    };
  }, [view, form, mesh, motion, placing, isPosed]);
}
