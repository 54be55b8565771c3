import { notify } from '../shared/notify';
import { useProject } from './project-store';
import type { Session } from './session';

/** A name for some triangles that no region has yet: that of their parts. */
export function freeRegionName(faces: readonly number[]): string {
  const { document, mesh } = useProject.getState();
  if (!document || !mesh) return 'Region';
  const taken = new Set(document.regions.map((r) => r.name));
  const parts = [...new Set(faces.map((f) => mesh.faceParts[f]!))].map((p) => mesh.parts[p]!);
  const part = (parts.length > 3 ? `${parts[0]} and ${parts.length - 1} more` : parts.join(' + ')).slice(
    0,
    70,
  );
  const base = part || 'Cut';
  let name = base;
  for (let n = 2; taken.has(name); n++) name = `${base} ${n}`;
  return name;
}

/** Keeps some triangles under a name. */
export function saveRegion(session: Session, faces: readonly number[]): void {
  if (faces.length === 0) return;
  const name = freeRegionName(faces);
  const region = { name, faces: [...faces].sort((a, b) => a - b) };
  void session.command({ do: 'add-region', region });
  notify(`Kept as the region “${name}”. A step of a layer’s mask can show it only there.`);
}
