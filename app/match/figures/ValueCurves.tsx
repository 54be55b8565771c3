import { Area, ComposedChart, Line, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import type { MatchReport } from '../../../core/match';

/** Shares of lightness from dark to light: the paint as a filled shape, the reference as a line. */
export default function ValueCurves({
  values,
  sums,
  height,
}: {
  readonly values: MatchReport['values'];
  readonly sums: boolean;
  readonly height: number;
}) {
  const { reference, model } = values;
  let [r, m] = [0, 0];
  const data = model.map((share, i) => {
    r += reference[i]!;
    m += share;
    return {
      at: (i + 0.5) * (100 / model.length),
      model: sums ? m : share,
      reference: sums ? r : reference[i]!,
    };
  });
  return (
    <div
      role="img"
      aria-label={`Shares of lightness from dark to light, paint: ${model.map((s) => Math.round(s * 100)).join(', ')}; reference: ${reference.map((s) => Math.round(s * 100)).join(', ')} percent`}
    >
      <ResponsiveContainer width="100%" height={height}>
        <ComposedChart
          data={data}
          margin={{ top: 2, right: 0, bottom: 0, left: 0 }}
          accessibilityLayer={false}
        >
          <XAxis dataKey="at" hide type="number" domain={[0, 100]} />
          <YAxis hide domain={[0, 'dataMax']} />
          <Area
            dataKey="model"
            type="monotone"
            fill="#b9aca2"
            stroke="none"
            fillOpacity={1}
            isAnimationActive={false}
          />
          <Line
            dataKey="reference"
            type="monotone"
            stroke="#2b2622"
            strokeWidth={1.6}
            dot={false}
            isAnimationActive={false}
          />
        </ComposedChart>
      </ResponsiveContainer>
    </div>
  );
}
