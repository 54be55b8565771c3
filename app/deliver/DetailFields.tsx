import { Form } from 'react-bootstrap';
import { CHANNEL_NAMES } from '../../core/compositor';
import { DETAILS } from '../../core/document';
import { DETAIL_WORDS } from '../shared/detail-words';
import { setDelivery, useDelivery } from './delivery-settings';

const CHANNEL_WORDS = { r: 'Red', g: 'Green', b: 'Blue', a: 'Alpha' } as const;

/** Which mask of the detail sheet goes into which channel. */
export function DetailFields() {
  const channels = useDelivery((s) => s.settings.channels);
  const left = DETAILS.filter((detail) => !CHANNEL_NAMES.some((name) => channels[name] === detail));
  return (
    <>
      {CHANNEL_NAMES.map((name) => (
        <label key={name} className="field">
          {CHANNEL_WORDS[name]}
          <Form.Select
            size="sm"
            value={channels[name] ?? ''}
            onChange={(e) => {
              const detail = DETAILS.find((d) => d === e.target.value) ?? null;
              setDelivery({ channels: { ...channels, [name]: detail } });
            }}
          >
            <option value="">{name === 'a' ? 'full everywhere' : 'nothing'}</option>
            {DETAILS.map((detail) => (
              <option key={detail} value={detail}>
                {DETAIL_WORDS[detail][0]}
              </option>
            ))}
          </Form.Select>
        </label>
      ))}
      <p className="hint-line">
        {left.length > 0
          ? `Not delivered: ${left.map((d) => DETAIL_WORDS[d][0].toLowerCase()).join(', ')}.`
          : 'The report says which channel holds what.'}
      </p>
    </>
  );
}
