import { ExportMaker, type DeliverySettings, type DeliverySource, type DoWork } from '../../core/delivery';
import type { ProjectDocument } from '../../core/document';
import { CoreError } from '../../core/errors';
import { seatedNow, useProject, type Session } from '../project';
import { deliverPool } from '../shared/platform';
import { useUi } from '../shared/ui-store';
import { useDelivery } from './delivery-settings';

export interface Making {
  readonly signal: AbortSignal;
  readonly onProgress: (done: number) => void;
}

/** The open project, as it is delivered. @throws CoreError `cancelled` if it is closed */
function openSource(session: Session, document: ProjectDocument): DeliverySource {
  const { mesh } = useProject.getState();
  if (!mesh) throw new CoreError('cancelled', 'The project was closed.');
  return {
    document,
    mesh,
    seated: seatedNow(),
    file: (id) => session.file(id),
    surface: () => {
      const { surface } = useProject.getState();
      if (!surface)
        throw new CoreError('bad-argument', 'The surface is still being measured. Try again in a moment.');
      return surface;
    },
    rows: async (sheet) => wanted(await session.sheetRows(sheet)),
    deepRows: async (sheet) => wanted(await session.deepRows(sheet)),
    detailRows: async (sheet) => wanted(await session.detailRows(sheet)),
    layered: async (sheet) => wanted(await session.layered(sheet)),
    projectFile: async () => wanted(await session.projectFile()),
    recipe: async () => wanted(await session.recipe()),
  };
}

/**
 * One delivery of the open project, as it is set.
 *
 * @throws CoreError `cancelled` if it is stopped or the project is closed meanwhile, and what the workers throw
 */
export function exportMaker(session: Session, document: ProjectDocument, how: Making): ExportMaker {
  const run: DoWork = (method, params) => deliverPool.run(method, params, how) as Promise<never>;
  return new ExportMaker(openSource(session, document), settingsNow(), run);
}

/** What is set; the outline is as the toon view shows it. */
export function settingsNow(): DeliverySettings {
  const { settings } = useDelivery.getState();
  const { width, outline: color } = useUi.getState().toon;
  return { ...settings, outline: settings.outline && { width, color } };
}

/** @throws CoreError `cancelled` if the paint worker had no answer, which it has told itself */
function wanted<T>(made: T | null): T {
  if (made === null) throw new CoreError('cancelled', 'That could not be made. Try again.');
  return made;
}
