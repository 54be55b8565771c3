import { Form } from 'react-bootstrap';
import type { ExportItem } from '../../core/delivery';
import type { Session } from '../project';
import { deliverExport } from './deliveries';
import { setExport, useDelivery } from './delivery-settings';

/** Something that can leave: alone by a click, or with the whole delivery where it is ticked. */
export function ExportRow({
  session,
  exportItem,
  title,
  says,
  sheet,
  disabled = false,
}: {
  readonly session: Session;
  readonly exportItem: ExportItem;
  readonly title: string;
  readonly says: string;
  /** Number of the only sheet that it is of; left out: it is of all. Rows of one parcel are ticked together. */
  readonly sheet?: number;
  readonly disabled?: boolean;
}) {
  const isIn = useDelivery((s) => s.settings.parcels.includes(exportItem));
  return (
    <div className="parcel">
      <Form.Check
        aria-label={`${title}: goes along with the whole delivery`}
        title="Goes along with the whole delivery"
        checked={isIn}
        disabled={disabled}
        onChange={(e) => setExport(exportItem, e.target.checked)}
      />
      <button
        type="button"
        className="delivery"
        onClick={() => void deliverExport(session, exportItem, sheet)}
        disabled={disabled}
      >
        <b>{title}</b>
        <small>{says}</small>
      </button>
    </div>
  );
}
