import { Form } from 'react-bootstrap';
import { AXES, DEFAULT_CUES, type CueSpec } from '../../core/cues';
import type { Layer, WashLayer } from '../../core/engine';
import { BLEND_MODES, type BlendMode } from '../../core/stack';
import { Chip } from '../shared/Chip';
import { ColorField } from '../shared/ColorField';
import { useProject } from '../shared/project-store';
import type { Session } from '../shared/session';
import { percent, Slider } from '../shared/Slider';
import { useUi } from '../shared/ui-store';

interface Props {
  readonly session: Session;
  readonly layer: Layer;
}

/** Everything that can be set on the chosen layer. */
export function LayerInspector({ session, layer }: Props) {
  const alone = useUi((s) => s.alone);
  const maskOf = useUi((s) => s.maskOf);
  const change = (patch: Partial<Layer>, gesture: string | null = null): void =>
    session.command({ do: 'change-layer', layer: { ...layer, ...patch } as Layer }, gesture);
  return (
    <section className="inspector" aria-label={`Settings of ${layer.name}`}>
      <h2>{layer.name}</h2>
      <Slider
        label="Opacity"
        value={layer.opacity}
        min={0}
        max={1}
        step={0.01}
        {...percent}
        onChange={(opacity, g) => change({ opacity }, g)}
      />
      <div className="row">
        <Form.Select
          size="sm"
          className="blend"
          aria-label="Blend mode"
          value={layer.blend}
          onChange={(e) => change({ blend: e.target.value as BlendMode })}
        >
          {BLEND_MODES.map((mode) => (
            <option key={mode} value={mode}>
              {mode.replace('-', ' ')}
            </option>
          ))}
        </Form.Select>
        <Chip
          on={maskOf === layer.id}
          title="See only where this layer covers, as grey"
          onClick={() => useUi.setState({ maskOf: maskOf === layer.id ? null : layer.id, alone: null })}
        >
          Mask
        </Chip>
        <Chip
          on={alone === layer.id}
          title="See this layer alone"
          onClick={() => useUi.setState({ alone: alone === layer.id ? null : layer.id, maskOf: null })}
        >
          Alone
        </Chip>
      </div>
      <RegionMask layer={layer} onChange={(next) => session.command({ do: 'change-layer', layer: next })} />
      {layer.kind === 'wash' && <WashControls layer={layer} change={change} />}
      {layer.kind === 'light' && <LightControls session={session} />}
      {layer.kind === 'local' && <p className="hint-line">In Block in: click a part, then a colour.</p>}
    </section>
  );
}

/** On which region the layer is seen. */
function RegionMask({
  layer,
  onChange,
}: {
  readonly layer: Layer;
  readonly onChange: (layer: Layer) => void;
}) {
  const regions = useProject((s) => s.document?.regions) ?? [];
  if (regions.length === 0) return null;
  return (
    <label className="field">
      Only on
      <Form.Select
        size="sm"
        value={layer.region ?? ''}
        onChange={(e) => {
          const { region: _was, ...rest } = layer;
          onChange(e.target.value === '' ? rest : { ...layer, region: Number(e.target.value) });
        }}
      >
        <option value="">the whole model</option>
        {regions.map((r) => (
          <option key={r.id} value={r.id}>
            {r.name}
          </option>
        ))}
      </Form.Select>
    </label>
  );
}

function WashControls({
  layer,
  change,
}: {
  readonly layer: WashLayer;
  readonly change: (p: Partial<WashLayer>, g?: string | null) => void;
}) {
  const { levels, source } = layer;
  return (
    <>
      <div className="row">
        <ColorField label="Colour" color={layer.color} onChange={(color, g) => change({ color }, g)} />
        <Form.Select
          size="sm"
          aria-label="Cue"
          value={source.cue}
          onChange={(e) => change({ source: DEFAULT_CUES[e.target.value as CueSpec['cue']] as CueSpec })}
        >
          <option value="occlusion">occlusion</option>
          <option value="height">height</option>
          <option value="facing">facing</option>
        </Form.Select>
        <Chip
          on={layer.invert}
          title="Cover where the cue is low"
          onClick={() => change({ invert: !layer.invert })}
        >
          Invert
        </Chip>
      </div>
      <CueControls source={source} onChange={(next, g) => change({ source: next }, g)} />
      <Slider
        label="From"
        value={levels.low}
        min={0}
        max={1}
        step={0.01}
        {...percent}
        onChange={(low, g) => change({ levels: { ...levels, low } }, g)}
      />
      <Slider
        label="To"
        value={levels.high}
        min={0}
        max={1}
        step={0.01}
        {...percent}
        onChange={(high, g) => change({ levels: { ...levels, high } }, g)}
      />
      <Slider
        label="Bend"
        value={levels.gamma}
        min={0.2}
        max={4}
        step={0.05}
        curve={2}
        onChange={(gamma, g) => change({ levels: { ...levels, gamma } }, g)}
      />
    </>
  );
}

function CueControls({
  source,
  onChange,
}: {
  readonly source: CueSpec;
  readonly onChange: (next: CueSpec, gesture: string | null) => void;
}) {
  switch (source.cue) {
    case 'height':
      return (
        <div className="row" role="group" aria-label="Axis">
          {AXES.map((axis) => (
            <Chip key={axis} on={source.axis === axis} onClick={() => onChange({ ...source, axis }, null)}>
              along {axis}
            </Chip>
          ))}
        </div>
      );
    case 'occlusion':
      return (
        <div className="row cue-row">
          <Form.Select
            size="sm"
            aria-label="How far rays look"
            value={String(source.reach)}
            onChange={(e) =>
              onChange({ ...source, reach: e.target.value === 'null' ? null : Number(e.target.value) }, null)
            }
          >
            {[0.05, 0.1, 0.25, 0.5].map((reach) => (
              <option key={reach} value={reach}>
                looks {Math.round(reach * 100)} % of the model
              </option>
            ))}
            <option value="null">looks without end</option>
          </Form.Select>
          <Form.Select
            size="sm"
            aria-label="Rays a texel"
            value={source.rays}
            onChange={(e) => onChange({ ...source, rays: Number(e.target.value) }, null)}
          >
            {[16, 64, 256].map((rays) => (
              <option key={rays} value={rays}>
                {rays} rays
              </option>
            ))}
          </Form.Select>
        </div>
      );
    case 'facing':
      return (
        <div className="row" role="group" aria-label="Direction">
          {(
            [
              ['up', [0, 1, 0]],
              ['down', [0, -1, 0]],
              ['front', [0, 0, 1]],
              ['left', [-1, 0, 0]],
              ['right', [1, 0, 0]],
            ] as const
          ).map(([name, direction]) => (
            <Chip
              key={name}
              on={source.direction.join() === direction.join()}
              onClick={() => onChange({ ...source, direction: [...direction] }, null)}
            >
              {name}
            </Chip>
          ))}
        </div>
      );
  }
}

function LightControls({ session }: { readonly session: Session }) {
  const light = useProject((s) => s.document?.light);
  const aiming = useUi((s) => s.aimingLight);
  if (!light) return null;
  const set = (patch: Partial<typeof light>, gesture: string | null): void =>
    session.command({ do: 'set-light', light: { ...light, ...patch } }, gesture);
  return (
    <>
      <div className="row">
        <Chip
          on={aiming}
          title="Drag on the model: the key light comes straight onto the place under the pointer"
          onClick={() => useUi.setState({ aimingLight: !aiming })}
        >
          Aim on the model
        </Chip>
      </div>
      {(['key', 'sky', 'ground'] as const).map((name) => (
        <div className="light-row" key={name}>
          <ColorField
            label={{ key: 'Key', sky: 'Sky', ground: 'Ground' }[name]}
            color={light[name].color}
            onChange={(color, g) => set({ [name]: { ...light[name], color } }, g)}
          />
          <Slider
            label="Strength"
            value={light[name].strength}
            min={0}
            max={1.5}
            step={0.01}
            {...percent}
            onChange={(strength, g) => set({ [name]: { ...light[name], strength } }, g)}
          />
        </div>
      ))}
      <Slider
        label="Wrap"
        value={light.key.wrap}
        min={0}
        max={1}
        step={0.01}
        {...percent}
        onChange={(wrap, g) => set({ key: { ...light.key, wrap } }, g)}
      />
    </>
  );
}
