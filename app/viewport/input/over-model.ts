import type { Hit } from '../view/picker';
import type { StageView } from '../view/stage-view';
import type { Gesture } from './tool';

/** A drag that does something to every place of the model that the pointer comes to, the first one among them. */
export function dragOverModel(
  view: StageView,
  first: Hit,
  aim: (place: Hit) => void,
  cancel: () => void,
): Gesture {
  aim(first);
  return {
    move: (to) => {
      const place = view.pick(to);
      if (place) aim(place);
    },
    end: () => undefined,
    cancel,
  };
}
