import { notify } from '../shared/notify';
import { useProject } from './project-store';
import type { Session } from './session';

/** Keeps some triangles under a name. */
export function saveRegion(session: Session, faces: readonly number[]): void {
  const { document, mesh } = useProject.getState();
  const [first] = faces;
  if (!document || !mesh || first === undefined) return;
  const taken = new Set(document.regions.map((r) => r.name));
  const parts = [...new Set(faces.map((f) => mesh.faceParts[f]!))].map((p) => mesh.parts[p]!);
  const part = (parts.length > 3 ? `${parts[0]} and ${parts.length - 1} more` : parts.join(' + ')).slice(
    0,
    70,
  );
  let name = part;
  for (let n = 2; taken.has(name); n++) name = `${part} ${n}`;
  const region = { name, faces: [...faces].sort((a, b) => a - b) };
  void session.command({ do: 'add-region', region });
  notify(`Kept as the region “${name}”. A step of a layer’s mask can show it only there.`);
}
