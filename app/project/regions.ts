import { notify } from '../shared/notify';
import { useProject } from './project-store';
import type { Session } from './session';

/** Keeps some triangles under a name. */
export function saveRegion(session: Session, faces: readonly number[]): void {
  const { document, mesh } = useProject.getState();
  const [first] = faces;
  if (!document || !mesh || first === undefined) return;
  const taken = new Set(document.regions.map((r) => r.name));
  const part = mesh.parts[mesh.faceParts[first]!]!;
  let name = part;
  for (let n = 2; taken.has(name); n++) name = `${part} ${n}`;
  const region = { name, faces: [...faces].sort((a, b) => a - b) };
  void session.command({ do: 'add-region', region });
  notify(`Kept as the region “${name}”. A step of a layer’s mask can show it only there.`);
}
