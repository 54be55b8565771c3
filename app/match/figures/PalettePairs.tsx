import type { PalettePair } from '../../../core/match';
import { useUi } from '../../shared/ui-store';

/** Main colours of both, paired, each as wide as its share: a click takes the wanted one in hand. */
export function PalettePairs({ pairs }: { readonly pairs: readonly PalettePair[] }) {
  if (pairs.length === 0) return null;
  const row = (side: 'reference' | 'model') => (
    <div className="pair-row">
      {pairs.map((pair) => {
        const { hex, share } = pair[side];
        return (
          <button
            key={`${pair.reference.hex} ${pair.model.hex}`}
            type="button"
            style={{ background: hex, flexGrow: Math.max(0.02, pair.reference.share) }}
            title={`${hex}, ${(share * 100).toFixed(0)} % of the ${side === 'reference' ? 'reference' : 'paint'} · ΔE ${pair.deltaE.toFixed(1)}`}
            aria-label={`${side === 'reference' ? 'Wanted' : 'Painted'} ${hex}`}
            onClick={() => useUi.setState({ color: hex })}
          />
        );
      })}
    </div>
  );
  return (
    <section className="match-section">
      <h3>
        Palettes <span>wanted above, painted below</span>
      </h3>
      {row('reference')}
      {row('model')}
    </section>
  );
}
