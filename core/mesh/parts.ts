import { CoreError } from '../errors';
import { groupByEdge } from './islands';
import { MAX_PARTS, type Mesh } from './mesh';
import { ownVertices, sheetOfPart } from './sheets';
import type { Topology } from './topology';

/** Changes of what belongs together; triangles and their layout stay. Each takes any mesh and gives one of the same kind. */

/** @throws CoreError `bad-argument` if the name is empty or taken */
export function renamePart<M extends Mesh>(mesh: M, part: number, name: string): M {
  const wanted = name.trim().slice(0, 80);
  if (!wanted) throw new CoreError('bad-argument', 'A part needs a name.');
  if (mesh.parts.some((p, i) => p === wanted && i !== part)) {
    throw new CoreError('bad-argument', `Another part is called “${wanted}” already. Choose another name.`);
  }
  return { ...mesh, parts: mesh.parts.map((p, i) => (i === part ? wanted : p)) };
}

/** Joins parts; the first one's name stays. */
export function mergeParts<M extends Mesh>(mesh: M, parts: readonly number[]): M {
  const [first, ...others] = parts;
  if (first === undefined || others.length === 0) return mesh;
  const joined = mesh.faceParts.map((p) => (others.includes(p) ? first : p));
  return withoutEmpty({ ...mesh, faceParts: joined });
}

/** Every piece of a part that hangs together by edges becomes a part of its own; the largest keeps the name. */
export function splitLoose<M extends Mesh>(mesh: M, part: number, { edges }: Topology): M {
  const { ofFace } = groupByEdge(edges, mesh.faceParts.length);
  const sizes = new Map<number, number>();
  mesh.faceParts.forEach((p, f) => {
    if (p === part) sizes.set(ofFace[f]!, (sizes.get(ofFace[f]!) ?? 0) + 1);
  });
  const components = [...sizes].sort((a, b) => b[1] - a[1] || a[0] - b[0]).map(([component]) => component);
  return divide(mesh, part, components.length, (f) => components.indexOf(ofFace[f]!));
}

/** Some triangles become a part of their own. @throws CoreError `bad-argument` if none is left of a part, or none is given */
export function splitFaces<M extends Mesh>(mesh: M, faces: ReadonlySet<number>): M {
  const [first] = faces;
  if (first === undefined)
    throw new CoreError('bad-argument', 'Choose some islands first; they become a part of their own.');
  const part = mesh.faceParts[first]!;
  const left = mesh.faceParts.some((p, f) => p === part && !faces.has(f));
  if (!left) throw new CoreError('bad-argument', 'That is the whole part already.');
  return withoutEmpty(divide(mesh, part, 2, (f) => (faces.has(f) ? 1 : 0), faces));
}

function divide<M extends Mesh>(
  mesh: M,
  part: number,
  count: number,
  pieceOf: (face: number) => number,
  faces?: ReadonlySet<number>,
): M {
  if (count <= 1) return mesh;
  if (mesh.parts.length + count - 1 > MAX_PARTS) {
    throw new CoreError(
      'model-too-large',
      `That would make ${count} parts of one, more than can be used. Merge some first.`,
    );
  }
  const parts = [...mesh.parts];
  const taken = new Set(parts);
  for (let n = 2, made = 1; made < count; n++) {
    const name = `${mesh.parts[part]} ${n}`;
    if (taken.has(name)) continue;
    parts.push(name);
    taken.add(name);
    made++;
  }
  const faceParts = mesh.faceParts.map((p, f) => {
    if (p !== part && !faces?.has(f)) return p;
    const piece = pieceOf(f);
    return piece > 0 ? mesh.parts.length + piece - 1 : p;
  });
  // A piece lies on the sheet of what it was split from, and shares no vertex with it.
  const sheets = mesh.partSheets && parts.map((_, p) => sheetOfPart(mesh, p < mesh.parts.length ? p : part));
  return ownVertices({ ...mesh, parts, faceParts, ...(sheets ? { partSheets: sheets } : {}) });
}

/** Parts without triangles disappear. */
function withoutEmpty<M extends Mesh>(mesh: M): M {
  const used = new Set(mesh.faceParts);
  const kept = mesh.parts.map((_, p) => p).filter((p) => used.has(p));
  const now = new Map(kept.map((p, i) => [p, i]));
  return {
    ...mesh,
    parts: kept.map((p) => mesh.parts[p]!),
    faceParts: mesh.faceParts.map((p) => now.get(p)!),
    ...(mesh.partSheets ? { partSheets: kept.map((p) => sheetOfPart(mesh, p)) } : {}),
  };
}
