import { carryPaint, type Carried, type ModelHow } from '../core/model';
import {
  changeModel as changeModelOf,
  Engine,
  hostHere,
  NEVER_STOPS,
  type Commit,
  type ModelChanged,
  type ModelFileWish,
  type ModelPatch,
  type ModelState,
} from '../core/engine';
import { newDocument, oneSheet, type ProjectDocument, type Sheet } from '../core/document';
import type { TileState } from '../core/pixels';
import { createWasmKernels, type Kernels } from '../core/kernels';
import { backdropsOf, subjectOf, meshHash, type UvMesh } from '../core/mesh';
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
  files: ReadonlyMap<number, Uint8Array> = new Map(),
): Engine {
  const list = sheetsOf(sheets);
  return new Engine({
    surface: measureSurface(
      mesh,
      list.map((s) => s.size),
    ),
    kernels,
    pixels,
    files,
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

export interface ChangeHow extends Partial<ModelHow> {
  readonly label?: string;
  readonly patch?: ModelPatch;
  /** The file that the model was read from. */
  readonly file?: ModelFileWish | null;
  /** Done once, after the paint has been carried, before the change is made. */
  readonly meanwhile?: () => unknown;
  /** Waits for a stroke in hand. */
  readonly rest?: () => void;
  /** Told what becomes of the paint before it is taken. */
  readonly accept?: () => Promise<void>;
}

/** Changes the model of an engine as the application does. @returns what became of the paint, and what came of each try */
export async function changeModel(
  engine: Engine,
  to: ModelState,
  how: ChangeHow = {},
): Promise<{ readonly carried: Carried; readonly tries: readonly ModelChanged[] }> {
  const { label = 'Change', meanwhile, rest, accept, patch, file, ...made } = how;
  const host = hostHere(engine, createWasmKernels());
  const tries: ModelChanged[] = [];
  const carried = await changeModelOf(
    {
      ...host,
      rest: async () => (rest ? rest() : host.rest()),
      change: async (change) => {
        if (tries.length === 0) await meanwhile?.();
        const changed = await host.change(change);
        tries.push(changed);
        return changed;
      },
    },
    {
      label,
      signal: NEVER_STOPS,
      ...(accept && { accept }),
      make: () => {
        const { mesh, sheets } = to.surface;
        const sized = sheets.map(({ size }, i) => ({
          ...engine.document.sheets[i]!,
          size: size as SheetSize,
        }));
        return {
          mesh: subjectOf(mesh),
          backdrops: () => backdropsOf(mesh),
          patch: { sheets: sized, ...patch },
          ...(file !== undefined && { file }),
          ...made,
        };
      },
    },
  );
  if (!carried) throw new Error('Nothing has changed.');
  return { carried, tries };
}

/** Nothing becomes of a model but another layout. */
export const RELAID: ModelHow = { byTriangle: true, placing: null, align: null, renamed: [] };

/** What becomes of the paint on another model, which the engine isn't given. */
export const carryTo = (engine: Engine, to: ModelState, how: Partial<ModelHow> = {}): Carried =>
  carryPaint({
    from: engine.surface,
    to: to.surface,
    how: { ...RELAID, ...how },
    planes: engine.paintPlanes().planes,
    context: engine.document,
    kernels: createWasmKernels(),
  });

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
