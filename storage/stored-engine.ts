import { contentHash } from '../core/math';
import { isOnOwnModel, posesOf, type CueSpec } from '../core/cues';
import { cueMeasurer, Engine } from '../core/engine';
import { groundName, motionName } from '../core/document';
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
  const hashOf = (file: { readonly id: number } | null): string | null => {
    const bytes = file && engine.file(file.id);
    return bytes && contentHash(bytes);
  };
  const dense = hashOf(document.dense);
  const moving = hashOf(document.modelFile);
  const on = (spec: CueSpec): string => {
    if (posesOf(spec)) return moving === null ? '' : motionName(document, moving);
    return dense === null || isOnOwnModel(spec) ? '' : groundName(document, dense);
  };
  const missing = engine.missingCues();
  const kept = await keptCuesOf(modelHash, surface, meshHash);
  let measured: Awaited<ReturnType<typeof cueMeasurer>> | null = null;
  for (const [i, spec] of missing.entries()) {
    const key = cueMapKey(kept.model, kept.sheets, spec, on(spec));
    const known = await loadMap(store, key).catch(() => null);
    const there = fromKept(known, kept, surface);
    const values = there ?? (measured ??= await cueMeasurer(engine))(spec);
    engine.setCue(spec, values);
    if (!there) {
      const own = values.subarray(0, kept.length);
      await keepMap(store, key, own.slice(), own.byteLength).catch(() => undefined);
    }
    onProgress((i + 1) / missing.length);
  }
}
