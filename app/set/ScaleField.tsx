import { LEAST_SCALE, withScale, type AssetSet } from '../../core/set';
import { TypedNumber } from '../shared/TypedNumber';
import { changeSet } from './sets';

/** How large a project stands among the others. */
export function ScaleField({
  set,
  id,
  name,
  scale,
}: {
  readonly set: AssetSet;
  readonly id: string;
  readonly name: string;
  readonly scale: number;
}) {
  return (
    <TypedNumber
      className="member-scale"
      label={`Scale of ${name}`}
      title="How large it stands among the others: a model made in centimetres is × 0.01 beside metres"
      value={scale}
      show={(v) => `× ${Number(v.toPrecision(4))}`}
      range={[LEAST_SCALE, 1 / LEAST_SCALE]}
      onChange={(wanted) => void changeSet(set.id, (now) => withScale(now, id, wanted))}
    />
  );
}
