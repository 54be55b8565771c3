import type { ReactNode } from 'react';
import { Form } from 'react-bootstrap';
import { GRAINS, type CueName, type CueSpec } from '../../../core/cues';
import { Chip } from '../../shared/Chip';
import { percent, ShareSlider, Slider } from '../../shared/Slider';
import { DirectionChoice } from './DirectionChoice';
import { PointSliders } from './PointSliders';
import { PoseChoice } from './PoseChoice';

type SpecOf<C extends CueName> = Extract<CueSpec, { cue: C }>;
type Change<C extends CueName> = (patch: Partial<SpecOf<C>>, gesture: string | null) => void;

/** How each kind of cue is set: its own settings, and how they are changed. */
export const CUE_FIELDS: { readonly [C in CueName]: (spec: SpecOf<C>, change: Change<C>) => ReactNode } = {
  // Light plans ask for it themselves.
  bounce: () => null,
  occlusion: (spec, change) => (
    <>
      <div className="row cue-row">
        <Form.Select
          size="sm"
          aria-label="How far rays look"
          value={String(spec.reach)}
          onChange={(e) => change({ reach: e.target.value === 'null' ? null : Number(e.target.value) }, null)}
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
          value={spec.rays}
          onChange={(e) => change({ rays: Number(e.target.value) }, null)}
        >
          {[16, 64, 256].map((rays) => (
            <option key={rays} value={rays}>
              {rays} rays
            </option>
          ))}
        </Form.Select>
      </div>
      <ShareSlider
        label="Fine"
        says="How much a second, short look darkens narrow gaps and contacts"
        value={spec.fine}
        onChange={(fine, g) => change({ fine }, g)}
      />
      <PoseChoice
        of="occlusion"
        poses={spec.poses ?? null}
        onChange={(poses) => change({ poses: poses ?? undefined }, null)}
      />
    </>
  ),
  height: (spec, change) => (
    <>
      <DirectionChoice
        name="height"
        direction={spec.direction}
        onChange={(direction, g) => change({ direction }, g)}
      />
      {(Object.keys(HEIGHT_ENDS) as (keyof typeof HEIGHT_ENDS)[]).map((end) => (
        <Slider
          key={end}
          label={HEIGHT_ENDS[end][0]}
          says={HEIGHT_ENDS[end][1]}
          value={spec[end]}
          min={-0.5}
          max={1.5}
          step={0.01}
          {...percent}
          onChange={(value, g) => change({ [end]: value }, g)}
        />
      ))}
    </>
  ),
  facing: (spec, change) => (
    <DirectionChoice
      name="facing"
      direction={spec.direction}
      onChange={(direction, g) => change({ direction }, g)}
    />
  ),
  ridge: curved,
  crease: curved,
  nearness: (spec, change) => (
    <>
      <div className="row" role="group" aria-label="Near to what">
        <Chip on={spec.plane === null} onClick={() => change({ plane: null }, null)}>
          a point
        </Chip>
        <Chip on={spec.plane !== null} onClick={() => change({ plane: spec.plane ?? [0, 1, 0] }, null)}>
          a plane
        </Chip>
      </div>
      <PointSliders point={spec.point} onChange={(point, g) => change({ point }, g)} />
      {spec.plane && (
        <DirectionChoice
          name="the plane"
          direction={spec.plane}
          onChange={(plane, g) => change({ plane }, g)}
        />
      )}
      <Slider
        label="Radius"
        value={spec.radius}
        min={0.02}
        max={2}
        step={0.01}
        curve={2}
        {...percent}
        onChange={(radius, g) => change({ radius }, g)}
      />
      <ShareSlider
        label="Edge"
        says="Over which part of the radius it falls off"
        value={spec.edge}
        onChange={(edge, g) => change({ edge }, g)}
      />
      <PoseChoice
        of="nearness"
        poses={spec.poses ?? null}
        onChange={(poses) => change({ poses: poses ?? undefined }, null)}
      />
    </>
  ),
  along: (spec, change) => (
    <>
      {spec.points.length === 1 ? (
        <PointSliders point={spec.points[0]!} onChange={(point, g) => change({ points: [point] }, g)} />
      ) : (
        <p className="hint-line">Begins at a line of {spec.points.length} points.</p>
      )}
      <Slider
        label="Reach"
        value={spec.reach}
        min={0.02}
        max={3}
        step={0.01}
        curve={2}
        {...percent}
        onChange={(reach, g) => change({ reach }, g)}
      />
    </>
  ),
  cast: (spec, change) => (
    <>
      <DirectionChoice
        name="the light"
        direction={spec.direction}
        onChange={(direction, g) => change({ direction }, g)}
      />
      <Slider
        label="Size"
        says="Size of the light"
        value={spec.light}
        min={0}
        max={60}
        step={0.5}
        curve={2}
        show={(v) => `${v}°`}
        onChange={(light, g) => change({ light }, g)}
      />
      <PoseChoice
        of="cast"
        poses={spec.poses ?? null}
        onChange={(poses) => change({ poses: poses ?? undefined }, null)}
      />
    </>
  ),
  thickness: (spec, change) => (
    <Slider
      label="Thick at"
      says="What counts as thick, in parts of the model"
      value={spec.distance}
      min={0.005}
      max={1}
      step={0.005}
      curve={2}
      {...percent}
      show={(v) => (v * 100).toFixed(1)}
      onChange={(distance, g) => change({ distance }, g)}
    />
  ),
  grain: (spec, change) => (
    <>
      <div className="row" role="group" aria-label="Kind of grain">
        {GRAINS.map((kind) => (
          <Chip key={kind} on={spec.kind === kind} onClick={() => change({ kind }, null)}>
            {GRAIN_WORDS[kind]}
          </Chip>
        ))}
      </div>
      <Slider
        label="Grains"
        says="Grains along the model"
        value={spec.scale}
        min={1}
        max={300}
        step={1}
        curve={2}
        onChange={(scale, g) => change({ scale }, g)}
      />
      <Slider
        label="Seed"
        value={spec.seed}
        min={0}
        max={99}
        step={1}
        onChange={(seed, g) => change({ seed }, g)}
      />
      <Slider
        label="Stretch"
        says="How much longer grains are along a direction"
        value={spec.stretch?.by ?? 1}
        min={1}
        max={40}
        step={0.5}
        curve={2}
        show={(v) => `× ${v}`}
        read={(text) => Number.parseFloat(text.replace('×', ''))}
        onChange={(by, g) =>
          change({ stretch: by > 1 ? { direction: spec.stretch?.direction ?? [0, 1, 0], by } : null }, g)
        }
      />
      {spec.stretch && (
        <DirectionChoice
          name="the stretch"
          direction={spec.stretch.direction}
          onChange={(direction, g) => change({ stretch: { by: spec.stretch!.by, direction } }, g)}
        />
      )}
    </>
  ),
};

const HEIGHT_ENDS = {
  from: ['Begins', 'Where height begins'],
  to: ['Ends', 'Where height ends'],
} as const;

const GRAIN_WORDS = { value: 'clouds', ridged: 'veins', cellular: 'cells' } as const;

const SCALES = [
  ['fine', 'Fine'],
  ['medium', 'Medium'],
  ['broad', 'Broad'],
] as const;

type Curved = SpecOf<'ridge'> | SpecOf<'crease'>;

function curved(
  spec: Curved,
  change: (patch: Partial<Pick<Curved, 'scale' | 'weights'>>, gesture: string | null) => void,
): ReactNode {
  return (
    <>
      <Slider
        label="Strength"
        says={`Strength of ${spec.cue}`}
        value={spec.scale}
        min={0.005}
        max={1}
        step={0.005}
        curve={2}
        {...percent}
        show={(v) => (v * 100).toFixed(1)}
        onChange={(scale, g) => change({ scale }, g)}
      />
      {SCALES.map(([scale, label]) => (
        <Slider
          key={scale}
          label={label}
          says={`${label} forms, how much they count`}
          value={spec.weights[scale]}
          min={0}
          max={1}
          step={0.05}
          {...percent}
          onChange={(value, g) => change({ weights: { ...spec.weights, [scale]: value } }, g)}
        />
      ))}
    </>
  );
}
