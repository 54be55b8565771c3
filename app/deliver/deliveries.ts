import { exportsOf, type NamedFile, type ExportItem, type ExportMaker } from '../../core/delivery';
import { CoreError, sentenceOf } from '../../core/errors';
import { useProject, type Session } from '../project';
import { download } from '../shared/files';
import { notify } from '../shared/notify';
import { deliverPool } from '../shared/platform';
import { withTask } from '../shared/tasks';
import { allMeasured } from './all-measured';
import { useDelivery } from './delivery-settings';
import { exportMaker, settingsNow, type Making } from './make-exports';

const TYPES: Readonly<Record<string, string>> = {
  png: 'image/png',
  webp: 'image/webp',
  ktx2: 'image/ktx2',
  ora: 'image/openraster',
  glb: 'model/gltf-binary',
  obj: 'model/obj',
  mtl: 'model/mtl',
  json: 'application/json',
  zip: 'application/zip',
};

/** What the page shows while a parcel is made. */
const WORK: Readonly<Record<ExportItem, string>> = {
  albedo: 'Flattening the albedo',
  detail: 'Flattening the detail sheet',
  ramps: 'Writing the ramp sheet',
  model: 'Writing the model',
  'toon-model': 'Writing the model for a toon shader',
  obj: 'Writing the model as OBJ',
  layers: 'Writing the layers',
  'layer-pictures': 'Writing the layers one by one',
  layout: 'Drawing the layout',
  'palette-strip': 'Writing the palette',
  'palette-tokens': 'Writing the palette',
  recipe: 'Writing the recipe',
  project: 'Writing the project file',
  report: 'Writing the report',
};

/** Why something can't leave this project. */
const MISSING: Partial<Readonly<Record<ExportItem, string>>> = {
  detail: 'There is no detail sheet yet. Add one to the build-up: Add, Detail sheet.',
  ramps: 'There is no ramp sheet yet. Make one at Block in.',
  'toon-model': 'There is neither a detail sheet nor an outline. Add one of them first.',
  'palette-strip': 'The palette is empty: there is no strip to save.',
  'palette-tokens': 'The palette is empty: there are no tokens to save.',
};

/** Makes something that leaves. What goes wrong is told; what was stopped isn't. */
async function delivered(
  session: Session,
  title: string,
  make: (maker: ExportMaker, how: Making) => Promise<readonly NamedFile[]>,
): Promise<void> {
  const { document } = useProject.getState();
  if (!document) return;
  try {
    const files = await withTask(title, async (signal, onProgress) => {
      await allMeasured(signal);
      const how = { signal, onProgress };
      const maker = exportMaker(session, document, how);
      const made = await make(maker, how);
      useDelivery.setState(({ flattened }) => ({ flattened: new Map([...flattened, ...maker.notes]) }));
      return made;
    });
    for (const [name, bytes] of files) download(name, bytes, TYPES[name.split('.').at(-1)!] ?? '');
  } catch (error) {
    if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
  }
}

/** @param only the number of one sheet; left out: all of them */
export async function deliverExport(session: Session, exportItem: ExportItem, only?: number): Promise<void> {
  const { document } = useProject.getState();
  if (!document) return;
  if (!exportsOf(document, settingsNow()).includes(exportItem))
    return notify(MISSING[exportItem] ?? 'There is nothing to deliver.');
  return delivered(session, WORK[exportItem], (maker) => maker.exportItem(exportItem, only));
}

/** All that is wanted of the open project and that it has. */
export function wantedExports(): ExportItem[] {
  const { document } = useProject.getState();
  const settings = settingsNow();
  return document
    ? exportsOf(document, settings).filter((exportItem) => settings.parcels.includes(exportItem))
    : [];
}

/** The whole delivery, as it was set last, as one zip. */
export async function deliverAll(session: Session): Promise<void> {
  const wanted = wantedExports();
  if (wanted.length === 0) return notify('Nothing is ticked for the delivery. Tick what should leave.');
  return delivered(session, 'Making the delivery', async (maker, { signal, onProgress }) => {
    const files: NamedFile[] = [];
    for (const [i, exportItem] of wanted.entries()) {
      onProgress(i / wanted.length);
      files.push(...(await maker.exportItem(exportItem)));
    }
    return [[maker.names.whole, await deliverPool.run('zip', { files }, { signal })]];
  });
}
