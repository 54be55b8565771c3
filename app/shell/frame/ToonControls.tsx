import { Dropdown } from 'react-bootstrap';
import { BearingSliders } from '../../shared/BearingSliders';
import { hasDetails } from '../../../core/document';
import { useActiveLight, useProject } from '../../project';
import { Chip } from '../../shared/Chip';
import { ColorField } from '../../shared/ColorField';
import { FixedMenu } from '../../shared/FixedMenu';
import { ShareSlider, Slider } from '../../shared/Slider';
import { useUi } from '../../shared/ui-store';
import { MoveLamp } from './MoveLamp';

/** How the toon view lights and outlines the model. It changes nothing but the picture. */
export function ToonControls() {
  const toon = useUi((s) => s.toon);
  const lights = useUi((s) => s.checkLights);
  const hasDetail = useProject((s) => hasDetails(s.document?.layers ?? []));
  const plan = useActiveLight()?.plan;
  const hasNormals = plan !== undefined && (plan.standIns.length > 0 || plan.calm > 0);
  const change = (patch: Partial<typeof toon>): void =>
    useUi.setState((s) => ({ toon: { ...s.toon, ...patch } }));
  return (
    <span className="lamps" role="group" aria-label="Toon view">
      <MoveLamp />
      {[2, 3, 4].map((tones) => (
        <Chip
          key={tones}
          on={toon.tones === tones}
          title={`Light in ${tones} tones`}
          onClick={() => change({ tones })}
        >
          {tones}
        </Chip>
      ))}
      <ColorField label="Shade" color={toon.shade} onChange={(shade) => change({ shade })} />
      <ColorField label="Outline" color={toon.outline} onChange={(outline) => change({ outline })} />
      {hasDetail && (
        <ColorField
          label="Highlight"
          color={toon.highlight}
          onChange={(highlight) => change({ highlight })}
        />
      )}
      {hasNormals && (
        <Chip
          on={toon.standIns}
          title="Lit by the normals of the light plan’s stand-ins, as the model can be delivered with them"
          onClick={() => change({ standIns: !toon.standIns })}
        >
          Stand-ins
        </Chip>
      )}
      <Dropdown autoClose="outside">
        <Dropdown.Toggle
          as="button"
          type="button"
          className="chip"
          title="Borders, outline and lamp, in figures"
        >
          In figures
        </Dropdown.Toggle>
        <FixedMenu>
          <div className="pop">
            <ShareSlider
              label="Border"
              says="How soft the border between tones is"
              value={toon.edge}
              onChange={(edge) => change({ edge })}
            />
            <Slider
              label="Outline"
              says="Width of the outline, in parts of the model"
              value={toon.width}
              min={0}
              max={0.03}
              step={0.0005}
              curve={2}
              show={(v) => `${(v * 100).toFixed(2)} %`}
              read={(text) => Number.parseFloat(text) / 100}
              onChange={(width) => change({ width })}
            />
            <BearingSliders
              name="the lamp"
              direction={lights.key}
              onChange={(key) => useUi.setState((s) => ({ checkLights: { ...s.checkLights, key } }))}
            />
          </div>
        </FixedMenu>
      </Dropdown>
    </span>
  );
}
