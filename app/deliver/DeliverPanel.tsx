import { Form } from 'react-bootstrap';
import { hasDetails, type DeliveredAlpha } from '../../core/engine';
import { type Session, useProject } from '../project';
import {
  deliveredNames,
  OWN_SIZE,
  saveAlbedo,
  saveDetail,
  saveLayers,
  saveModel,
  savePaletteStrip,
  savePaletteTokens,
  saveProject,
  saveRamps,
  saveRecipe,
  saveReport,
  saveToonModel,
  suitableSize,
  useDelivery,
} from './deliveries';
import { openBack } from './bring-back';
import { BringBack } from './BringBack';
import { DetailFields } from './DetailFields';

const SIZES = [512, 1024, 2048, 4096, 8192] as const;

/** Texels that colour reaches past the islands. */
const BLEEDS = [
  { label: 'the whole sheet', value: Infinity },
  { label: '32 texels', value: 32 },
  { label: '16 texels', value: 16 },
  { label: '6 texels', value: 6 },
] as const;

/** Everything that leaves the project. */
export function DeliverPanel({ session }: { readonly session: Session }) {
  const document = useProject((s) => s.document);
  const { size: wanted, bleed, alpha, normalsOf, flattened } = useDelivery();
  if (!document) return null;
  const { sheets, palette } = document;
  const size = wanted ?? suitableSize(sheets);
  const several = sheets.length > 1;
  const names = deliveredNames(document);
  const present = sheets[0]!.size;
  const note =
    size === OWN_SIZE || sheets.every((s) => s.size === size)
      ? 'The sheet’s own size: every texel is delivered as it is stored.'
      : several
        ? `The sheets have ${sheets.map((s) => s.size).join(' and ')} texels a side; they are averaged or interpolated.`
        : `The sheet is ${present} texels a side; it is ${size < present ? 'averaged down' : 'interpolated up'}.`;
  return (
    <section className="panel deliver" aria-label="Deliver">
      <h2>Albedo</h2>
      <label className="field">
        Size
        <Form.Select
          size="sm"
          value={size}
          onChange={(e) => useDelivery.setState({ size: Number(e.target.value) })}
        >
          {several && <option value={OWN_SIZE}>each its own</option>}
          {SIZES.map((n) => (
            <option key={n} value={n}>
              {n} × {n}
            </option>
          ))}
        </Form.Select>
      </label>
      <label className="field">
        Bleed
        <Form.Select
          size="sm"
          value={String(bleed)}
          onChange={(e) => useDelivery.setState({ bleed: Number(e.target.value) })}
        >
          {BLEEDS.map((b) => (
            <option key={b.label} value={String(b.value)}>
              {b.label}
            </option>
          ))}
        </Form.Select>
      </label>
      <label className="field">
        Alpha
        <Form.Select
          size="sm"
          value={alpha}
          onChange={(e) => useDelivery.setState({ alpha: e.target.value as DeliveredAlpha })}
        >
          <option value="opaque">opaque everywhere</option>
          <option value="painted">as it was painted</option>
        </Form.Select>
      </label>
      <p className="hint-line">{note}</p>
      {sheets.map((sheet, i) => (
        <Delivery
          key={i}
          title={several ? `Albedo: ${sheet.name}` : 'Albedo'}
          says={`${names.albedo[i]}, 8-bit sRGB`}
          onClick={() => void saveAlbedo(session, i)}
        />
      ))}
      <h2>Layers</h2>
      {sheets.map((sheet, i) => (
        <Delivery
          key={i}
          title={several ? `OpenRaster: ${sheet.name}` : 'OpenRaster'}
          says={`${names.layers[i]}, every layer with its mask and mode`}
          onClick={() => void saveLayers(session, i)}
        />
      ))}
      {[...new Set([...flattened.values()].flat())].map((note) => (
        <p key={note} className="hint-line">
          {note}
        </p>
      ))}
      {sheets.map((sheet, i) => (
        <Delivery
          key={i}
          title={several ? `Read again: ${sheet.name}` : 'Read again'}
          says="OpenRaster or PNG, painted on elsewhere"
          onClick={() => void openBack(session, i)}
        />
      ))}
      <BringBack session={session} />
      <h2>Model</h2>
      <label className="field">
        Normals
        <Form.Select
          size="sm"
          value={normalsOf ?? ''}
          title="An engine that lights the model itself can have the same calm light"
          onChange={(e) =>
            useDelivery.setState({ normalsOf: e.target.value === '' ? null : Number(e.target.value) })
          }
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
      <Delivery
        title="Unlit model"
        says={`${names.model}${several ? ', a material a sheet' : ' with the albedo'}`}
        onClick={() => void saveModel(session)}
      />
      {hasDetails(document.layers) && (
        <>
          <h2>Detail sheet</h2>
          <DetailFields />
          {sheets.map((sheet, i) => (
            <Delivery
              key={i}
              title={several ? `Detail sheet: ${sheet.name}` : 'Detail sheet'}
              says={names.detail[i]!}
              onClick={() => void saveDetail(session, i)}
            />
          ))}
          <Delivery
            title="Model for a toon shader"
            says={`${names.toon} with albedo and detail sheet`}
            onClick={() => void saveToonModel(session)}
          />
        </>
      )}
      {document.ramps && (
        <>
          <h2>Ramp sheet</h2>
          <Delivery
            title="Ramp sheet"
            says={`${names.ramps}, ${document.ramps.size} × ${document.ramps.size}`}
            onClick={() => void saveRamps()}
          />
          <p className="hint-line">
            {document.ramps.seats.length} on ramps: in the models they have a material of their own.
          </p>
        </>
      )}
      <h2>Report</h2>
      <Delivery
        title="Report"
        says={`${names.report}, what is delivered and how it is read`}
        onClick={() => void saveReport()}
      />
      <h2>Palette</h2>
      <Delivery
        title="As a strip"
        says={names.strip}
        onClick={() => void savePaletteStrip()}
        disabled={palette.length === 0}
      />
      <Delivery
        title="As design tokens"
        says={names.tokens}
        onClick={() => void savePaletteTokens()}
        disabled={palette.length === 0}
      />
      <h2>Project</h2>
      <Delivery
        title="Project file"
        says={`${names.project}, all of it`}
        onClick={() => void saveProject(session)}
      />
      <Delivery
        title="Recipe"
        says={`${names.recipe}, the build-up without pixels`}
        onClick={() => void saveRecipe(session)}
      />
    </section>
  );
}

function Delivery({
  title,
  says,
  onClick,
  disabled = false,
}: {
  readonly title: string;
  readonly says: string;
  readonly onClick: () => void;
  readonly disabled?: boolean;
}) {
  return (
    <button type="button" className="delivery" onClick={onClick} disabled={disabled}>
      <b>{title}</b>
      <small>{says}</small>
    </button>
  );
}
