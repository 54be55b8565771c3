import { sampleAt, SOFT_STROKE } from '../tests/strokes';
import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { seamedFloor } from '../tests/shapes';
import { readFileSync } from 'node:fs';
import { changeModel, modelOf, sortedTiles } from '../tests/engines';
import { meshHash, renamePart } from '../core/mesh';
import { measureCue } from '../core/cues';
import { compositeSheet, Engine } from '../core/engine';
import { newDocument } from '../core/document';
import type { ProjectData } from '../core/project-file';
import { NOTHING_SHARED } from '../core/set';
import { decodePng } from '../core/formats';
import { createWasmKernels } from '../core/kernels';
import type { StrokeWish } from '../core/paint';
import { measureSurface } from '../core/surface';
import {
  addProject,
  duplicateProject,
  PersistenceQueue,
  loadHistory,
  loadPage,
  loadProject,
  ProjectStore,
  storageError,
  wipeDeleted,
  type KeepState,
} from '.';
import { keepMap, loadMap } from './map-cache';

const PAINT = 2;
let databases = 0;
let store: ProjectStore;

beforeEach(() => {
  store = new ProjectStore(`test ${databases++}`);
});

const data = (): ProjectData => ({
  document: newDocument('Floor', 128),
  mesh: seamedFloor(),
  pixels: [],
  strokes: new Map(),
  files: new Map([[5, Uint8Array.of(1, 2, 3)]]),
});

const stroke = (x: number): StrokeWish => ({
  ...SOFT_STROKE,
  runs: [[...sampleAt([x, 0, 0], [0, 1, 0], 0.2), ...sampleAt([x + 0.2, 0, 0], [0, 1, 0], 0.2)]],
});

/** Whether the disk lets anything in, for whoever opens a database anew. */
const room = { is: true };

/** A project open in an engine, kept as the paint worker keeps it. */
async function openProject(
  id: string,
  from: ProjectStore = store,
  onDamaged: (plane: number, tile: number) => void = () => undefined,
) {
  const loaded = await loadProject(from, id);
  const counts = new Map([...loaded.strokes].map(([plane, list]) => [plane, list.length]));
  const options = { model: loaded.document.model, strokes: counts };
  const history = await loadHistory(from, id, loaded.row.historyDone, options);
  const states: KeepState[] = [];
  let opened = 0;
  const keeper = new PersistenceQueue({
    // The first time the one whose hooks a test has set.
    open: () => (opened++ === 0 ? from : new ProjectStore(from.name)),
    project: id,
    session: 'test',
    tell: (state) => states.push(state),
    whole: () =>
      engine.strokeInHand
        ? null
        : {
            document: engine.document,
            mesh: engine.mesh,
            history: engine.historyData,
            ...engine.everything(),
          },
    hasRoom: () => Promise.resolve(room.is),
  });
  const engine: Engine = new Engine({
    surface: measureSurface(loaded.mesh, 128),
    kernels: createWasmKernels(),
    document: loaded.document,
    pixels: loaded.pixels,
    strokes: loaded.strokes,
    files: loaded.files,
    history,
    onCommit: (c) => keeper.keep(c),
    onDamaged,
  });
  /** Takes a step, its pixels fetched as the paint worker does. */
  const step = async (direction: 'undo' | 'redo'): Promise<boolean> => {
    const { step: away } = engine.needed(direction);
    if (away !== null) engine.provideStep(away, (await loadPage(from, id, away))!);
    return engine[direction]();
  };
  return { engine, keeper, states, step, lostStrokes: loaded.lostStrokes };
}

const paint = (engine: Engine, x: number): unknown =>
  engine.apply({ do: 'stroke', layer: PAINT, stroke: stroke(x) });
const pixelsOf = (engine: Engine) => [...engine.tilesOf(PAINT)].sort((a, b) => a.tile - b.tile);

describe('what is kept', () => {
  it('a project comes back with everything in it', async () => {
    await addProject(store, 'a', data(), 1000);
    const back = await loadProject(store, 'a');
    expect(back.document).toEqual({ ...data().document, model: meshHash(data().mesh) });
    expect(back.mesh).toEqual(data().mesh);
    expect(back.files).toEqual(data().files);
    expect(back.row.name).toBe('Floor');
  });

  it('strokes, undo and redo survive closing, at any point', async () => {
    await addProject(store, 'a', data(), 1000);
    const first = await openProject('a');
    paint(first.engine, -0.5);
    paint(first.engine, 0.3);
    paint(first.engine, 0.6);
    first.engine.undo();
    await first.keeper.settled();
    expect(first.states.at(-1)!.kept).toBe(true);

    const second = await openProject('a');
    expect(pixelsOf(second.engine)).toEqual(pixelsOf(first.engine));
    expect(second.engine.strokesOf(PAINT)).toHaveLength(2);
    await second.step('redo');
    first.engine.redo();
    expect(pixelsOf(second.engine)).toEqual(pixelsOf(first.engine));
    while (await second.step('undo'));
    await second.keeper.settled();

    const third = await openProject('a');
    expect(pixelsOf(third.engine)).toEqual([]);
    expect(third.engine.strokesOf(PAINT)).toEqual([]);
    paint(third.engine, 0.1);
    await third.keeper.settled();
    expect(await store.history.where({ project: 'a' }).count()).toBe(1);
    expect(await store.pages.where({ project: 'a' }).count()).toBe(1);
    expect(await store.strokes.where({ project: 'a' }).count()).toBe(1);
  });

  it('sixty undos write sixty pages and no step anew', async () => {
    await addProject(store, 'a', data(), 1000);
    const { engine, keeper } = await openProject('a');
    for (let i = 0; i < 60; i++) paint(engine, -0.9 + i * 0.03);
    await keeper.settled();
    let steps = 0;
    let pages = 0;
    store.history.hook('updating', () => void steps++);
    store.history.hook('creating', () => void steps++);
    store.pages.hook('updating', () => void pages++);
    for (let i = 0; i < 60; i++) {
      engine.undo();
      await keeper.settled();
    }
    expect([steps, pages]).toEqual([0, 60]);
    const back = await openProject('a');
    expect(pixelsOf(back.engine)).toEqual([]);
    for (let i = 0; i < 60; i++) expect(await back.step('redo')).toBe(true);
    while (engine.redo());
    expect(pixelsOf(back.engine)).toEqual(pixelsOf(engine));
  });

  it('opening writes nothing, however many steps there are', async () => {
    await addProject(store, 'a', data(), 1000);
    const { engine, keeper } = await openProject('a');
    for (let i = 0; i < 450; i++) engine.apply({ do: 'rename-project', name: `Name ${i}` });
    await keeper.settled();
    const refuse = (): never => {
      throw new DOMException('no room', 'QuotaExceededError');
    };
    for (const table of store.tables) {
      table.hook('creating', refuse);
      table.hook('updating', refuse);
      table.hook('deleting', refuse);
    }
    const back = await openProject('a');
    expect(back.engine.document.name).toBe('Name 449');
    expect(back.engine.history.done).toBe(450);
    expect(back.engine.undo()).toBe(true);
  });

  it('a model and the change that needs it are written together: wiping in between takes neither', async () => {
    await addProject(store, 'a', data(), 1000);
    const { engine, keeper } = await openProject('a');
    const to = modelOf(renamePart(seamedFloor(), 0, 'Yard'));
    await Promise.all([changeModel(engine, to), wipeDeleted(store), wipeDeleted(store)]);
    await Promise.all([keeper.settled(), wipeDeleted(store)]);
    expect((await store.models.toCollection().primaryKeys()).sort()).toEqual(
      [to.hash, meshHash(seamedFloor())].sort(),
    );
    const back = await openProject('a');
    expect(back.engine.mesh.parts).toEqual(['Yard']);
    back.engine.provideModel(modelOf(seamedFloor()));
    expect(await back.step('undo')).toBe(true);
  });

  it('tells which call is on disk, also one that changed nothing', async () => {
    await addProject(store, 'a', data(), 1000);
    const { engine, keeper, states } = await openProject('a');
    keeper.begin(1);
    paint(engine, 0);
    keeper.done();
    keeper.begin(2);
    keeper.done();
    await keeper.settled();
    keeper.begin(3);
    keeper.done();
    expect(states.filter((s) => s.kept).map((s) => s.kept && s.call)).toEqual([2, 3]);
    expect((await store.projects.get('a'))!.journal).toEqual({ session: 'test', call: 1 });
  });

  it('a full disk loses nothing: it is told, kept in line and written when there is room', async () => {
    await addProject(store, 'a', data(), 1000);
    const { engine, keeper, states } = await openProject('a');
    const refuse = (): never => {
      throw new DOMException('no room', 'QuotaExceededError');
    };
    store.tiles.hook('creating', refuse);
    paint(engine, -0.5);
    await keeper.settled();
    const told = states.at(-1)!;
    expect(told.kept).toBe(false);
    expect(!told.kept && told.error?.code).toBe('storage-full');
    expect(!told.kept && told.error?.message).toMatch(/no room left.*project file/);
    // Nothing of the step was written, not half of it.
    expect(await store.strokes.count()).toBe(0);
    expect(await store.history.count()).toBe(0);

    // What comes meanwhile, strokes taken back among it, is written together with what waits.
    paint(engine, 0.4);
    paint(engine, 0.7);
    engine.undo();
    store.tiles.hook('creating').unsubscribe(refuse);
    // A browser that opens a database on a full disk may throw it away: that waits until something else can be written.
    room.is = false;
    await new Promise((next) => setTimeout(next, 3500));
    expect(states.at(-1)!.kept).toBe(false);
    room.is = true;
    await expect.poll(() => states.at(-1)!.kept, { timeout: 8000 }).toBe(true);
    const back = await openProject('a', new ProjectStore(store.name));
    expect(pixelsOf(back.engine)).toEqual(pixelsOf(engine));
    expect(back.engine.strokesOf(PAINT)).toHaveLength(2);
  });

  it('a step that was thrown away while its write failed is never offered again', async () => {
    await addProject(store, 'a', data(), 1000);
    const { engine, keeper, states } = await openProject('a');
    paint(engine, -0.5);
    await keeper.settled();
    const refuse = (): never => {
      throw new DOMException('no room', 'QuotaExceededError');
    };
    store.projects.hook('updating', refuse);
    paint(engine, 0.4);
    // The write of the second stroke is on its way when both are taken back, and something else is done.
    engine.undo();
    engine.undo();
    engine.apply({ do: 'rename-project', name: 'Other' });
    await keeper.settled();
    expect(states.at(-1)!.kept).toBe(false);
    store.projects.hook('updating').unsubscribe(refuse);
    await expect.poll(() => states.at(-1)!.kept, { timeout: 8000 }).toBe(true);
    const back = await openProject('a', new ProjectStore(store.name));
    expect(back.engine.history).toMatchObject({ labels: ['Rename project'], redo: null });
    expect(await back.step('redo')).toBe(false);
  });

  it('a database that is thrown away while the project is open is written anew, with all that is in memory', async () => {
    await addProject(store, 'a', data(), 1000);
    const { engine, keeper, states } = await openProject('a');
    paint(engine, -0.5);
    paint(engine, 0.3);
    await keeper.settled();
    await Promise.all(store.tables.map((table) => table.clear()));
    paint(engine, 0.6);
    await keeper.settled();
    expect(states.at(-1)!.kept).toBe(true);

    const back = await openProject('a');
    expect(pixelsOf(back.engine)).toEqual(pixelsOf(engine));
    expect(back.engine.strokesOf(PAINT)).toHaveLength(3);
    expect(back.engine.mesh).toEqual(engine.mesh);
    expect([...back.engine.everything().files]).toEqual([...data().files]);
    for (let n = 0; n < 3; n++) expect(await back.step('undo')).toBe(true);
    expect(pixelsOf(back.engine)).toEqual([]);
    await back.keeper.settled();
  });

  it('what is written anew names the last call whose work is in it, and waits for the stroke in hand', async () => {
    await addProject(store, 'a', data(), 1000);
    const { engine, keeper, states } = await openProject('a');
    keeper.begin(1);
    paint(engine, -0.5);
    keeper.done();
    await keeper.settled();
    await Promise.all(store.tables.map((table) => table.clear()));
    keeper.begin(2);
    paint(engine, 0.1);
    keeper.done();
    const { runs, ...style } = stroke(0.6);
    engine.beginStroke(PAINT, style);
    engine.extendStroke(runs[0]!, true);
    await keeper.settled();
    expect(states.at(-1)!.kept).toBe(false);
    expect(await store.projects.get('a')).toBeUndefined();
    engine.cancelStroke();
    // A third call's work comes while the second's waits: all of it is in memory.
    keeper.begin(3);
    paint(engine, 0.3);
    keeper.done();
    await expect.poll(() => states.at(-1)!.kept, { timeout: 8000 }).toBe(true);
    const fresh = new ProjectStore(store.name);
    expect((await fresh.projects.get('a'))!.journal).toEqual({ session: 'test', call: 3 });
    const back = await openProject('a', fresh);
    expect(back.engine.strokesOf(PAINT)).toHaveLength(3);
    expect(pixelsOf(back.engine)).toEqual(pixelsOf(engine));
  });

  it('a duplicate stands on its own', async () => {
    await addProject(store, 'a', data(), 1000);
    const { engine, keeper } = await openProject('a');
    paint(engine, 0.2);
    await keeper.settled();
    await duplicateProject(store, 'a', 'b', 2000);
    const copy = await openProject('b');
    expect(copy.engine.document.name).toBe('Floor copy');
    expect(pixelsOf(copy.engine)).toEqual(pixelsOf(engine));
    paint(copy.engine, -0.8);
    await copy.keeper.settled();
    expect((await loadProject(store, 'a')).strokes.get(PAINT)).toHaveLength(1);
    expect((await loadProject(store, 'b')).strokes.get(PAINT)).toHaveLength(2);
  });

  it('what was thrown away is wiped, and its model with it once nobody uses it', async () => {
    await addProject(store, 'a', data(), 1000);
    await duplicateProject(store, 'a', 'b', 2000);
    await store.projects.update('a', { deletedAt: 5 });
    await wipeDeleted(store);
    expect(await store.models.count()).toBe(1);
    expect(await store.pictures.where({ project: 'a' }).count()).toBe(0);
    await store.projects.update('b', { deletedAt: 6 });
    await wipeDeleted(store);
    expect(await store.models.count()).toBe(0);
    await expect(loadProject(store, 'b')).rejects.toMatchObject({ code: 'storage-damaged' });
  });

  it('pictures that no set names any more go too, unless a set can’t be read', async () => {
    const shared = { ...NOTHING_SHARED, references: [{ name: 'R', width: 1, height: 1, hash: 'named' }] };
    const set = { version: 2, id: 's', name: 'S', projects: [], scales: [], shared };
    await store.sets.put({ id: 's', name: 'S', updatedAt: 1, set });
    await store.sets.put({ id: 't', name: 'T', updatedAt: 1, set: { version: 99 } });
    for (const hash of ['named', 'left']) await store.setPictures.put({ hash, bytes: Uint8Array.of(1) });
    await wipeDeleted(store);
    expect(await store.setPictures.count()).toBe(2);
    await store.sets.delete('t');
    await wipeDeleted(store);
    expect(await store.setPictures.toCollection().primaryKeys()).toEqual(['named']);
  });

  it('a project of version 0.2 opens with its steps, to the same texels', async () => {
    const dump = JSON.parse(
      readFileSync('tests/fixtures/v1/plate.rows.json', 'utf8'),
      (_key, value: unknown) => {
        if (typeof value !== 'object' || value === null) return value;
        const [type, ...others] = Object.keys(value);
        const arrays = { Uint8Array, Float32Array, Uint32Array, Uint16Array };
        if (others.length || !type || !(type in arrays)) return value;
        const bytes = Uint8Array.from(Buffer.from(Object.values(value)[0] as string, 'base64'));
        return new arrays[type as keyof typeof arrays](bytes.buffer);
      },
    ) as Record<string, unknown[]>;
    for (const [table, rows] of Object.entries(dump)) await store.table(table).bulkPut(rows);
    const { engine, step, keeper } = await openProject('p');
    const texels = (): Uint8Array => {
      for (const spec of engine.missingCues()) engine.setCue(spec, measureCue(engine.surface, spec));
      return compositeSheet(engine);
    };
    const wanted = decodePng(readFileSync('tests/fixtures/v1/plate.png')).rgba;
    const worst = (a: Uint8Array): number =>
      a.reduce((most, x, i) => Math.max(most, Math.abs(x - wanted[i]!)), 0);
    expect(worst(texels())).toBeLessThanOrEqual(1);
    expect(engine.history).toMatchObject({ done: 5, undo: 'Change Looking up', redo: 'Change Looking up' });
    for (let i = 0; i < 5; i++) expect(await step('undo')).toBe(true);
    expect(engine.strokeCount()).toBe(0);
    expect([...engine.tilesOf(4), ...engine.tilesOf(6)]).toEqual([]);
    for (let i = 0; i < 3; i++) expect(await step('redo')).toBe(true);
    // Painted on from there, opened again, and taken back into what the older version had kept.
    engine.apply({ do: 'stroke', layer: 4, stroke: stroke(0.1) });
    const now = compositeSheet(engine);
    await keeper.settled();
    const back = await openProject('p');
    for (const spec of back.engine.missingCues())
      back.engine.setCue(spec, measureCue(back.engine.surface, spec));
    expect(compositeSheet(back.engine)).toEqual(now);
    for (let i = 0; i < 4; i++) expect(await back.step('undo')).toBe(true);
    expect(await back.step('undo')).toBe(false);
    expect(sortedTiles([...back.engine.tilesOf(4), ...back.engine.tilesOf(6)])).toEqual([]);
  });

  it('strokes and tiles that can’t be read are counted; all other paint, and undo, stay as they were', async () => {
    await addProject(store, 'p', data(), 1000);
    const { engine, keeper } = await openProject('p');
    for (const x of [-0.6, 0, 0.6]) paint(engine, x);
    const painted = compositeSheet(engine);
    await keeper.settled();
    await store.strokes.update(['p', PAINT, 1], { stroke: { tool: 'none' } as never });
    const back = await openProject('p');
    expect((await loadProject(store, 'p')).lostStrokes).toBe(1);
    expect(compositeSheet(back.engine)).toEqual(painted);
    expect(back.engine.strokesOf(PAINT).map((s) => s.runs.length)).toEqual([1, 0, 1]);
    // A further stroke gets its own number, and the plane is carried as the pixels that it has.
    paint(back.engine, 0.3);
    const { planes } = back.engine.paintPlanes();
    expect(planes[0]).toMatchObject({ allStrokes: 4, strokes: [{ runs: [expect.anything()] }] });
    expect([...planes[0]!.base!.keys()].length).toBeGreaterThan(0);
    await back.keeper.settled();
    expect(await store.strokes.where({ project: 'p' }).count()).toBe(4);
    for (let i = 0; i < 4; i++) expect(await back.step('undo')).toBe(true);
    expect([...back.engine.tilesOf(PAINT)]).toEqual([]);
    for (let i = 0; i < 3; i++) expect(await back.step('redo')).toBe(true);
    expect(compositeSheet(back.engine)).toEqual(painted);
    await back.keeper.settled();
    const [row] = await store.tiles.where({ project: 'p' }).toArray();
    await store.tiles.put({ ...row!, deflated: Uint8Array.of(1, 2, 3) });
    // Its step still knew the stroke and wrote it again.
    const damaged: number[] = [];
    const last = await openProject('p', store, (_plane, tile) => damaged.push(tile));
    compositeSheet(last.engine);
    expect([last.lostStrokes, damaged]).toEqual([0, [row!.tile]]);
  });

  it('a damaged description is told, not opened', async () => {
    await addProject(store, 'a', data(), 1000);
    await store.projects.update('a', { document: { version: 1 } as never });
    await expect(loadProject(store, 'a')).rejects.toMatchObject({ code: 'document-invalid' });
  });
});

describe('measured data', () => {
  it('is kept under its key, and given up before paint when there is no room', async () => {
    await keepMap(store, 'k', Uint16Array.of(1, 2), 4);
    expect(await loadMap(store, 'k')).toEqual(Uint16Array.of(1, 2));
    expect(await loadMap(store, 'other')).toBeNull();
    // Used again after a long time: that is noted, so that it isn't given up as the oldest.
    await store.maps.update('k', { usedAt: 5 });
    expect(await loadMap(store, 'k')).toEqual(Uint16Array.of(1, 2));
    await expect.poll(async () => (await store.maps.get('k'))!.usedAt).toBeGreaterThan(5);
    await keepMap(store, 'big', Uint16Array.of(3), 700e6);
    expect(await loadMap(store, 'big')).toBeNull();
  });
});

describe('what storage says', () => {
  it('is told as a sentence with a remedy', () => {
    const inner = new DOMException('x', 'QuotaExceededError');
    expect(storageError({ name: 'AbortError', inner }).code).toBe('storage-full');
    expect(storageError(new DOMException('x', 'SecurityError')).code).toBe('storage-refused');
    // A database that broke off is none that is switched off.
    for (const name of ['InvalidStateError', 'UnknownError', 'DatabaseClosedError', 'AbortError'])
      expect(storageError(new DOMException('x', name))).toMatchObject({ code: 'storage-failed' });
  });
});
