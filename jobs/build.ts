import { groundsFor, measureCue, posesOf } from '../core/cues';
import {
  documentFromRecipe,
  filesOfRecipe,
  layersOf,
  nodesOf,
  parseRecipe,
  rolesOf,
  withRoles,
  type Recipe,
  type RoleMap,
} from '../core/document';
import { Engine, flattenAlbedo } from '../core/engine';
import { localColor } from '../core/layers';
import { encodePng, readFileMotion, writeGlb } from '../core/formats';
import { createWasmKernels } from '../core/kernels';
import { contentHash } from '../core/math';
import { requireUvs, triangleCount, type Mesh, type UvMesh } from '../core/mesh';
import { measureSurface, type SheetSize } from '../core/surface';
import { DEFAULT_MARGIN, doneHere, unwrapping } from '../core/unwrap';
import { asJson, type DoJob } from './job';
import { importedIn, parseJson } from './read';

/** Lays a recipe on a model: albedo.png, model.glb and report.json. */
export const build: DoJob<'build'> = async (job, files, onProgress) => {
  const { model, recipe: file, size, roles, unwrap, twins, plain } = job;
  const { mesh: read, file: kept } = await importedIn(files, model);
  const mesh = unwrap && !read.uvs ? laidOut(read, size) : requireUvs(read);
  const recipe = withRoles(parseRecipe(parseJson(files.require(file), file)), rolePlayers(roles), mesh.parts);
  const surface = measureSurface(mesh, size);
  const engine = new Engine({
    surface,
    kernels: createWasmKernels(),
    document: { ...documentFromRecipe(recipe, size), twins: twins === 'first' ? 'first' : 'alike' },
    files: filesOfRecipe(recipe),
  });
  const missing = engine.missingCues();
  const motion = kept && missing.some(posesOf) ? await readFileMotion(kept) : null;
  const groundFor = groundsFor(surface, {
    dense: null,
    colors: engine.localColors(),
    moves: motion && { motion, placing: null },
  });
  for (const [i, spec] of missing.entries()) {
    engine.setCue(spec, measureCue(surface, spec, { ground: groundFor(spec) }));
    onProgress((0.9 * (i + 1)) / missing.length);
  }
  const picture = flattenAlbedo(engine, { size, bleed: Infinity });
  const png = encodePng(picture);
  const texelHash = contentHash(picture.rgba);
  const look = { name: recipe.name, albedos: [png], material: 'unlit' } as const;
  const report = {
    recipe: recipe.name,
    size,
    triangles: triangleCount(mesh),
    parts: mesh.parts.map((name) => ({ name, color: localColorOf(recipe, name) })),
    layers: [...nodesOf(recipe.layers)].map(({ node }) => ({ name: node.name, kind: node.kind })),
    coveredTexels: surface.coveredTexels,
    texelHash,
    /** Roles of the recipe that no part plays. */
    unplayed: rolesOf(recipe).filter((role) => !mesh.parts.includes(role)),
  };
  return {
    figures: { texelHash },
    report,
    files: new Map<string, Uint8Array | string>([
      ['albedo.png', png],
      ['model.glb', await writeGlb(mesh, look, kept && !plain ? { bytes: kept, placing: null } : null)],
      ['report.json', asJson(report)],
    ]),
  };
};

/** The natural cut, as the application makes it by itself. */
const laidOut = (mesh: Mesh, size: SheetSize): UvMesh =>
  doneHere(unwrapping(mesh, { size, margin: DEFAULT_MARGIN, seams: 'auto' }));

/** Parts by the role they play. */
function rolePlayers(roles: readonly (readonly [role: string, part: string])[]): RoleMap {
  const out = new Map<string, string[]>();
  for (const [role, part] of roles) out.set(role, [...(out.get(role) ?? []), part]);
  return [...out];
}

function localColorOf(recipe: Recipe, part: string): string | null {
  const layer = layersOf(recipe.layers).find((l) => l.kind === 'local');
  return layer?.kind === 'local' ? localColor(layer, part) : null;
}
