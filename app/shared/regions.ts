import { notify } from './notify';
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
  const region = { id: document.nextId, name, faces: [...faces].sort((a, b) => a - b) };
  session.command({ do: 'set-regions', regions: [...document.regions, region] });
  notify(`Kept as the region “${name}”. A layer’s settings can show it only there.`);
}
