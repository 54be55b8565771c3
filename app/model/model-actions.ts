import { sentenceOf } from '../../core/errors';
import {
  mergeParts,
  placeMesh,
  placingOf,
  renamePart,
  splitLoose,
  type Placement,
  type UvMesh,
} from '../../core/mesh';
import { mendMesh, type Mending } from '../../core/unwrap';
import type { ProjectDocument } from '../../core/document';
import type { MadeModel } from '../../core/engine';
import { topologyFor } from '../shared/layout-store';
import { notify } from '../shared/notify';
import { subjectNow, type Session } from '../project';
import { useUi } from '../shared/ui-store';

/** Does a change of the mesh that leaves its triangles in order; a sentence where it can't be done. */
async function change(
  session: Session,
  label: string,
  make: (mesh: UvMesh, document: ProjectDocument) => MadeModel,
): Promise<void> {
  await session.changeModel(label, (mesh, document) => {
    try {
      return Promise.resolve(make(mesh, document));
    } catch (error) {
      notify(sentenceOf(error));
      return Promise.resolve({ mesh });
    }
  });
}

export const rename = (session: Session, part: number, name: string): Promise<void> =>
  change(session, 'Rename a part', (mesh) => ({
    mesh: renamePart(mesh, part, name),
    renamed: [[mesh.parts[part]!, name.trim()]],
  }));

export async function merge(session: Session, parts: readonly number[]): Promise<void> {
  const kept = subjectNow()?.parts[parts[0] ?? 0];
  await change(session, 'Merge parts', (mesh) => {
    const [first, ...others] = parts.map((p) => mesh.parts[p]!);
    return { mesh: mergeParts(mesh, parts), renamed: others.map((name) => [name, first!] as const) };
  });
  // The parts' numbers are others now; the one that took the rest in stays chosen.
  const at = subjectNow()?.parts.indexOf(kept ?? '') ?? -1;
  useUi.setState({ selectedPart: at < 0 ? null : at, alsoParts: new Set(), hidden: new Set() });
}

export const splitComponents = (session: Session, part: number): Promise<void> =>
  change(session, 'Split a part', (mesh) => ({ mesh: splitLoose(mesh, part, topologyFor(mesh)) }));

export const place = (session: Session, label: string, how: Placement): Promise<void> =>
  change(session, label, (mesh) => ({ mesh: placeMesh(mesh, how), placing: placingOf(how) }));

export const mend = (session: Session, label: string, mending: Mending): Promise<void> =>
  change(session, label, (mesh, document) => {
    const { mesh: mended, cornerNow } = mendMesh(mesh, mending);
    const moved = (corners: readonly number[]): number[] => corners.map(cornerNow).sort((a, b) => a - b);
    const { seams, paintEdges, foundSeams, seamPoints } = document;
    return {
      mesh: mended,
      patch: {
        seams: moved(seams),
        paintEdges: moved(paintEdges),
        foundSeams: moved(foundSeams),
        seamPoints: moved(seamPoints),
      },
    };
  });
