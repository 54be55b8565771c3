import { CoreError } from '../errors';
import { add, cross, dot, length, normalize, scale, sub, type Vec3 } from '../math';
import { boundsOf, diagonalOf, type Bounds } from './bounds';
import { MAX_SHEETS, type Mesh, type UvMesh } from './mesh';
import type { FaceRuns } from './face-set';
import { pickOrigins } from './origins';
import { sheetOfPart } from './sheets';

/**
 * Flat backdrops: planes that stand behind or before the model and are painted like pictures. They belong to the mesh, so that paint, undo,
 * storage and delivery need to know nothing of them, but take no part in what is measured of its form. They stand last:
 *
 *     parts      the model's | backdrops, `mesh.backdrops` of them
 *     triangles  the model's | two for each backdrop
 *     vertices   the model's | four for each backdrop
 *
 * so whatever is numbered by triangle, corner or vertex of the form holds for the whole mesh too. What changes the form is given the form
 * alone, and the backdrops are put back behind it.
 */

/** A flat backdrop as it stands, model units. */
export interface Backdrop {
  /** Of its part. */
  readonly name: string;
  /** The sheet that it has for itself. */
  readonly sheet: number;
  /** Of a rectangle, counter-clockwise from its lower left as it is looked at. */
  readonly corners: readonly [Vec3, Vec3, Vec3, Vec3];
}

/** The frame of a backdrop: its middle, unit vectors to its right, up and toward who looks at it, and how far it reaches. */
export interface BackdropFrame {
  readonly centre: Vec3;
  readonly right: Vec3;
  readonly up: Vec3;
  readonly toward: Vec3;
  readonly width: number;
  readonly height: number;
}

/** Of its sheet's side, left free around a backdrop: room for the bleed that four halvings of 1024 texels need. */
const MARGIN = 1 / 64;

const VERTICES = 4;
const TRIANGLES = 2;

/** How many of the last parts are backdrops. */
export const backdropCount = (mesh: Mesh): number => mesh.backdrops ?? 0;

/** How many parts are the model's own; those from this number on are backdrops. */
export const formParts = (mesh: Mesh): number => mesh.parts.length - backdropCount(mesh);

export const isBackdrop = (mesh: Mesh, part: number): boolean => part >= formParts(mesh);

/** The sheets on which backdrops lie; parts of the model never lie on them. */
export function backdropSheets(mesh: Mesh): ReadonlySet<number> {
  const out = new Set<number>();
  for (let part = formParts(mesh); part < mesh.parts.length; part++) out.add(sheetOfPart(mesh, part));
  return out;
}

/** The triangles of all backdrops. */
export const backdropFaces = (mesh: Mesh): FaceRuns => {
  const first = subjectOf(mesh).faceParts.length;
  return first === mesh.faceParts.length ? [] : [first, mesh.faceParts.length - first];
};

/** The model without its backdrops; its arrays are views of the mesh's. Triangles, corners and vertices keep their numbers. */
export function subjectOf<M extends Mesh>(mesh: M): M {
  const count = backdropCount(mesh);
  if (count === 0) return mesh;
  const known = forms.get(mesh);
  if (known) return known as M;
  const { backdrops: _count, partSheets, polygons, ...rest } = mesh;
  // A piece of a model may have lost some of its triangles, but never their order.
  const first = mesh.faceParts.findIndex((part) => part >= formParts(mesh));
  const triangles = first < 0 ? mesh.faceParts.length : first;
  const vertices = mesh.indices
    .subarray(triangles * 3)
    .reduce((least, v) => Math.min(least, v), mesh.positions.length / 3);
  const sheets = partSheets?.slice(0, formParts(mesh));
  const form = {
    ...rest,
    positions: mesh.positions.subarray(0, vertices * 3),
    normals: mesh.normals.subarray(0, vertices * 3),
    uvs: mesh.uvs && mesh.uvs.subarray(0, vertices * 2),
    indices: mesh.indices.subarray(0, triangles * 3),
    faceParts: mesh.faceParts.subarray(0, triangles),
    parts: mesh.parts.slice(0, formParts(mesh)),
    ...pickOrigins(mesh, vertices, (v) => v),
    ...(polygons ? { polygons: polygons.subarray(0, triangles) } : {}),
    ...(sheets?.some((s) => s > 0) ? { partSheets: sheets } : {}),
  } as Mesh;
  forms.set(mesh, form);
  return form as M;
}

/** Meshes never change, so their forms don't either. */
const forms = new WeakMap<Mesh, Mesh>();

/** The box around the model, without backdrops: lengths that are parts of the model's size go by it. */
export const subjectBounds = (mesh: Mesh): Bounds => boundsOf(subjectOf(mesh).positions);

/** Length of that box's diagonal. */
export const subjectDiagonal = (mesh: Mesh): number => diagonalOf(subjectBounds(mesh));

/** All backdrops, in the order of their parts. */
export function backdropsOf(mesh: Mesh): Backdrop[] {
  const count = backdropCount(mesh);
  return Array.from({ length: count }, (_, k) => {
    const part = formParts(mesh) + k;
    const first = mesh.positions.length / 3 - (count - k) * VERTICES;
    const at = (i: number): Vec3 => {
      const v = (first + i) * 3;
      return [mesh.positions[v]!, mesh.positions[v + 1]!, mesh.positions[v + 2]!];
    };
    return { name: mesh.parts[part]!, sheet: sheetOfPart(mesh, part), corners: [at(0), at(1), at(2), at(3)] };
  });
}

/** The frame of a backdrop. */
export function frameOfBackdrop({ corners: [a, b, c, d] }: Pick<Backdrop, 'corners'>): BackdropFrame {
  const [across, upward] = [sub(b, a), sub(d, a)];
  const [right, up] = [normalize(across), normalize(upward)];
  return {
    centre: scale(add(a, c), 0.5),
    right,
    up,
    toward: normalize(cross(right, up)),
    width: length(across),
    height: length(upward),
  };
}

/** What is this near to a backdrop, in parts of the model, lies on it: a pointer's place on a plane is off by rounding alone. */
const ON_PLANE = 1e-4;

/** Whether a place lies on a backdrop. @param diagonal of the model */
export function liesOn(
  { centre, right, up, toward, width, height }: BackdropFrame,
  at: Vec3,
  diagonal: number,
): boolean {
  const near = diagonal * ON_PLANE;
  const from = sub(at, centre);
  return (
    Math.abs(dot(from, toward)) <= near &&
    Math.abs(dot(from, right)) <= width / 2 + near &&
    Math.abs(dot(from, up)) <= height / 2 + near
  );
}

/** Corners of the rectangle of a frame. */
export function cornersOf({
  centre,
  right,
  up,
  width,
  height,
}: Omit<BackdropFrame, 'toward'>): Backdrop['corners'] {
  const at = ([x, y]: readonly [number, number]): Vec3 =>
    add(centre, add(scale(right, (x * width) / 2), scale(up, (y * height) / 2)));
  return [at(CORNERS[0]), at(CORNERS[1]), at(CORNERS[2]), at(CORNERS[3])];
}

/** A backdrop taken elsewhere along with the model. */
export const movedBackdrop = (backdrop: Backdrop, move: (point: Vec3) => Vec3): Backdrop => ({
  ...backdrop,
  corners: backdrop.corners.map(move) as unknown as Backdrop['corners'],
});

/**
 * A form with backdrops put behind it. Each fills its sheet but for a margin.
 *
 * @throws CoreError `bad-argument` if one has no area, a name that is taken, or a sheet that isn't its own
 */
export function withBackdrops(form: UvMesh, backdrops: readonly Backdrop[]): UvMesh {
  if (form.backdrops) throw new CoreError('bad-argument', 'The model has its backdrops already.');
  if (backdrops.length === 0) return form;
  checkBackdrops(form, backdrops);
  const vertices = form.positions.length / 3;
  const triangles = form.faceParts.length;
  const n = backdrops.length;
  const grown = (data: Float32Array, stride: number): Float32Array => {
    const out = new Float32Array(data.length + n * VERTICES * stride);
    out.set(data);
    return out;
  };
  const positions = grown(form.positions, 3);
  const normals = grown(form.normals, 3);
  const uvs = grown(form.uvs, 2);
  const indices = new Uint32Array((triangles + n * TRIANGLES) * 3);
  indices.set(form.indices);
  const faceParts = new Uint16Array(triangles + n * TRIANGLES);
  faceParts.set(form.faceParts);
  const polygons = form.polygons && new Uint32Array(triangles + n * TRIANGLES);
  polygons?.set(form.polygons!);
  const lastPolygon = form.polygons?.reduce((a, b) => Math.max(a, b), 0) ?? 0;
  for (const [k, backdrop] of backdrops.entries()) {
    const v = vertices + k * VERTICES;
    const f = triangles + k * TRIANGLES;
    const { toward, width, height } = frameOfBackdrop(backdrop);
    const reach = (0.5 - MARGIN) / Math.max(width, height);
    for (const [i, [x, y]] of CORNERS.entries()) {
      positions.set(backdrop.corners[i]!, (v + i) * 3);
      normals.set(toward, (v + i) * 3);
      uvs.set([0.5 + x * width * reach, 0.5 + y * height * reach], (v + i) * 2);
    }
    indices.set([v, v + 1, v + 2, v, v + 2, v + 3], f * 3);
    faceParts.fill(form.parts.length + k, f, f + TRIANGLES);
    polygons?.fill(lastPolygon + 1 + k, f, f + TRIANGLES);
  }
  return {
    ...form,
    positions,
    normals,
    uvs,
    ...pickOrigins(form, vertices + n * VERTICES, (v) => (v < vertices ? v : -1)),
    indices,
    faceParts,
    ...(polygons ? { polygons } : {}),
    parts: [...form.parts, ...backdrops.map((b) => b.name)],
    partSheets: [...form.parts.map((_, p) => sheetOfPart(form, p)), ...backdrops.map((b) => b.sheet)],
    backdrops: n,
  };
}

/** Counter-clockwise from the lower left. */
const CORNERS = [
  [-1, -1],
  [1, -1],
  [1, 1],
  [-1, 1],
] as const;

function checkBackdrops(form: UvMesh, backdrops: readonly Backdrop[]): void {
  const names = new Set(form.parts);
  const sheets = new Set(form.parts.map((_, p) => sheetOfPart(form, p)));
  for (const backdrop of backdrops) {
    const { name, sheet, corners } = backdrop;
    const { width, height } = frameOfBackdrop(backdrop);
    if (!corners.flat().every(Number.isFinite) || !(width > 0) || !(height > 0)) {
      throw new CoreError(
        'bad-argument',
        `The backdrop “${name}” is ${width} wide and ${height} high. Give it a size above 0.`,
      );
    }
    if (names.has(name)) {
      throw new CoreError('bad-argument', `Another part is called “${name}” already. Choose another name.`);
    }
    names.add(name);
    if (!Number.isInteger(sheet) || sheet < 0 || sheet >= MAX_SHEETS || sheets.has(sheet)) {
      throw new CoreError(
        'bad-argument',
        `The backdrop “${name}” needs a sheet for itself, one of ${MAX_SHEETS}. Put what else lies there on another sheet.`,
      );
    }
    sheets.add(sheet);
  }
}

/** @throws CoreError `model-bad-number` if what stands last isn't what backdrops are */
export function checkBackdropOrder(mesh: Mesh): void {
  const count = mesh.backdrops;
  if (count === undefined) return;
  const vertices = mesh.positions.length / 3 - count * VERTICES;
  const triangles = mesh.faceParts.length - count * TRIANGLES;
  const isSound =
    Number.isInteger(count) &&
    count > 0 &&
    count < mesh.parts.length &&
    vertices > 0 &&
    triangles > 0 &&
    mesh.uvs !== null &&
    mesh.faceParts.every((p, f) => p >= formParts(mesh) === f >= triangles) &&
    mesh.indices.every((v, c) => v >= vertices === c >= triangles * 3);
  if (isSound) return;
  throw new CoreError(
    'model-bad-number',
    `The model says that ${count} of its parts are backdrops, but they aren't. The file is damaged; copy it again.`,
  );
}
