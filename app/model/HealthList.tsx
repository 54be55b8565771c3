import { useEffect, useState } from 'react';
import type { UvMesh } from '../../core/mesh';
import type { Finding, FindingKind } from '../../core/unwrap';
import { Chip } from '../shared/Chip';
import { useLayout } from '../shared/layout-store';
import { jobPool } from '../shared/platform';
import { type Session, useForm, useProject } from '../project';
import { mend } from './model-actions';

const WORDS: Record<FindingKind, readonly [one: string, many: string]> = {
  overlapping: ['triangle shares texels', 'triangles share texels'],
  flipped: ['triangle lies face down', 'triangles lie face down'],
  outside: ['triangle outside the sheet', 'triangles outside the sheet'],
  'no-area': ['triangle without area', 'triangles without area'],
  stretched: ['stretched triangle', 'stretched triangles'],
  open: ['open edge', 'open edges'],
  'non-manifold': ['edge with more than two triangles', 'edges with more than two triangles'],
  doubled: ['duplicate vertex', 'duplicate vertices'],
  winding: ['edge where the winding changes', 'edges where the winding changes'],
};

/** What an open edge or a stretched triangle is: often meant so. */
const HARMLESS: readonly FindingKind[] = ['open', 'stretched'];

/** What is wrong with the model and its layout, and where. */
export function HealthList({
  session,
  onShow,
}: {
  readonly session: Session;
  readonly onShow: (faces: ReadonlySet<number>) => void;
}) {
  const mesh = useForm();
  const sheets = useProject((s) => s.document?.sheets);
  const sizes = sheets?.map((s) => s.size).join(' ') ?? '';
  const [found, setFound] = useState<{ mesh: UvMesh; findings: readonly Finding[] | null } | null>(null);
  const [open, setOpen] = useState<FindingKind | null>(null);
  useEffect(() => {
    if (!mesh || !sizes) return;
    let gone = false;
    jobPool
      .run('health', { mesh, sizes: sizes.split(' ').map(Number) })
      .then((findings) => {
        if (!gone) setFound({ mesh, findings });
      })
      .catch(() => {
        if (!gone) setFound({ mesh, findings: null });
      });
    return () => void (gone = true);
  }, [mesh, sizes]);
  useEffect(() => {
    setOpen(null);
    return () => useLayout.setState({ chosen: new Set() });
  }, [mesh]);
  const isLooked = found?.mesh === mesh;
  const findings = found && isLooked ? found.findings : null;
  const toggle = (finding: Finding): void => {
    const next = open === finding.kind ? null : finding.kind;
    setOpen(next);
    const faces = new Set(next ? finding.faces : []);
    useLayout.setState({ chosen: faces });
    if (next) onShow(faces);
  };
  return (
    <section aria-label="Health" className="health">
      <h2>
        Health <span>{!isLooked ? 'looking…' : findings?.length === 0 ? 'sound' : ''}</span>
      </h2>
      {isLooked && !findings && (
        <p className="hint-line" role="alert">
          It couldn’t be looked at. Reload the page to try again.
        </p>
      )}
      {findings?.length === 0 && <p className="hint-line">Nothing wrong was found.</p>}
      {findings && findings.length > 0 && (
        <p className="hint-line">● wants mending, ○ is often meant so. Click one to see where.</p>
      )}
      <ul>
        {findings?.map((f) => (
          <li key={f.kind}>
            <button type="button" aria-pressed={open === f.kind} onClick={() => toggle(f)}>
              <i aria-hidden>{HARMLESS.includes(f.kind) ? '○' : '●'}</i>
              {f.count.toLocaleString('en')} {WORDS[f.kind][f.count === 1 ? 0 : 1]}
            </button>
            {f.kind === 'doubled' && (
              <Chip
                title="Vertices that are nearly at one place come to lie at one"
                onClick={() => void mend(session, 'Merge duplicate vertices', { do: 'merge-doubles' })}
              >
                Merge
              </Chip>
            )}
            {f.kind === 'winding' && (
              <Chip
                title="All triangles face outward"
                onClick={() => void mend(session, 'Unify the winding', { do: 'unify-winding' })}
              >
                Unify
              </Chip>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
