import { Form } from 'react-bootstrap';
import {
  deliveredNames,
  exportsOf,
  USUAL_NAMES,
  type DeliveredNames,
  type ExportItem,
} from '../../core/delivery';
import { hasDetails, type ProjectDocument } from '../../core/document';
import { CoreError } from '../../core/errors';
import { type Session, useProject } from '../project';
import { Chip } from '../shared/Chip';
import { useTip } from '../shared/commands';
import { openBack } from './bring-back';
import { BringBack } from './BringBack';
import { CheckSection } from './CheckSection';
import { deliverAll } from './deliveries';
import { setDelivery, useDelivery } from './delivery-settings';
import { DetailFields } from './DetailFields';
import { ExportRow } from './ExportRow';
import { TextureFields } from './TextureFields';

/** Everything that leaves the project. */
export function DeliverPanel({ session }: { readonly session: Session }) {
  const document = useProject((s) => s.document);
  const { settings, flattened } = useDelivery();
  if (!document) return null;
  const { sheets, palette } = document;
  const several = sheets.length > 1;
  const names = namesToShow(document, settings);
  const has = hasDetails(document.layers);
  /** One row, or a row a sheet. */
  const rows = (exportItem: ExportItem, title: string, says: (sheet: number) => string) =>
    sheets.map((sheet, i) => (
      <ExportRow
        key={`${exportItem} ${i}`}
        session={session}
        exportItem={exportItem}
        sheet={i}
        title={several ? `${title}: ${sheet.name}` : title}
        says={says(i)}
      />
    ));
  const row = (exportItem: ExportItem, title: string, says: string, disabled = false) => (
    <ExportRow session={session} exportItem={exportItem} title={title} says={says} disabled={disabled} />
  );
  return (
    <section className="panel deliver" aria-label="Deliver">
      <WholeDelivery session={session} document={document} />
      <CheckSection session={session} />
      <h2>Albedo</h2>
      <TextureFields document={document} />
      {rows('albedo', 'Albedo', (i) => names.albedo[i]!)}
      <h2>Layers</h2>
      {rows('layers', 'OpenRaster', (i) => `${names.layers[i]}, every layer with its mask and mode`)}
      {[...new Set([...flattened.values()].flat())].map((note) => (
        <p key={note} className="hint-line">
          {note}
        </p>
      ))}
      {row('layer-pictures', 'Layer by layer', `${names.layerPictures[0]}-01-….png, each as a picture`)}
      {sheets.map((sheet, i) => (
        <button key={i} type="button" className="delivery" onClick={() => void openBack(session, i)}>
          <b>{several ? `Read again: ${sheet.name}` : 'Read again'}</b>
          <small>OpenRaster or PNG, painted on elsewhere</small>
        </button>
      ))}
      <BringBack session={session} />
      <h2>Model</h2>
      <label className="field">
        Normals
        <Form.Select
          size="sm"
          value={settings.normalsOf ?? ''}
          title="An engine that lights the model itself can have the same calm light"
          onChange={(e) => setDelivery({ normalsOf: e.target.value === '' ? null : Number(e.target.value) })}
        >
          <option value="">the model’s own</option>
          {document.lights
            .filter(({ plan }) => plan.standIns.length > 0 || plan.calm > 0)
            .map((l) => (
              <option key={l.id} value={l.id}>
                as “{l.name}” lights them
              </option>
            ))}
        </Form.Select>
      </label>
      {document.modelFile && (
        <>
          <label className="field">
            Materials
            <Form.Select
              size="sm"
              value={settings.material}
              disabled={settings.plain}
              title="Unlit shows the paint as it is; kept materials have their other textures, and the paint as base colour"
              onChange={(e) => setDelivery({ material: e.target.value === 'kept' ? 'kept' : 'unlit' })}
            >
              <option value="unlit">unlit</option>
              <option value="kept">as they came</option>
            </Form.Select>
          </label>
          <Chip
            on={!settings.plain}
            title={`The nodes, skeleton, clips and morph targets of “${document.modelFile.name}” leave with the model`}
            onClick={() => setDelivery({ plain: !settings.plain })}
          >
            Rig and scene
          </Chip>
        </>
      )}
      {row('model', 'Unlit model', `${names.model}${several ? ', a material a sheet' : ' with the albedo'}`)}
      {row('obj', 'OBJ', `${names.obj}, its materials, and the albedo as PNG`)}
      {rows('layout', 'Layout', (i) => `${names.layout[i]}, at the albedo’s size`)}
      <h2>Toon shader</h2>
      <Chip
        on={settings.outline !== null}
        title="The model turned inside out around itself, as wide and in the colour that the toon view shows"
        onClick={() => setDelivery({ outline: settings.outline ? null : { width: 0.004, color: '#2a2522' } })}
      >
        Outline as a hull
      </Chip>
      {has && <DetailFields />}
      {has && rows('detail', 'Detail sheet', (i) => names.detail[i]!)}
      {(has || settings.outline) &&
        row(
          'toon-model',
          'Model for a toon shader',
          `${names.toon} with albedo${has ? ', detail sheet' : ''}${settings.outline ? ', outline' : ''}`,
        )}
      {document.ramps && (
        <>
          <h2>Ramp sheet</h2>
          {row('ramps', 'Ramp sheet', `${names.ramps}, ${document.ramps.size} × ${document.ramps.size}`)}
          <p className="hint-line">
            {document.ramps.seats.length} on ramps: in the models they have a material of their own.
          </p>
        </>
      )}
      <h2>Palette</h2>
      {row('palette-strip', 'As a strip', names.strip, palette.length === 0)}
      {row('palette-tokens', 'As design tokens', names.tokens, palette.length === 0)}
      <h2>Project</h2>
      {row('report', 'Report', `${names.report}, what is delivered and how it is read`)}
      {row('project', 'Project file', `${names.project}, all of it`)}
      {row('recipe', 'Recipe', `${names.recipe}, the build-up without pixels`)}
    </section>
  );
}

/** Names as they are set; as usual while what is set can't be used, which is told where it is set. */
function namesToShow(
  document: ProjectDocument,
  settings: Parameters<typeof deliveredNames>[1],
): DeliveredNames {
  try {
    return deliveredNames(document, settings);
  } catch (error) {
    if (!(error instanceof CoreError)) throw error;
    return deliveredNames(document, { ...settings, names: USUAL_NAMES });
  }
}

/** In the list of what goes along. */
const WORDS: Readonly<Record<ExportItem, string>> = {
  albedo: 'albedo',
  detail: 'detail sheet',
  ramps: 'ramp sheet',
  model: 'unlit model',
  'toon-model': 'toon model',
  obj: 'OBJ',
  layers: 'OpenRaster',
  'layer-pictures': 'layer by layer',
  layout: 'layout',
  'palette-strip': 'palette strip',
  'palette-tokens': 'design tokens',
  recipe: 'recipe',
  project: 'project file',
  report: 'report',
};

function WholeDelivery({
  session,
  document,
}: {
  readonly session: Session;
  readonly document: ProjectDocument;
}) {
  const tip = useTip();
  const { parcels, outline } = useDelivery((s) => s.settings);
  const wanted = exportsOf(document, { outline }).filter((exportItem) => parcels.includes(exportItem));
  return (
    <div className="whole-delivery">
      <Chip
        primary
        disabled={wanted.length === 0}
        title={tip('All that is ticked, as one zip', 'deliver-all')}
        onClick={() => void deliverAll(session)}
      >
        Deliver as one zip
      </Chip>
      <p className="hint-line">
        {wanted.length === 0
          ? 'Tick what should leave together.'
          : `With ${wanted.map((exportItem) => WORDS[exportItem]).join(', ')}.`}
      </p>
    </div>
  );
}
