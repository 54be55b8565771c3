import { compareColors, hexToRgb, rgbToHex } from '../../../core/color';
import { useProject } from '../../project';
import { useUi, useHover } from '../../shared/ui-store';

/** The colour wanted beside the colour painted: how far they are apart, and which way. */
export function UnderPointer() {
  const under = useHover((s) => s.under);
  const color = useUi((s) => s.color);
  const swatch = useProject((s) => s.document?.palette.find((p) => p.color === color));
  const comparison = under ? compareColors(under, hexToRgb(color)) : null;
  return (
    <>
      <div className="match-pair">
        <div>
          <i style={{ background: color }} />
          <small>wanted</small>
          <b>{swatch?.name || color}</b>
        </div>
        <div>
          <i
            style={{ background: under ? rgbToHex(under) : 'transparent' }}
            className={under ? '' : 'none'}
          />
          <small>painted</small>
          <b>{under ? rgbToHex(under) : 'point at the model'}</b>
        </div>
      </div>
      {comparison && (
        <>
          <p className="match-words" data-testid="match-words">
            {comparison.words === 'no visible difference'
              ? 'No visible difference.'
              : `The paint is ${comparison.words}.`}
          </p>
          <dl className="facts">
            <dt>Difference ΔE</dt>
            <dd>{comparison.deltaE.toFixed(1)}</dd>
            <dt>Lightness</dt>
            <dd>{signed(comparison.deltaL)}</dd>
            <dt>Chroma</dt>
            <dd>{signed(comparison.deltaC)}</dd>
            <dt>Hue</dt>
            <dd>{signed(comparison.deltaH)}</dd>
          </dl>
        </>
      )}
    </>
  );
}

const signed = (x: number): string => (x > 0 ? '+' : x < 0 ? '−' : '') + Math.abs(x).toFixed(1);
