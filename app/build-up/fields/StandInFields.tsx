import { Euler, Quaternion } from 'three';
import { sentenceOf } from '../../../core/errors';
import { fitStandIn, type StandIn } from '../../../core/light';
import { useProject } from '../../project';
import { Chip } from '../../shared/Chip';
import { notify } from '../../shared/notify';
import { degrees, percent, ShareSlider, Slider } from '../../shared/Slider';
import { useUi } from '../../shared/ui-store';
import { PointSliders } from '../cues/PointSliders';
import { Fold } from '../../shared/Fold';
import type { PlanProps } from './plan-props';

const eulerOf = ({ turn }: StandIn): Euler => new Euler().setFromQuaternion(new Quaternion(...turn));

/** Its turn with the angle about one axis another, radians. */
function turnedTo(standIn: StandIn, axis: 'x' | 'y' | 'z', angle: number): StandIn['turn'] {
  const euler = eulerOf(standIn);
  euler[axis] = angle;
  return new Quaternion().setFromEuler(euler).toArray() as StandIn['turn'];
}

const SOLIDS = ['ellipsoid', 'capsule', 'box'] as const;

/** Simple solids whose normals stand for those of a part, and how far normals are evened out: both make light calm. */
export function StandInFields({ light, plan, patch }: PlanProps) {
  const inHand = useUi((s) => (s.standIn?.light === light ? s.standIn.index : null));
  const mesh = useProject((s) => s.mesh);
  const regions = useProject((s) => s.document?.regions) ?? [];
  const part = useUi((s) => (s.selectedPart === null ? null : mesh?.parts[s.selectedPart])) ?? null;
  const isThere = plan.standIns.some(({ of }) => 'part' in of && of.part === part);
  const lay = (solid: StandIn['solid']): void => {
    if (!mesh || part === null) return;
    const index = mesh.parts.indexOf(part);
    try {
      const faces = [...mesh.faceParts.keys()].filter((f) => mesh.faceParts[f] === index);
      const fit = fitStandIn(mesh, faces);
      patch({ standIns: [...plan.standIns, { of: { part }, solid, ...fit, blend: 0.8 }] }, null);
    } catch (error) {
      notify(sentenceOf(error));
    }
  };
  return (
    <Fold
      title="Calm light"
      note={
        plan.standIns.length || plan.calm > 0
          ? plan.standIns.length === 1
            ? '1 stand-in'
            : `${plan.standIns.length} stand-ins`
          : 'as the form is'
      }
    >
      <Slider
        label="Even out"
        says="How far normals are evened out along the surface"
        value={plan.calm}
        min={0}
        max={0.2}
        step={0.002}
        curve={2}
        show={(v) => (v * 100).toFixed(1)}
        read={(text) => Number.parseFloat(text) / 100}
        onChange={(calm, g) => patch({ calm }, g)}
      />
      {part === null ? (
        <p className="hint-line">Choose a part in Block in to lay a simple solid about it.</p>
      ) : (
        !isThere && (
          <div className="row" role="group" aria-label={`Stand-in for ${part}`}>
            <span>{part}:</span>
            {SOLIDS.map((solid) => (
              <Chip key={solid} title="Its normals stand for the part’s own" onClick={() => lay(solid)}>
                {solid}
              </Chip>
            ))}
          </div>
        )
      )}
      {plan.standIns.map((s, i) => {
        const { of } = s;
        const name = 'part' in of ? of.part : (regions.find((r) => r.id === of.region)?.name ?? 'a region');
        const set = (change: Partial<StandIn>, g: string | null): void =>
          patch({ standIns: plan.standIns.with(i, { ...s, ...change }) }, g);
        return (
          <Fold key={i} title={name} note={s.solid}>
            <div className="row" role="group" aria-label={`Solid for ${name}`}>
              {SOLIDS.map((solid) => (
                <Chip key={solid} on={s.solid === solid} onClick={() => set({ solid }, null)}>
                  {solid}
                </Chip>
              ))}
            </div>
            <ShareSlider
              label="Blend"
              says={`How much the stand-in of ${name} counts`}
              value={s.blend}
              onChange={(blend, g) => set({ blend }, g)}
            />
            <PointSliders
              point={s.centre}
              name={`the stand-in of ${name}`}
              onChange={(centre, g) => set({ centre }, g)}
            />
            {(['Wide', 'Long', 'Deep'] as const).map((label, k) => (
              <Slider
                key={label}
                label={label}
                says={`${label}: extent of the stand-in of ${name}`}
                value={s.half[k]!}
                min={0.005}
                max={1}
                step={0.005}
                curve={2}
                {...percent}
                onChange={(value, g) => set({ half: s.half.with(k, value) as [number, number, number] }, g)}
              />
            ))}
            {(['x', 'y', 'z'] as const).map((axis) => (
              <Slider
                key={axis}
                label={`Turn ${axis}`}
                says={`Turn of the stand-in of ${name} about ${axis}`}
                value={eulerOf(s)[axis]}
                min={-Math.PI}
                max={Math.PI}
                step={Math.PI / 180}
                {...degrees}
                onChange={(value, g) => set({ turn: turnedTo(s, axis, value) }, g)}
              />
            ))}
            <div className="row">
              <Chip
                on={inHand === i}
                title="Handles on the model: the middle moves it, the ring turns it, squares change its extent"
                onClick={() => useUi.setState({ standIn: inHand === i ? null : { light, index: i } })}
              >
                On the model
              </Chip>
              <Chip
                onClick={() => {
                  useUi.setState({ standIn: null });
                  patch({ standIns: plan.standIns.filter((_, k) => k !== i) }, null);
                }}
              >
                Remove
              </Chip>
            </div>
          </Fold>
        );
      })}
    </Fold>
  );
}
