import { sentenceOf } from '../../core/errors';
import { mergeParts, placeMesh, renamePart, splitLoose, type UvMesh } from '../../core/mesh';
import { mendMesh, type Mending } from '../../core/unwrap';
import type { Layer, ProjectDocument } from '../../core/engine';
import { topologyFor } from '../shared/layout-store';
import { notify } from '../shared/notify';
import { useProject } from '../shared/project-store';
import type { Session } from '../shared/session';
import { useUi } from '../shared/ui-store';

/** Does a change of the mesh that leaves its triangles in order; a sentence where it can't be done. */
async function change(
  session: Session,
  label: string,
  make: (mesh: UvMesh, document: ProjectDocument) => { mesh: UvMesh; patch?: Partial<ProjectDocument> },
): Promise<void> {
  const { document } = useProject.getState();
  if (!document) return;
  await session.changeModel(label, (mesh) => {
    try {
      return Promise.resolve(make(mesh, document));
    } catch (error) {
      notify(sentenceOf(error));
      return Promise.resolve({ mesh });
    }
  });
}

/** Local colours and strokes know parts by name: both learn the new one. */
export const rename = (session: Session, part: number, name: string): Promise<void> =>
  change(session, 'Rename a part', (mesh, document) => {
    const was = mesh.parts[part]!;
    const now = name.trim();
    const renamed = Object.fromEntries(
      Object.entries(document.renamed).map(([old, present]) => [old, present === was ? now : present]),
    );
    return {
      mesh: renamePart(mesh, part, name),
      patch: {
        layers: document.layers.map((l) => withColorOf(l, was, now)),
        renamed: { ...renamed, [was]: now },
        weights: moveKey(document.weights, was, now),
      },
    };
  });

function withColorOf(layer: Layer, was: string, now: string): Layer {
  return layer.kind === 'local' ? { ...layer, colors: moveKey(layer.colors, was, now) } : layer;
}

function moveKey<T>(record: Readonly<Record<string, T>>, was: string, now: string): Record<string, T> {
  const { [was]: value, ...rest } = record;
  return value === undefined ? { ...record } : { ...rest, [now]: value };
}

export async function merge(session: Session, parts: readonly number[]): Promise<void> {
  await change(session, 'Merge parts', (mesh, document) => {
    const [first, ...others] = parts.map((p) => mesh.parts[p]!);
    return {
      mesh: mergeParts(mesh, parts),
      patch: {
        renamed: { ...document.renamed, ...Object.fromEntries(others.map((name) => [name, first!])) },
      },
    };
  });
  useUi.setState({ selectedPart: null, hidden: new Set() });
}

export const splitShells = (session: Session, part: number): Promise<void> =>
  change(session, 'Split a part', (mesh) => ({ mesh: splitLoose(mesh, part, topologyFor(mesh)) }));

export const place = (
  session: Session,
  label: string,
  how: { quarters?: number; scale?: number },
): Promise<void> => change(session, label, (mesh) => ({ mesh: placeMesh(mesh, how) }));

export const mend = (session: Session, label: string, mending: Mending): Promise<void> =>
  change(session, label, (mesh, document) => {
    const { mesh: mended, cornerNow } = mendMesh(mesh, mending);
    const moved = (corners: readonly number[]): number[] => corners.map(cornerNow).sort((a, b) => a - b);
    return { mesh: mended, patch: { seams: moved(document.seams), paintEdges: moved(document.paintEdges) } };
  });
