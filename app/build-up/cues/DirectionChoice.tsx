import type { Vec3 } from '../../../core/math';
import { BearingSliders } from '../../shared/BearingSliders';
import { Chip } from '../../shared/Chip';

const SIDES = [
  ['up', [0, 1, 0]],
  ['down', [0, -1, 0]],
  ['front', [0, 0, 1]],
  ['back', [0, 0, -1]],
  ['left', [-1, 0, 0]],
  ['right', [1, 0, 0]],
] as const;

/** A direction: one of the six sides, or in figures. */
export function DirectionChoice({
  name,
  direction,
  onChange,
}: {
  /** What it is the direction of. */
  readonly name: string;
  readonly direction: Vec3;
  readonly onChange: (direction: [number, number, number], gesture: string | null) => void;
}) {
  return (
    <>
      <div className="row" role="group" aria-label={`Direction of ${name}`}>
        {SIDES.map(([side, to]) => (
          <Chip key={side} on={direction.join() === to.join()} onClick={() => onChange([...to], null)}>
            {side}
          </Chip>
        ))}
      </div>
      <BearingSliders
        name={name}
        direction={direction}
        onChange={(to, gesture) => onChange([...to], gesture)}
      />
    </>
  );
}
