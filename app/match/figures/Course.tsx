import { Line, LineChart, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import type { Look } from '../../../core/document';

/** The distance from look to look. */
export default function Course({ looks }: { readonly looks: readonly Look[] }) {
  const data = looks.map(({ name, match }) => ({ name, mean: match!.mean, p95: match!.p95 }));
  return (
    <div
      role="img"
      aria-label={`Mean ΔE from look to look: ${data.map((d) => d.mean.toFixed(1)).join(', ')}`}
    >
      <ResponsiveContainer width="100%" height={110}>
        <LineChart data={data} margin={{ top: 6, right: 8, bottom: 0, left: 0 }} accessibilityLayer={false}>
          <XAxis dataKey="name" tick={{ fontSize: 10 }} tickLine={false} />
          <YAxis
            width={24}
            tick={{ fontSize: 10 }}
            tickLine={false}
            axisLine={false}
            domain={[0, 'dataMax']}
          />
          <Line dataKey="mean" stroke="#2b2622" strokeWidth={1.6} isAnimationActive={false} />
          <Line dataKey="p95" stroke="#8f8880" strokeDasharray="4 3" isAnimationActive={false} />
        </LineChart>
      </ResponsiveContainer>
    </div>
  );
}
