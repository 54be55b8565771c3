import { sentenceOf } from '../../core/errors';
import type { Session } from '../project';
import { chooseFiles } from '../shared/files';
import { notify } from '../shared/notify';
import { useUi } from '../shared/ui-store';
import { addReference } from './reference-pictures';

const PICTURES = 'image/png,image/jpeg,image/webp';

/** Puts pictures on the easel; what can't be opened is told. */
export async function bringPictures(session: Session, files: readonly File[]): Promise<void> {
  for (const file of files) {
    try {
      const reference = await addReference(session, file);
      if (reference !== null) useUi.setState({ reference });
    } catch (error) {
      notify(sentenceOf(error));
    }
  }
}

export const choosePictures = async (session: Session): Promise<void> =>
  bringPictures(session, await chooseFiles(PICTURES, true));
