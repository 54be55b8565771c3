import { Dropdown } from 'react-bootstrap';
import { BearingSliders } from '../../shared/BearingSliders';
import { Chip } from '../../shared/Chip';
import { ColorField } from '../../shared/ColorField';
import { FixedMenu } from '../../shared/FixedMenu';
import { PLAIN_LIGHTS } from '../../shared/shown';
import { useUi } from '../../shared/ui-store';
import { MoveLamp } from './MoveLamp';

/** The lamps of the lit check. They light nothing but the picture; paint stays as it is. */
export function LampControls() {
  const lights = useUi((s) => s.checkLights);
  const change = (patch: Partial<typeof lights>): void =>
    useUi.setState((s) => ({ checkLights: { ...s.checkLights, ...patch } }));
  return (
    <span className="lamps" role="group" aria-label="Lamps of the lit check">
      <MoveLamp />
      <Dropdown>
        <Dropdown.Toggle as="button" type="button" className="chip" title="Where the lamp stands, in figures">
          Place
        </Dropdown.Toggle>
        <FixedMenu>
          <div className="pop">
            <BearingSliders name="the lamp" direction={lights.key} onChange={(key) => change({ key })} />
          </div>
        </FixedMenu>
      </Dropdown>
      <Chip on={lights.back} title="A second lamp from behind" onClick={() => change({ back: !lights.back })}>
        From behind
      </Chip>
      <ColorField label="Sky" color={lights.sky} onChange={(sky) => change({ sky })} />
      <ColorField label="Ground" color={lights.ground} onChange={(ground) => change({ ground })} />
      <Chip title="One plain lamp again" onClick={() => useUi.setState({ checkLights: PLAIN_LIGHTS })}>
        Plain
      </Chip>
    </span>
  );
}
