import { plainName } from '../../../core/delivery';
import { CoreError, sentenceOf } from '../../../core/errors';
import { useProject } from '../../project';
import { download } from '../../shared/files';
import { notify } from '../../shared/notify';
import { withTask } from '../../shared/tasks';
import { useEngineView } from './engine-store';
import { makePortfolio } from './portfolio';

/** Saves one picture of the model as a portfolio has it. */
export async function savePortfolio(): Promise<void> {
  const { document, mesh } = useProject.getState();
  const { delivered } = useEngineView.getState();
  if (!document || !mesh || !delivered) return;
  try {
    const png = await withTask('Drawing the portfolio sheet', (signal, onProgress) =>
      makePortfolio(delivered.glb, document, mesh, { signal, onProgress }),
    );
    download(`${plainName(document.name) || 'model'}-portfolio.png`, png, 'image/png');
  } catch (error) {
    const isStopped = error instanceof DOMException && error.name === 'AbortError';
    if (!isStopped && !(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
  }
}
