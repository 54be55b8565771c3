import { useEffect, useState } from 'react';
import { LEAST_SCALE, withScale, type AssetSet } from '../../core/set';
import { changeSet } from './sets';

/** How large a project stands among the others; it holds as soon as it is left. */
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
  const told = `× ${Number(scale.toPrecision(4))}`;
  const [text, setText] = useState(told);
  useEffect(() => setText(told), [told]);
  const done = (): void => {
    const wanted = Number.parseFloat(text.replace('×', '').replace(',', '.'));
    if (!(wanted >= LEAST_SCALE && wanted <= 1 / LEAST_SCALE)) return setText(told);
    if (wanted !== scale) void changeSet(set.id, (now) => withScale(now, id, wanted));
    else setText(told);
  };
  return (
    <input
      className="member-scale"
      value={text}
      inputMode="decimal"
      aria-label={`Scale of ${name}`}
      title="How large it stands among the others: a model made in centimetres is × 0.01 beside metres"
      onChange={(e) => setText(e.target.value)}
      onFocus={(e) => e.target.select()}
      onBlur={done}
      onKeyDown={(e) => {
        if (e.key === 'Enter') done();
        if (e.key === 'Escape') setText(told);
      }}
    />
  );
}
