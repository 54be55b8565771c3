import {
  carryPaint,
  Engine,
  newDocument,
  oneSheet,
  type Carried,
  type CarryInput,
  type Commit,
  type ModelChange,
  type ModelChanged,
  type ModelState,
  type ProjectDocument,
  type Sheet,
  type TileState,
} from '../core/engine';
import { createWasmKernels, type Kernels } from '../core/kernels';
import { meshHash, type UvMesh } from '../core/mesh';
import { compose } from '../core/paint';
import { measureSurface, texelIndex, type SheetSize } from '../core/surface';

/** A new document's local and paint layer. */
export const LOCAL = 1;
export const PAINT = 2;

const sheetsOf = (sheets: SheetSize | readonly Sheet[]): readonly Sheet[] =>
  typeof sheets === 'number' ? oneSheet(sheets) : sheets;

/** An engine over a new project. */
export function engineOn(
  mesh: UvMesh,
  sheets: SheetSize | readonly Sheet[] = 128,
  patch: Partial<ProjectDocument> = {},
  kernels: Kernels = createWasmKernels(),
  pixels: Iterable<TileState> = [],
): Engine {
  const list = sheetsOf(sheets);
  return new Engine({
    surface: measureSurface(
      mesh,
      list.map((s) => s.size),
    ),
    kernels,
    pixels,
    document: { ...newDocument('Test', list), model: meshHash(mesh), ...patch },
  });
}

export const modelOf = (mesh: UvMesh, sheets: SheetSize | readonly Sheet[] = 128): ModelState => ({
  hash: meshHash(mesh),
  surface: measureSurface(
    mesh,
    sheetsOf(sheets).map((s) => s.size),
  ),
});

export interface ChangeHow extends Partial<
  Pick<ModelChange, 'label' | 'patch' | 'renamed' | 'byTriangle' | 'placing' | 'align'>
> {
  /** Done after the paint has been fetched to be carried, before the change is made. */
  readonly meanwhile?: () => void;
}

/** Carries what is painted to another model, as the application does. */
export function carryTo(engine: Engine, to: ModelState, how: ChangeHow = {}): Carried {
  const { document } = engine;
  const { byTriangle = true, placing = null, align = null } = how;
  const frames = document.frames.map((f) => (placing ? { ...f, placing: compose(placing, f.placing) } : f));
  const input: CarryInput = {
    from: engine.surface,
    to: to.surface,
    planes: engine.paintPlanes().planes,
    byTriangle,
    placing,
    align,
    context: { guards: document.guards, frames },
    regions: document.regions,
    kernels: createWasmKernels(),
  };
  return carryPaint(input);
}

/** Changes the model of an engine as the application does. */
export function changeModel(
  engine: Engine,
  to: ModelState,
  how: ChangeHow = {},
): { readonly carried: Carried; readonly changed: ModelChanged } {
  const { from } = engine.beginChange();
  const { paintedAt } = engine.paintPlanes();
  const carried = carryTo(engine, to, how);
  how.meanwhile?.();
  const { label = 'Change', patch = {}, renamed = [], byTriangle = true, placing = null, align = null } = how;
  const changed = engine.changeModel({
    label,
    from,
    paintedAt,
    model: to,
    patch,
    renamed,
    carried,
    byTriangle,
    placing,
    align,
  });
  return { carried, changed };
}

/** Tiles in the order of their numbers, to be compared. */
export const sortedTiles = (
  tiles: Iterable<TileState>,
): (readonly [tile: number, bytes: Uint8Array | null])[] =>
  [...tiles].map(({ tile, bytes }) => [tile, bytes] as const).sort((a, b) => a[0] - b[0]);

/** An engine over a new project, and every commit that it makes. */
export function watchedEngine(
  mesh: UvMesh,
  size: SheetSize = 128,
  kernels: Kernels = createWasmKernels(),
  patch: Partial<ProjectDocument> = {},
): { readonly engine: Engine; readonly commits: Commit[] } {
  const commits: Commit[] = [];
  const engine = new Engine({
    surface: measureSurface(mesh, size),
    kernels,
    document: { ...newDocument('Test', size), ...patch },
    onCommit: (c) => commits.push(c),
  });
  return { engine, commits };
}

/** Alpha of a layer's own texel on the first sheet, x and y from the upper left. */
export function alphaAt(engine: Engine, layer: number, x: number, y: number): number {
  const i = texelIndex(engine.surface.sheets[0]!.size, x, y);
  const tile = [...engine.tilesOf(layer)].find((t) => t.tile === Math.floor(i / 4096));
  return tile?.bytes[(i % 4096) * 4 + 3] ?? 0;
}
