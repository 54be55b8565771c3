import type { Reference } from '../../../core/document';
import { type Session, useMatchView, useProject } from '../../project';
import { Chip } from '../../shared/Chip';
import { Slider } from '../../shared/Slider';
import { matchOf, patchMatch } from './camera-actions';
import { toggleTool, useMatch } from '../match-ui';

const SIDES = [
  ['left', 'Crop left'],
  ['top', 'Crop top'],
  ['right', 'Crop right'],
  ['bottom', 'Crop bottom'],
] as const;

/** What of the picture is the model: told by its plain ground, mended with a brush. */
export function MaskSection({
  session,
  reference,
}: {
  readonly session: Session;
  readonly reference: Reference;
}) {
  const match = matchOf(reference);
  const tool = useMatch((s) => s.tool);
  const { maskAdds, maskSize, maskPart } = useMatch();
  const problem = useMatchView((s) => s.read?.problem ?? '');
  const parts = useProject((s) => s.mesh?.parts) ?? [];
  return (
    <div className="match-section">
      <p className="hint-line">
        {problem || 'Told by the picture’s plain ground. What is veiled doesn’t count; paint to mend it.'}
      </p>
      <div className="row">
        <Chip on={tool === 'mask'} onClick={() => toggleTool('mask')}>
          Paint the mask
        </Chip>
        {match.mask.length > 0 && (
          <Chip onClick={() => void patchMatch(session, () => ({ mask: [] }))}>As it was told</Chip>
        )}
      </div>
      {tool === 'mask' && (
        <>
          <div className="row" role="group" aria-label="What the brush does">
            <Chip on={maskAdds} onClick={() => useMatch.setState({ maskAdds: true })}>
              Belongs to it
            </Chip>
            <Chip on={!maskAdds} onClick={() => useMatch.setState({ maskAdds: false })}>
              Doesn’t
            </Chip>
          </div>
          <Slider
            label="Size"
            value={maskSize}
            min={2}
            max={400}
            step={1}
            curve={2}
            show={(v) => `${v} px`}
            onChange={(size) => useMatch.setState({ maskSize: size })}
          />
          {maskAdds && (
            <label className="slider">
              <span className="slider-label">Shows</span>
              <select
                className="form-select"
                value={maskPart ?? ''}
                onChange={(e) => useMatch.setState({ maskPart: e.target.value || null })}
              >
                <option value="">any part</option>
                {parts.map((name) => (
                  <option key={name}>{name}</option>
                ))}
              </select>
            </label>
          )}
        </>
      )}
      {SIDES.map(([side, label]) => {
        const value = side === 'left' || side === 'top' ? match.crop[side] : 1 - match.crop[side];
        return (
          <Slider
            key={side}
            label={label}
            value={value}
            min={0}
            max={0.9}
            step={0.01}
            show={(v) => `${Math.round(v * 100)} %`}
            read={(text) => Number.parseFloat(text) / 100}
            onChange={(v, gesture) => {
              const next = side === 'left' || side === 'top' ? v : 1 - v;
              const crop = { ...match.crop, [side]: next };
              if (crop.right - crop.left < 0.05 || crop.bottom - crop.top < 0.05) return;
              void patchMatch(session, () => ({ crop }), gesture);
            }}
          />
        );
      })}
    </div>
  );
}
