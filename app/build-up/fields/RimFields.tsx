import { BearingSliders } from '../../shared/BearingSliders';
import { Chip } from '../../shared/Chip';
import { ShareSlider } from '../../shared/Slider';
import type { PlanProps } from './plan-props';

/** Where the rim lies, and how. */
export function RimFields({ plan: { rim }, patch }: Omit<PlanProps, 'light'>) {
  return (
    <>
      <div className="row" role="group" aria-label="Where the rim lies">
        <Chip
          on={!rim.ofView}
          title="Where the form turns toward a light behind it"
          onClick={() => patch({ rim: { ofView: false } }, null)}
        >
          from a side
        </Chip>
        <Chip
          on={rim.ofView}
          title="Where the form turns away from an eye"
          onClick={() => patch({ rim: { ofView: true } }, null)}
        >
          of a view
        </Chip>
      </div>
      <BearingSliders
        name="the rim"
        direction={rim.direction}
        onChange={(direction, g) => patch({ rim: { direction: [...direction] } }, g)}
      />
      {(['width', 'edge'] as const).map((key) => (
        <ShareSlider
          key={key}
          label={key === 'width' ? 'Width' : 'Edge'}
          says={key === 'width' ? 'Width of the rim' : 'How soft the rim’s border is'}
          value={rim[key]}
          onChange={(value, g) => patch({ rim: { [key]: value } }, g)}
        />
      ))}
    </>
  );
}
