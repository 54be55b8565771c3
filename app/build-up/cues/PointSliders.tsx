import { Slider, percent } from '../../shared/Slider';

type Point = readonly [number, number, number];

/** Where a point lies: from the middle of the model, in parts of its diagonal. */
export function PointSliders({
  point,
  name = 'the point',
  onChange,
}: {
  readonly point: Point;
  readonly name?: string;
  readonly onChange: (point: [number, number, number], gesture: string) => void;
}) {
  return (['Across', 'Up', 'Front'] as const).map((label, axis) => (
    <Slider
      key={label}
      label={label}
      says={`${label}, where ${name} lies`}
      value={point[axis]!}
      min={-0.7}
      max={0.7}
      step={0.01}
      {...percent}
      onChange={(value, gesture) => {
        const next: [number, number, number] = [...point];
        next[axis] = value;
        onChange(next, gesture);
      }}
    />
  ));
}
