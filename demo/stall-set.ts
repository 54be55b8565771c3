import { Engine } from '../core/engine';
import { readProjectFile, writeProjectFile, type ProjectData } from '../core/project-file';
import { createWasmKernels } from '../core/kernels';
import { contentHash } from '../core/math';
import {
  ArchiveWriter,
  followSet,
  NOTHING_SHARED,
  SET_VERSION,
  type AssetSet,
  type SetShared,
} from '../core/set';
import { measureSurface } from '../core/surface';

/** What all that stands at the stall has in common: one palette, the lamp and the picture of the whole. */
function sharedBy(projects: readonly ProjectData[], stall: Uint8Array): SetShared {
  const seen = new Set<string>();
  const palette = projects.flatMap(({ document }) =>
    document.palette
      .filter(({ name }) => !seen.has(name) && seen.add(name))
      .map(({ name, color }) => ({ name, color, group: document.name })),
  );
  // The lamp is that of the props.
  const { name, plan } = projects.at(-1)!.document.lights[0]!;
  return {
    ...NOTHING_SHARED,
    palette,
    light: { name, plan },
    references: [{ name: 'The night-snack stall', width: 900, height: 700, hash: contentHash(stall) }],
  };
}

/**
 * The stall as a set: its projects, each with the palette of all of them.
 *
 * @param files project files by their ids
 * @param stall its picture, as a PNG
 */
export function makeStallSet(files: ReadonlyMap<string, Uint8Array>, stall: Uint8Array): Uint8Array {
  const projects = new Map([...files].map(([id, file]) => [id, readProjectFile(file)]));
  const shared = sharedBy([...projects.values()], stall);
  const set: AssetSet = {
    version: SET_VERSION,
    id: 'stall',
    name: 'Night-snack stall',
    projects: [...projects.keys()],
    scales: [],
    shared,
  };
  const pieces: Uint8Array[] = [];
  const writer = new ArchiveWriter((piece) => pieces.push(piece));
  for (const [id, data] of projects) writer.project(id, data.document.name, withPalette(data, shared));
  writer.picture(contentHash(stall), stall);
  writer.end({ sets: [set], recipes: [], rampSheets: [] });
  return Buffer.concat(pieces);
}

function withPalette(data: ProjectData, shared: SetShared): Uint8Array {
  const surface = measureSurface(
    data.mesh,
    data.document.sheets.map((s) => s.size),
  );
  const engine = new Engine({ ...data, surface, kernels: createWasmKernels() });
  const { command } = followSet(data.document, shared, new Set(['palette']), new Set());
  if (command) engine.apply(command);
  return writeProjectFile({ document: engine.document, mesh: data.mesh, ...engine.everything() });
}
