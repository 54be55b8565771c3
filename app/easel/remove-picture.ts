import type { Reference } from '../../core/document';
import type { Session } from '../project';
import { undoable } from '../shared/notify';

/** Takes a picture off the easel, and says so. */
export const removePicture = (session: Session, { id, name }: Reference): Promise<void> =>
  session
    .command({ do: 'remove-reference', reference: id })
    .then(undoable(session, `“${name}” was removed from the easel.`));
