import { Form } from 'react-bootstrap';
import type { Parcel } from '../../core/delivery';
import type { Session } from '../project';
import { deliverParcel } from './deliveries';
import { setParcel, useDelivery } from './delivery-settings';

/** Something that can leave: alone by a click, or with the whole delivery where it is ticked. */
export function ParcelRow({
  session,
  parcel,
  title,
  says,
  sheet,
  disabled = false,
}: {
  readonly session: Session;
  readonly parcel: Parcel;
  readonly title: string;
  readonly says: string;
  /** Number of the only sheet that it is of; left out: it is of all. Rows of one parcel are ticked together. */
  readonly sheet?: number;
  readonly disabled?: boolean;
}) {
  const isIn = useDelivery((s) => s.settings.parcels.includes(parcel));
  return (
    <div className="parcel">
      <Form.Check
        aria-label={`${title}: goes along with the whole delivery`}
        title="Goes along with the whole delivery"
        checked={isIn}
        disabled={disabled}
        onChange={(e) => setParcel(parcel, e.target.checked)}
      />
      <button
        type="button"
        className="delivery"
        onClick={() => void deliverParcel(session, parcel, sheet)}
        disabled={disabled}
      >
        <b>{title}</b>
        <small>{says}</small>
      </button>
    </div>
  );
}
