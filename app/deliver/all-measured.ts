import { CoreError } from '../../core/errors';
import { useProject } from '../project';

/** Waits until nothing of the build-up is still being measured: a shadow that isn't cast yet would be missing. */
export async function allMeasured(signal: AbortSignal): Promise<void> {
  const isDone = (): boolean => {
    const { missingCues, stoppedCues } = useProject.getState();
    return missingCues.length <= stoppedCues.size;
  };
  if (isDone()) return;
  await new Promise<void>((resolve, reject) => {
    const stop = useProject.subscribe(() => isDone() && end(resolve));
    const end = (done: () => void): void => {
      stop();
      done();
    };
    signal.addEventListener('abort', () =>
      end(() => reject(new CoreError('cancelled', 'The delivery was stopped.'))),
    );
  });
}
