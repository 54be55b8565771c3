import { useProject } from '../../project';
import { ShareSlider } from '../../shared/Slider';
import { useUi } from '../../shared/ui-store';
import { Fold } from '../../shared/Fold';
import type { PlanProps } from './plan-props';

/** How strongly each part is lit. */
export function PartStrengths({ plan, patch }: Omit<PlanProps, 'light'>) {
  const mesh = useProject((s) => s.mesh);
  const part = useUi((s) => (s.selectedPart === null ? null : mesh?.parts[s.selectedPart])) ?? null;
  const regions = useProject((s) => s.document?.regions) ?? [];
  const count = plan.parts.length + plan.regions.length;
  const names = [...new Set([...plan.parts.map(([name]) => name), ...(part === null ? [] : [part])])];
  return (
    <Fold title="Parts and regions" note={count ? `${count} of their own` : 'all alike'}>
      {names.length === 0 && (
        <p className="hint-line">Choose a part in Block in to light it more, less or not at all.</p>
      )}
      {names.map((name) => (
        <ShareSlider
          key={name}
          label={name}
          says={`Light on ${name}`}
          value={plan.parts.find(([n]) => n === name)?.[1] ?? 1}
          max={2}
          onChange={(value, g) =>
            patch(
              { parts: [...plan.parts.filter(([n]) => n !== name), [name, value] as [string, number]] },
              g,
            )
          }
        />
      ))}
      {regions.map(({ id, name }) => (
        <ShareSlider
          key={`r${id}`}
          label={name}
          says={`Light on the region ${name}`}
          value={plan.regions.find(([r]) => r === id)?.[1] ?? 1}
          max={2}
          onChange={(value, g) =>
            patch(
              { regions: [...plan.regions.filter(([r]) => r !== id), [id, value] as [number, number]] },
              g,
            )
          }
        />
      ))}
    </Fold>
  );
}
