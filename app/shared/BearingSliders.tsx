import { bearingOf, directionOf, type Vec3 } from '../../core/math';
import { Slider } from './Slider';

const DEGREE = Math.PI / 180;

/** A direction in figures: round the model from its front, and how high. */
export function BearingSliders({
  name,
  direction,
  onChange,
}: {
  /** What it is the direction of. */
  readonly name: string;
  readonly direction: Vec3;
  readonly onChange: (direction: Vec3, gesture: string) => void;
}) {
  const bearing = bearingOf(direction);
  const angle = (key: keyof typeof bearing, label: string, most: number) => (
    <Slider
      label={label}
      says={`${label} of ${name}`}
      value={bearing[key] / DEGREE}
      min={-most}
      max={most}
      step={1}
      show={(v) => `${Math.round(v)}°`}
      onChange={(v, gesture) => onChange(directionOf({ ...bearing, [key]: v * DEGREE }), gesture)}
    />
  );
  return (
    <>
      {angle('azimuth', 'Azimuth', 180)}
      {angle('elevation', 'Elevation', 90)}
    </>
  );
}
