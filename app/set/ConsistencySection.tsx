import { consistencyOf, type Difference } from '../../core/set';
import { Fold } from '../shared/Fold';
import type { Member } from './use-seen';

const WORDS: Readonly<Record<Difference, string>> = {
  palette: 'Palette',
  density: 'Density',
  values: 'Values',
  light: 'Light',
};

/** Whether the projects of a set look as if they belonged together; those that don't are named. */
export function ConsistencySection({ members }: { readonly members: readonly Member[] }) {
  const seen = members.filter((m) => m.seen);
  const { outliers, density, values } = consistencyOf(seen.map((m) => m.seen!.facts));
  const isLooking = members.some((m) => !m.seen && !m.problem);
  return (
    <section>
      <h2>Consistency</h2>
      {isLooking && <p className="hint-line">Looking…</p>}
      {!isLooking && outliers.length === 0 && seen.length > 0 && (
        <p className="hint-line">They go together: nothing stands out.</p>
      )}
      {outliers.map(({ asset, of, says }) => (
        <p key={`${asset} ${of}`} className="outlier">
          <b>{seen[asset]!.name}</b> · {WORDS[of]}
          <br />
          {says}
        </p>
      ))}
      {seen.length > 0 && (
        <Fold title="Figures" note={`${Math.round(density)} texels a unit`}>
          <table className="set-figures">
            <thead>
              <tr>
                <th scope="col">Project</th>
                <th scope="col">Palette ΔE</th>
                <th scope="col">Density</th>
                <th scope="col">L*</th>
              </tr>
            </thead>
            <tbody>
              {seen.map(({ id, name, seen: one }) => (
                <tr key={id}>
                  <th scope="row">{name}</th>
                  <td>{one!.facts.paletteDistance?.toFixed(1) ?? '–'}</td>
                  <td>{Math.round(one!.facts.density)}</td>
                  <td>{rangeWords(one!.facts.values)}</td>
                </tr>
              ))}
              <tr>
                <th scope="row">The set</th>
                <td />
                <td>{Math.round(density)}</td>
                <td>{rangeWords(values)}</td>
              </tr>
            </tbody>
          </table>
        </Fold>
      )}
    </section>
  );
}

const rangeWords = (values: readonly number[]): string => values.map((v) => Math.round(v)).join(' · ');
