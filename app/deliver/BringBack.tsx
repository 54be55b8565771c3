import { Form } from 'react-bootstrap';
import type { BroughtLayer } from '../../core/engine';
import type { Session } from '../project';
import { Chip } from '../shared/Chip';
import { takeBack, useBack, type BackAs } from './bring-back';

/** What of a file needs no choice. */
function unchanged(layers: readonly BroughtLayer[]): string {
  const same = layers.filter((layer) => layer.state === 'same').length;
  if (layers.length === 0) return 'There are no layers in the file.';
  if (same === layers.length)
    return `${same === 1 ? 'Its layer is' : `All ${same} layers are`} as before, texel for texel: there is nothing to add.`;
  if (same === 0) return 'None of its layers is as before.';
  return `${same === 1 ? 'One layer is' : `${same} layers are`} as before, texel for texel, and stay${same === 1 ? 's' : ''}.`;
}

/** What a file holds that came back, and what is to be done with each of its layers. */
export function BringBack({ session }: { readonly session: Session }) {
  const back = useBack((s) => s.back);
  if (back?.session !== session) return null;
  const { layers, as, notes } = back;
  const count = as.filter((how) => how !== 'leave').length;
  const choose = (i: number, how: BackAs): void =>
    useBack.setState({ back: { ...back, as: as.with(i, how) } });
  return (
    <div className="brought-back" role="group" aria-label={`What came back in ${back.file.name}`}>
      {/* From the top down, as the build-up shows them. */}
      {[...layers.entries()].toReversed().map(
        ([i, layer]) =>
          layer.state !== 'same' && (
            <label key={i} className="field">
              <span className="brought-name" title={layer.name}>
                {layer.name}
                <small>{layer.state}</small>
              </span>
              <Form.Select size="sm" value={as[i]} onChange={(e) => choose(i, e.target.value as BackAs)}>
                <option value="leave">leave</option>
                {layer.onto !== null && <option value="replace">replace its layer</option>}
                <option value="new">new layer</option>
              </Form.Select>
            </label>
          ),
      )}
      <p className="hint-line">{unchanged(layers)}</p>
      {notes.map((note) => (
        <p key={note} className="hint-line">
          {note}
        </p>
      ))}
      <div className="row">
        {count > 0 && (
          <Chip primary onClick={() => void takeBack(session)}>
            Add {count}
          </Chip>
        )}
        <Chip onClick={() => useBack.setState({ back: null })}>Dismiss</Chip>
      </div>
    </div>
  );
}
