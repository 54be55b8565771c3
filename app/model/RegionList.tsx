import { useState } from 'react';
import { Chip } from '../shared/Chip';
import { useLayout } from '../shared/layout-store';
import { saveRegion, type Session, useForm, useProject } from '../project';
import { useUi } from '../shared/ui-store';
import { RenameField } from '../shared/RenameField';

/** Saved selections of faces. */
export function RegionList({
  session,
  parts,
  onShow,
}: {
  readonly session: Session;
  /** The parts that are chosen. */
  readonly parts: readonly number[];
  readonly onShow: (faces: ReadonlySet<number>) => void;
}) {
  const regions = useProject((s) => s.document?.regions) ?? [];
  const mesh = useForm();
  const [lit, setLit] = useState<number | null>(null);
  const renaming = useUi((s) => (s.renaming?.of === 'region' ? s.renaming.id : null));
  const setRenaming = (id: number | null): void =>
    useUi.setState({ renaming: id === null ? null : { of: 'region', id } });
  const toggle = (id: number, faces: readonly number[]): void => {
    const next = lit === id ? null : id;
    setLit(next);
    const shown = new Set(next === null ? [] : faces);
    useLayout.setState({ chosen: shown });
    if (next !== null) onShow(shown);
  };
  const fromParts = (): void => {
    const faces: number[] = [];
    mesh?.faceParts.forEach((p, f) => {
      if (parts.includes(p)) faces.push(f);
    });
    saveRegion(session, faces);
  };
  return (
    <section aria-label="Regions" className="regions">
      <h2>
        Regions{' '}
        <Chip
          disabled={parts.length === 0}
          title="The chosen parts become a region; islands do at the Unwrap stage"
          onClick={fromParts}
        >
          From the parts
        </Chip>
      </h2>
      <ul className="parts">
        {regions.map((region) => (
          <li key={region.id} className={lit === region.id ? 'on' : ''}>
            {renaming === region.id ? (
              <RenameField
                name={region.name}
                label="Name of the region"
                most={80}
                onDone={(name) => {
                  setRenaming(null);
                  if (name) void session.command({ do: 'patch-region', region: region.id, patch: { name } });
                }}
              />
            ) : (
              <button
                type="button"
                className="part-name"
                aria-pressed={lit === region.id}
                title="Light it up; double-click or F2 to rename"
                onClick={() => toggle(region.id, region.faces)}
                onDoubleClick={() => setRenaming(region.id)}
                onKeyDown={(e) => {
                  if (e.key !== 'F2') return;
                  e.stopPropagation();
                  setRenaming(region.id);
                }}
              >
                {region.name} <small>{region.faces.length} triangles</small>
              </button>
            )}
            <Chip
              title="Layers that it masks cover the whole model again"
              onClick={() => void session.command({ do: 'remove-region', region: region.id })}
            >
              Remove
            </Chip>
          </li>
        ))}
      </ul>
    </section>
  );
}
