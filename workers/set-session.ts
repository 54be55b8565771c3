import {
  compositeSheet,
  drawModel,
  finishAlbedo,
  flattenSurface,
  type AttachCommand,
  type Engine,
} from '../core/engine';
import { recipeFromDocument, type ProjectDocument } from '../core/document';
import { unpackPixels, type PackedTile, type TileState } from '../core/pixels';
import { writeProjectFile } from '../core/project-file';
import { makeAtlas, type AtlasMember } from '../core/atlas';
import { CoreError } from '../core/errors';
import { encodePng, writeUnlitGlb, type Picture } from '../core/formats';
import { ownersOf } from '../core/delivery';
import { ciede2000, rgbToCielab } from '../core/color';
import { contentHash } from '../core/math';
import { placeMesh } from '../core/mesh';
import { onRampSheet } from '../core/ramps';
import {
  assetFacts,
  followSet,
  inValues,
  isShared,
  SHARED_KINDS,
  type Following,
  type SharedKind,
} from '../core/set';
import { measureSurface, TILE_BYTES } from '../core/surface';
import {
  type KeepState,
  loadHead,
  loadProject,
  type LoadedProject,
  type ProjectStore,
  keepMap,
  loadMap,
  measureMissing,
  openStored,
} from '../storage';
import { PaintSession } from './paint-session';
import type { SeenProject, SetMethods, SetPicture, WouldFollow } from './set-protocol';

/** Side of the pictures of projects, pixels. */
const PICTURE = 320;

type Params<K extends keyof SetMethods> = SetMethods[K]['params'];
type Progress = (done: number) => void;

/** Looks at projects that aren't open, and changes them. */
export class SetSession {
  private readonly store: ProjectStore;

  constructor(store: ProjectStore) {
    this.store = store;
  }

  /** A project as it would leave; what was made of the same state of it is used again. */
  async see({ project, swatches }: Params<'see'>, onProgress: Progress): Promise<SeenProject> {
    const { store } = this;
    const row = await store.projects.get(project);
    const key = `seen of ${project} ${row?.updatedAt} ${contentHash(swatches)}`;
    const known = (await loadMap(store, key).catch(() => null)) as SeenProject | null;
    if (known) return known;
    const { engine, loaded } = await openStored(store, project, (done) => onProgress(done * 0.5));
    const { document, mesh } = loaded;
    const sheets = albedos(engine);
    onProgress(0.7);
    const ramps = onRampSheet(mesh, document.ramps, document.regions);
    const glb = await writeUnlitGlb(ramps?.own ?? mesh, document.name, sheets.map(encodePng), {
      ramps: ramps && { mesh: ramps.onRamps, png: encodePng(ramps.sheet) },
    });
    onProgress(0.9);
    const picture = drawModel(mesh, sheets, PICTURE);
    const seen: SeenProject = {
      name: document.name,
      glb,
      facts: assetFacts(mesh, sheets, swatches),
      picture: encodePng(picture),
      values: encodePng(inValues(picture)),
    };
    await keepMap(store, key, seen, glb.byteLength).catch(() => undefined);
    // One that was never open has none on the start page yet.
    if (row?.picture === null) await this.keepPicture(project, seen.picture).catch(() => undefined);
    return seen;
  }

  async shareOf({ project, kind }: Params<'shareOf'>): Promise<SetMethods['shareOf']['result']> {
    const { store } = this;
    const { document, files } = await this.headOf(project);
    switch (kind) {
      case 'palette':
        return { shared: { palette: document.palette.map(({ id: _, ...swatch }) => swatch) }, pictures: [] };
      case 'light': {
        const { name, plan } = document.lights[0]!;
        return { shared: { light: { name, plan } }, pictures: [] };
      }
      case 'recipes':
        return { shared: { recipes: [recipeFromDocument(document, files)] }, pictures: [] };
      case 'references': {
        const found = document.references.flatMap(({ id, name, width, height }) => {
          const bytes = files.get(id);
          return bytes ? [{ name, width, height, hash: contentHash(bytes), bytes }] : [];
        });
        return {
          shared: { references: found.map(({ bytes: _, ...reference }) => reference) },
          pictures: found.map(({ hash, bytes }): SetPicture => [hash, bytes]),
        };
      }
      case 'ramps': {
        const { ramps } = document;
        if (!ramps) return { shared: { ramps: null }, pictures: [] };
        const { id, name, state } = ramps.shared ?? {
          id: crypto.randomUUID(),
          name: document.name.slice(0, 60),
          state: 1,
        };
        const bare = ramps.ramps.map(({ name, colors }) => ({ name, colors }));
        const sheet = { id, name, state, size: ramps.size, lie: ramps.lie, ramps: bare };
        // Where it isn't shared yet, it is from now on: that project takes it over with the others.
        await store.rampSheets.put(sheet);
        return { shared: { ramps: sheet }, pictures: [] };
      }
    }
  }

  async differsIn({ project, set }: Params<'differsIn'>): Promise<SharedKind[]> {
    const { document, files } = await this.headOf(project);
    const pictures = hashesOf(document, files);
    return SHARED_KINDS.filter(
      (kind) =>
        isShared(set.shared, kind) &&
        followSet(document, set.shared, new Set([kind]), pictures).says.length > 0,
    );
  }

  async wouldFollow(
    { project, set, kinds }: Params<'wouldFollow'>,
    onProgress: Progress,
  ): Promise<WouldFollow> {
    const { engine, loaded } = await openStored(this.store, project, (done) => onProgress(done * 0.4));
    const { document, mesh, row, files } = loaded;
    const before = albedos(engine);
    const { command, says } = followSet(document, set.shared, new Set(kinds), hashesOf(document, files));
    onProgress(0.6);
    if (command) {
      engine.apply(command);
      await measureMissing(this.store, engine, row);
    }
    const after = albedos(engine);
    return {
      says,
      before: encodePng(drawModel(mesh, before, PICTURE)),
      after: encodePng(drawModel(mesh, after, PICTURE)),
      ...whatChanged(engine, before, after),
    };
  }

  /** @throws CoreError `storage-full` and others if it couldn't be written; nothing is half done then */
  async follow({ project, set, kinds }: Params<'follow'>): Promise<null> {
    const { document, mesh, row, files } = await loadProject(this.store, project);
    const { command, references } = followSet(
      document,
      set.shared,
      new Set(kinds),
      hashesOf(document, files),
    );
    if (!command && references.length === 0) return null;
    let keep: KeepState | null = null;
    const paint = new PaintSession((event, data) => {
      if (event === 'keep') keep = data as KeepState;
    });
    const session = crypto.randomUUID();
    const sizes = document.sheets.map((s) => s.size);
    const model = { hash: row.modelHash, surface: measureSurface(mesh, sizes) };
    await paint.open({ project, session, model, follows: false });
    try {
      paint.begin(1);
      if (command) paint.command(command, null, null);
      for (const [attach, bytes] of await this.attachments(references)) paint.attach(attach, [bytes], null);
      paint.done();
      await paint.settle();
    } finally {
      paint.rest();
    }
    const kept = keep as KeepState | null;
    if (kept && !kept.kept) {
      throw new CoreError(
        kept.error?.code ?? 'storage-failed',
        kept.error?.message ?? 'The browser could not write the project.',
      );
    }
    await this.newPicture(project);
    return null;
  }

  async atlas(
    { projects, name, size, margin, weights, scales }: Params<'atlas'>,
    onProgress: Progress,
  ): Promise<SetMethods['atlas']['result']> {
    const members: AtlasMember[] = [];
    const taken = new Set<string>();
    for (const [i, project] of projects.entries()) {
      const told = (done: number): void => onProgress((0.7 * (i + done)) / projects.length);
      const { engine, loaded } = await openStored(this.store, project, told);
      let title = loaded.document.name;
      for (let k = 2; taken.has(title); k++) title = `${loaded.document.name} ${k}`;
      taken.add(title);
      const mesh = placeMesh(loaded.mesh, { scale: scales[i] ?? 1 });
      members.push({ name: title, mesh, pictures: albedos(engine), weight: weights[i] ?? 1 });
    }
    const { mesh, picture, members: packed } = makeAtlas(members, { size, margin, arrange: 'tightest' });
    onProgress(0.9);
    const png = encodePng(picture);
    const fills = packed.map(({ name, fill }) => ({ name, fill }));
    return { glb: await writeUnlitGlb(mesh, name, [png]), png, fills };
  }

  async projectFile({ project }: Params<'projectFile'>): Promise<Uint8Array> {
    const { pixels, ...data } = await loadProject(this.store, project);
    return writeProjectFile({ ...data, pixels: pixels.map(unpacked) });
  }

  private async attachments(
    references: Following['references'],
  ): Promise<(readonly [AttachCommand, Uint8Array])[]> {
    const rows = await this.store.setPictures.bulkGet(references.map((r) => r.hash));
    return references.flatMap(({ name, width, height }, i) => {
      const bytes = rows[i]?.bytes;
      return bytes ? [[{ do: 'add-reference', reference: { name, width, height } }, bytes] as const] : [];
    });
  }

  /** The picture on the start page, of what it looks like now. */
  private async newPicture(project: string): Promise<void> {
    const { engine, loaded } = await openStored(this.store, project);
    await this.keepPicture(project, encodePng(drawModel(loaded.mesh, albedos(engine), PICTURE)));
  }

  private async keepPicture(project: string, png: Uint8Array): Promise<void> {
    const picture = new Blob([png as Uint8Array<ArrayBuffer>], { type: 'image/png' });
    await this.store.projects.update(project, { picture });
  }

  /** What a project is and the files that it holds, without its paint. */
  private async headOf(project: string): Promise<Pick<LoadedProject, 'document' | 'files'>> {
    const { document } = await loadHead(this.store, project);
    const rows = await this.store.pictures.where({ project }).toArray();
    return { document, files: new Map(rows.map((row) => [row.id, row.bytes])) };
  }
}

const hashesOf = ({ references }: ProjectDocument, files: ReadonlyMap<number, Uint8Array>): Set<string> =>
  new Set(references.flatMap(({ id }) => contentHash(files.get(id) ?? [])));

/** Each sheet as it would leave at its own size. */
const albedos = (engine: Engine): Picture[] =>
  engine.surface.sheets.map(({ size }, sheet) =>
    finishAlbedo(flattenSurface(engine.surface, sheet), compositeSheet(engine, sheet), {
      size,
      bleed: Infinity,
    }),
  );

/** Every so many changed texels are compared by eye. */
const COMPARED = 13;

/** Part of the texels within islands that aren't the same, and how far apart those are in the mean. */
function whatChanged({ surface }: Engine, before: readonly Picture[], after: readonly Picture[]) {
  let [all, changed, sum, compared] = [0, 0, 0, 0];
  before.forEach(({ rgba, width }, sheet) => {
    const { face } = ownersOf(surface.mesh, width, sheet);
    const other = after[sheet]!.rgba;
    const labAt = (of: Uint8Array, i: number) => rgbToCielab({ r: of[i]!, g: of[i + 1]!, b: of[i + 2]! });
    face.forEach((f, t) => {
      if (f < 0) return;
      all++;
      const i = t * 4;
      if ([0, 1, 2, 3].every((k) => rgba[i + k] === other[i + k])) return;
      if (changed++ % COMPARED !== 0) return;
      sum += ciede2000(labAt(rgba, i), labAt(other, i)).deltaE;
      compared++;
    });
  });
  return { changed: all > 0 ? changed / all : 0, by: compared > 0 ? sum / compared : 0 };
}

function unpacked(state: TileState | PackedTile): TileState {
  if (!('packed' in state)) return state;
  const { plane, tile, packed } = state;
  return { plane, tile, bytes: unpackPixels(packed, TILE_BYTES) };
}
