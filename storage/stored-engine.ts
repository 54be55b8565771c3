import { contentHash } from '../core/math';
import { cueKind } from '../core/cues';
import { cueMeasurer, Engine } from '../core/engine';
import { groundName } from '../core/document';
import { createWasmKernels } from '../core/kernels';
import { measureSurface } from '../core/surface';
import { meshHash } from '../core/mesh';
import { cueMapKey, fromKept, keepMap, keptCuesOf, loadMap } from './map-cache';
import { loadProject, type LoadedProject } from './projects';
import type { ProjectStore } from './schema';

/** A stored project with an engine to look at it; nothing of it is written. */
export interface StoredEngine {
  readonly engine: Engine;
  readonly loaded: LoadedProject;
}

/**
 * Opens a stored project to look at it. Cues that are at hand are used, the others are measured and kept.
 *
 * @throws CoreError as `loadProject`
 */
export async function openStored(
  store: ProjectStore,
  project: string,
  onProgress: (done: number) => void = () => undefined,
): Promise<StoredEngine> {
  const loaded = await loadProject(store, project);
  const { document, mesh, row } = loaded;
  const surface = measureSurface(
    mesh,
    document.sheets.map((s) => s.size),
  );
  const engine = new Engine({ ...loaded, surface, kernels: createWasmKernels() });
  await measureMissing(store, engine, row, onProgress);
  return { engine, loaded };
}

/** Gives an engine all cues that its build-up is made from. */
export async function measureMissing(
  store: ProjectStore,
  engine: Engine,
  { modelHash }: { readonly modelHash: string },
  onProgress: (done: number) => void = () => undefined,
): Promise<void> {
  const { surface, document } = engine;
  const { dense: denser } = document;
  const file = denser && engine.file(denser.id);
  const on = file ? groundName(document, contentHash(file)) : '';
  const missing = engine.missingCues();
  const kept = await keptCuesOf(modelHash, surface, meshHash);
  let measured: ReturnType<typeof cueMeasurer> | null = null;
  for (const [i, spec] of missing.entries()) {
    const dense = cueKind(spec).ownModel ? '' : on;
    const key = cueMapKey(kept.model, kept.sheets, spec, dense);
    const known = await loadMap(store, key).catch(() => null);
    const there = fromKept(known, kept, surface);
    const values = there ?? (measured ??= cueMeasurer(engine))(spec);
    engine.setCue(spec, values);
    if (!there) {
      const own = values.subarray(0, kept.length);
      await keepMap(store, key, own.slice(), own.byteLength).catch(() => undefined);
    }
    onProgress((i + 1) / missing.length);
  }
}
