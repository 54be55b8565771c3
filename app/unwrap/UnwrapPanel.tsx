import { useMemo } from 'react';
import { uvFigures } from '../../core/surface';
import { Chip } from '../shared/Chip';
import { useProject } from '../shared/project-store';
import { useUi } from '../shared/ui-store';

/** What the present layout is worth. */
export function UnwrapPanel() {
  const mesh = useProject((s) => s.mesh);
  const surface = useProject((s) => s.surface);
  const look = useUi((s) => s.look);
  const figures = useMemo(() => (mesh ? uvFigures(mesh) : null), [mesh]);
  if (!surface || !figures) {
    return (
      <section className="panel">
        <h2>Layout</h2>
        <p className="hint-line">The surface is being measured.</p>
      </section>
    );
  }
  const texels = surface.size ** 2;
  return (
    <section className="panel" aria-label="Layout">
      <h2>Layout</h2>
      <div className="row">
        <Chip
          on={look === 'checker'}
          title="Lay even squares over the model"
          onClick={() => useUi.setState({ look: look === 'checker' ? 'unlit' : 'checker' })}
        >
          Checker
        </Chip>
      </div>
      <dl className="facts">
        <dt>Sheet</dt>
        <dd>
          {surface.size} × {surface.size}
        </dd>
        <dt>Islands</dt>
        <dd>{surface.islands}</dd>
        <dt>Covered</dt>
        <dd>{((surface.coveredTexels / texels) * 100).toFixed(0)} %</dd>
        <dt>Texels a unit</dt>
        <dd>{surface.texelLength > 0 ? (1 / surface.texelLength).toFixed(0) : '–'}</dd>
        <dt>Overlapping texels</dt>
        <dd>{surface.overlappedTexels.toLocaleString('en')}</dd>
        <dt>Triangles outside the sheet</dt>
        <dd>{figures.outOfRange}</dd>
        <dt>Triangles face down</dt>
        <dd>{figures.flipped}</dd>
      </dl>
      <p className="hint-line">{adviceFor(surface.overlappedTexels, figures)}</p>
    </section>
  );
}

function adviceFor(
  overlapped: number,
  { outOfRange, flipped }: { outOfRange: number; flipped: number },
): string {
  if (overlapped > 0)
    return 'Where islands lie on one another, one stroke paints both places. Light can only be right on one of them.';
  if (outOfRange > 0) return 'Triangles outside the sheet wrap around to its other side, as textures do.';
  if (flipped > 0) return 'Islands that lie face down are mirrored: lettering would read backward on them.';
  return 'Nothing overlaps, nothing lies outside: every place on the model has texels of its own.';
}
