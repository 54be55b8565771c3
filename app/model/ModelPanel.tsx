import { EyeIcon } from '@phosphor-icons/react/dist/csr/Eye';
import { EyeSlashIcon } from '@phosphor-icons/react/dist/csr/EyeSlash';
import { useMemo } from 'react';
import { boundsOf, triangleCount, vertexCount } from '../../core/mesh';
import { Chip } from '../shared/Chip';
import { useProject } from '../shared/project-store';
import { percent, Slider } from '../shared/Slider';
import { useUi } from '../shared/ui-store';

/** The parts of the model, and how it is looked at. */
export function ModelPanel({ onFrame }: { readonly onFrame: (part: number | null) => void }) {
  const mesh = useProject((s) => s.mesh);
  const hidden = useUi((s) => s.hidden);
  const selected = useUi((s) => s.selectedPart);
  const ground = useUi((s) => s.ground);
  const counts = useMemo(() => {
    const out = new Array<number>(mesh?.parts.length ?? 0).fill(0);
    for (const part of mesh?.faceParts ?? []) out[part]!++;
    return out;
  }, [mesh]);
  if (!mesh) return null;
  const { min, max } = boundsOf(mesh.positions);
  const setHidden = (next: Iterable<number>): void => useUi.setState({ hidden: new Set(next) });
  const isAlone = (part: number): boolean => hidden.size === mesh.parts.length - 1 && !hidden.has(part);
  return (
    <section className="panel" aria-label="Parts">
      <h2>
        Parts <span>{mesh.parts.length}</span>
      </h2>
      <ul className="parts">
        {mesh.parts.map((name, part) => (
          <li key={name} className={selected === part ? 'on' : ''}>
            <button
              type="button"
              className="part-name"
              onClick={() => useUi.setState({ selectedPart: part })}
              onDoubleClick={() => onFrame(part)}
            >
              {name} <small>{counts[part]} triangles</small>
            </button>
            <Chip
              on={isAlone(part)}
              title="See this part alone"
              onClick={() =>
                setHidden(isAlone(part) ? [] : counts.map((_, p) => p).filter((p) => p !== part))
              }
            >
              Isolate
            </Chip>
            <button
              type="button"
              className="eye"
              aria-label={hidden.has(part) ? `Show ${name}` : `Hide ${name}`}
              aria-pressed={!hidden.has(part)}
              onClick={() =>
                setHidden(hidden.has(part) ? [...hidden].filter((p) => p !== part) : [...hidden, part])
              }
            >
              {hidden.has(part) ? <EyeSlashIcon size={15} /> : <EyeIcon size={15} />}
            </button>
          </li>
        ))}
      </ul>
      <div className="row">
        <Chip onClick={() => onFrame(null)}>Frame all</Chip>
        <Chip disabled={selected === null} onClick={() => onFrame(selected)}>
          Frame part
        </Chip>
        <Chip disabled={hidden.size === 0} onClick={() => setHidden([])}>
          Show all
        </Chip>
      </div>
      <Slider
        label="Ground"
        value={ground}
        min={0}
        max={1}
        step={0.01}
        {...percent}
        onChange={(v) => useUi.setState({ ground: v })}
      />
      <dl className="facts">
        <dt>Triangles</dt>
        <dd>{triangleCount(mesh).toLocaleString('en')}</dd>
        <dt>Vertices</dt>
        <dd>{vertexCount(mesh).toLocaleString('en')}</dd>
        <dt>Size</dt>
        <dd>{[0, 1, 2].map((a) => (max[a]! - min[a]!).toFixed(2)).join(' × ')}</dd>
      </dl>
      <p className="hint-line">
        Double-click a part to come near. Right button turns, middle button moves, wheel comes nearer.
      </p>
    </section>
  );
}
