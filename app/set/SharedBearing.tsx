import { useEffect, useState } from 'react';
import type { Vec3 } from '../../core/math';
import { BearingSliders } from '../shared/BearingSliders';

/** A direction that is being dragged is kept when it has rested so long, ms. */
const REST = 400;

/** From where a shared light comes. */
export function SharedBearing({
  direction,
  onChange,
}: {
  readonly direction: Vec3;
  onChange(direction: Vec3): void;
}) {
  const [draft, setDraft] = useState<Vec3 | null>(null);
  useEffect(() => {
    if (!draft) return;
    const rest = setTimeout(() => {
      onChange(draft);
      setDraft(null);
    }, REST);
    return () => clearTimeout(rest);
  }, [draft]); // eslint-disable-line react-hooks/exhaustive-deps
  return <BearingSliders name="the key light" direction={draft ?? direction} onChange={(d) => setDraft(d)} />;
}
