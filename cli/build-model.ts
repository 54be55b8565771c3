import { join } from 'node:path';
import { groundsFor, measureCue } from '../core/cues';
import {
  documentFromRecipe,
  Engine,
  filesOfRecipe,
  flattenAlbedo,
  layersOf,
  localColor,
  nodesOf,
  parseRecipe,
  rolesOf,
  withRoles,
  type RoleMap,
} from '../core/engine';
import { CoreError } from '../core/errors';
import { encodePng, writeUnlitGlb } from '../core/formats';
import { createWasmKernels } from '../core/kernels';
import { contentHash } from '../core/math';
import { requireUvs, triangleCount, type Mesh, type UvMesh } from '../core/mesh';
import { measureSurface, type SheetSize } from '../core/surface';
import { DEFAULT_MARGIN, doneHere, unwrapping } from '../core/unwrap';
import { readBytes, readModelFile } from './options';
import { makeFolder, writeOut } from './write-out';

/** One model to be built. */
export interface BuildJob {
  readonly model: string;
  readonly recipe: string;
  readonly out: string;
  readonly size: SheetSize;
  readonly roles: readonly (readonly [role: string, part: string])[];
  /** A model that has no UVs is laid out first. */
  readonly unwrap: boolean;
}

/** What came of it. */
export interface Built {
  readonly recipe: string;
  readonly size: number;
  readonly triangles: number;
  readonly parts: readonly { readonly name: string; readonly color: string | null }[];
  readonly layers: readonly { readonly name: string; readonly kind: string }[];
  readonly coveredTexels: number;
  readonly texelHash: string;
  /** Roles of the recipe that no part plays. */
  readonly unplayed: readonly string[];
}

/**
 * Lays a recipe on a model and writes albedo.png, model.glb and report.json.
 *
 * @throws UsageError, CoreError, OutputError with a sentence
 */
export async function buildModel(
  { model, recipe: file, out, size, roles, unwrap }: BuildJob,
  onProgress: (done: number) => void = () => undefined,
): Promise<Built> {
  const read = await readModelFile(model);
  const mesh = unwrap && !read.uvs ? laidOut(read, size) : requireUvs(read);
  const recipe = withRoles(
    parseRecipe(parseJson(await readBytes(file), file)),
    rolePlayers(roles),
    mesh.parts,
  );
  const surface = measureSurface(mesh, size);
  const engine = new Engine({
    surface,
    kernels: createWasmKernels(),
    document: documentFromRecipe(recipe, size),
    files: filesOfRecipe(recipe),
  });
  const groundFor = groundsFor(surface, { dense: null, colors: engine.localColors() });
  const missing = engine.missingCues();
  for (const [i, spec] of missing.entries()) {
    engine.setCue(spec, measureCue(surface, spec, { ground: groundFor(spec) }));
    onProgress((0.9 * (i + 1)) / missing.length);
  }
  const picture = flattenAlbedo(engine, { size, bleed: Infinity });
  const png = encodePng(picture);
  const report: Built = {
    recipe: recipe.name,
    size,
    triangles: triangleCount(mesh),
    parts: mesh.parts.map((name) => ({ name, color: localColorOf(recipe, name) })),
    layers: [...nodesOf(recipe.layers)].map(({ node }) => ({ name: node.name, kind: node.kind })),
    coveredTexels: surface.coveredTexels,
    texelHash: contentHash(picture.rgba),
    unplayed: rolesOf(recipe).filter((role) => !mesh.parts.includes(role)),
  };
  await makeFolder(out);
  await writeOut(
    new Map<string, Uint8Array | string>([
      [join(out, 'albedo.png'), png],
      [join(out, 'model.glb'), await writeUnlitGlb(mesh, recipe.name, [png])],
      [join(out, 'report.json'), `${JSON.stringify(report, null, 2)}\n`],
    ]),
  );
  return report;
}

/** The natural cut, as the application makes it by itself. */
const laidOut = (mesh: Mesh, size: SheetSize): UvMesh =>
  doneHere(unwrapping(mesh, { size, margin: DEFAULT_MARGIN, seams: 'auto' }));

/** Parts by the role they play. */
function rolePlayers(roles: BuildJob['roles']): RoleMap {
  const out = new Map<string, string[]>();
  for (const [role, part] of roles) out.set(role, [...(out.get(role) ?? []), part]);
  return [...out];
}

function localColorOf(recipe: ReturnType<typeof parseRecipe>, part: string): string | null {
  const layer = layersOf(recipe.layers).find((l) => l.kind === 'local');
  return layer ? localColor(layer, part) : null;
}

/** @throws CoreError `document-invalid` */
export function parseJson(bytes: Uint8Array, name: string): unknown {
  try {
    return JSON.parse(new TextDecoder().decode(bytes));
  } catch (cause) {
    throw new CoreError(
      'document-invalid',
      `“${name}” is not JSON. A recipe is described in docs/recipe.md.`,
      { cause },
    );
  }
}
