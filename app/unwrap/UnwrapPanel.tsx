import { useEffect, useRef, useState } from 'react';
import { Chip } from '../shared/Chip';
import { NO_LAYOUT_STATE, useLayout, wholeIslands } from '../shared/layout-store';
import { isOfLayout } from '../shared/shown';
import { useUi } from '../shared/ui-store';
import { type Session, useForm } from '../project';
import { HeatLegend } from './HeatLegend';
import { IslandSection } from './IslandSection';
import { LayoutSection } from './LayoutSection';
import { SeamSection } from './SeamSection';

const SECTIONS = ['Layout', 'Seams', 'Islands'] as const;

/** Everything about the layout of the model on its sheet. */
export function UnwrapPanel({ session }: { readonly session: Session }) {
  const [section, setSection] = useState<(typeof SECTIONS)[number]>('Layout');
  const mesh = useForm();
  const triangles = useRef(0);
  useEffect(() => {
    // Triangles keep their numbers through every change of the layout: what was chosen stays so, island by island.
    const same = mesh !== null && triangles.current === mesh.faceParts.length;
    triangles.current = mesh?.faceParts.length ?? 0;
    useLayout.setState(({ chosen }) => ({
      from: null,
      ahead: [],
      chosen: same && chosen.size ? wholeIslands(mesh, chosen) : new Set(),
    }));
  }, [mesh]);
  useEffect(() => () => useLayout.setState(NO_LAYOUT_STATE), []);
  // Paint is laid for the layout that is there: on one that is only looked at it would lie anywhere.
  const isPreviewed = useLayout((s) => s.preview !== null);
  useEffect(() => {
    const { shown } = useUi.getState();
    if (!isPreviewed || isOfLayout(shown)) return;
    const checker = { of: 'checker' } as const;
    useUi.setState({ shown: checker });
    return () => {
      // What was chosen to be looked at meanwhile stays.
      if (useUi.getState().shown === checker) useUi.setState({ shown });
    };
  }, [isPreviewed]);
  return (
    <section className="panel unwrap" aria-label="Layout">
      <div className="row sections" role="group" aria-label="Section">
        {SECTIONS.map((name) => (
          <Chip key={name} on={section === name} onClick={() => setSection(name)}>
            {name}
          </Chip>
        ))}
      </div>
      <HeatLegend />
      {section === 'Layout' && <LayoutSection session={session} />}
      {section === 'Seams' && <SeamSection session={session} />}
      {section === 'Islands' && <IslandSection session={session} />}
    </section>
  );
}
