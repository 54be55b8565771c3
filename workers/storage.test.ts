import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { seamedFloor } from '../tests/shapes';
import { meshHash } from '../core/mesh';
import { Engine, newDocument, type ProjectData } from '../core/engine';
import { createWasmKernels } from '../core/kernels';
import type { Stroke } from '../core/paint';
import { measureSurface } from '../core/surface';
import {
  addProject,
  duplicateProject,
  Keeper,
  loadHistory,
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
  pictures: new Map([[5, Uint8Array.of(1, 2, 3)]]),
});

const stroke = (x: number): Stroke => ({
  erase: false,
  color: '#c83c14',
  opacity: 0.8,
  edge: 0.6,
  spacing: 0.1,
  pressureSize: false,
  pressureOpacity: false,
  part: null,
  nearSide: true,
  runs: [[x, 0, 0, 0, 1, 0, 0.2, 1, x + 0.2, 0, 0, 0, 1, 0, 0.2, 1]],
});

/** A project open in an engine, kept as the paint worker keeps it. */
async function openProject(id: string) {
  const loaded = await loadProject(store, id);
  const history = await loadHistory(store, id, loaded.row.historyDone, loaded.document.model);
  const states: KeepState[] = [];
  const counts = new Map([...loaded.strokes].map(([layer, list]) => [layer, list.length]));
  const keeper = new Keeper(store, id, counts, (s) => states.push(s));
  const engine = new Engine({
    mesh: loaded.mesh,
    surface: measureSurface(loaded.mesh, 128),
    kernels: createWasmKernels(),
    document: loaded.document,
    pixels: loaded.pixels,
    strokes: loaded.strokes,
    history,
    onCommit: (c) => keeper.keep(c),
  });
  return { engine, keeper, states };
}

const paint = (engine: Engine, x: number): void =>
  engine.apply({ do: 'stroke', layer: PAINT, stroke: stroke(x) });
const pixelsOf = (engine: Engine) => [...engine.tilesOf(PAINT)].sort((a, b) => a.tile - b.tile);

describe('what is kept', () => {
  it('a project comes back with everything in it', async () => {
    await addProject(store, 'a', data(), 1000);
    const back = await loadProject(store, 'a');
    expect(back.document).toEqual({ ...data().document, model: meshHash(data().mesh) });
    expect(back.mesh).toEqual(data().mesh);
    expect(back.pictures).toEqual(data().pictures);
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
    second.engine.redo();
    first.engine.redo();
    expect(pixelsOf(second.engine)).toEqual(pixelsOf(first.engine));
    while (second.engine.undo());
    await second.keeper.settled();

    const third = await openProject('a');
    expect(pixelsOf(third.engine)).toEqual([]);
    expect(third.engine.strokesOf(PAINT)).toEqual([]);
    paint(third.engine, 0.1);
    await third.keeper.settled();
    expect(await store.history.where({ project: 'a' }).count()).toBe(1);
    expect(await store.strokes.where({ project: 'a' }).count()).toBe(1);
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

    store.tiles.hook('creating').unsubscribe(refuse);
    paint(engine, 0.4);
    await keeper.settled();
    expect(states.at(-1)!.kept).toBe(true);
    const back = await openProject('a');
    expect(pixelsOf(back.engine)).toEqual(pixelsOf(engine));
    expect(back.engine.strokesOf(PAINT)).toHaveLength(2);
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
    expect(storageError(new DOMException('x', 'InvalidStateError')).code).toBe('storage-refused');
  });
});
