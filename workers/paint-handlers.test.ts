import 'fake-indexeddb/auto';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { PAINT } from '../tests/engines';
import { seamedFloor } from '../tests/shapes';
import { sampleAt, SOFT_STROKE } from '../tests/strokes';
import { newDocument } from '../core/document';
import { readProjectFile } from '../core/project-file';
import type { Command } from '../core/commands';
import { meshHash } from '../core/mesh';
import { measureSurface } from '../core/surface';
import { addProject, loadProject, ProjectStore, type KeepState } from '../storage';
import type { PaintEvents, PaintMethods } from './paint-protocol';
import { paintHandlers } from './paint-handlers';
import { Transferred, type Handlers } from './rpc';

type Told = {
  readonly [E in keyof PaintEvents]: { readonly event: E; readonly data: PaintEvents[E] };
}[keyof PaintEvents];

let told: Told[];
let handlers: Handlers<PaintMethods>;
let call: number;
const store = new ProjectStore();

const mesh = seamedFloor();

const latest = <E extends keyof PaintEvents>(event: E): PaintEvents[E] =>
  told.findLast((t) => t.event === event)!.data as PaintEvents[E];

const value = <T>(result: T | Transferred<T> | Promise<T | Transferred<T>>): Promise<T> =>
  Promise.resolve(result).then((r) => (r instanceof Transferred ? r.value : r));

beforeEach(async () => {
  told = [];
  call = 0;
  await Promise.all(store.tables.map((table) => table.clear()));
  await addProject(
    store,
    'p',
    {
      document: newDocument('Floor', 128),
      mesh,
      pixels: [],
      strokes: new Map(),
      files: new Map(),
    },
    0,
  );
  handlers = paintHandlers((event, data) => void told.push({ event, data } as Told));
  await open();
});

afterEach(() => vi.restoreAllMocks());

const open = (follows = false): Promise<number> =>
  value(
    handlers.open({
      project: 'p',
      session: 'test',
      model: { hash: meshHash(mesh), surface: measureSurface(mesh, 128) },
      follows,
    }),
  );

const command = async (wish: Command) =>
  value(handlers.command({ call: ++call, command: wish, gesture: null, deed: null }));

async function stroke(x: number): Promise<void> {
  await value(
    handlers.strokeBegin({
      call: ++call,
      layer: PAINT,
      channel: 'pixels',
      guard: null,
      keepAlpha: false,
      style: SOFT_STROKE,
      like: null,
      tip: null,
    }),
  );
  const samples = Float64Array.from([
    ...sampleAt([x, 0, 0], [0, 1, 0], 0.3),
    ...sampleAt([x + 0.2, 0, 0], [0, 1, 0], 0.3),
  ]);
  await value(handlers.strokeExtend({ call: ++call, samples, lift: true }));
  await value(handlers.strokeEnd({ call: ++call }));
}

const rows = () => value(handlers.sheet({ sheet: 0 }));

describe('the paint worker', () => {
  it('paints, undoes and redoes what it is asked to, and tells the state after each', async () => {
    const bare = (await rows()).slice();
    await stroke(-0.5);
    const painted = (await rows()).slice();
    expect(painted).not.toEqual(bare);
    expect(latest('state').history).toMatchObject({ undo: 'Paint stroke', redo: null, done: 1 });
    await value(handlers.undo({ call: ++call, step: null }));
    expect(await rows()).toEqual(bare);
    await value(handlers.redo({ call: ++call }));
    expect(await rows()).toEqual(painted);
    await value(handlers.goTo({ call: ++call, done: 0 }));
    expect(latest('state').history.done).toBe(0);
    expect(await rows()).toEqual(bare);
  });

  it('sends every tile that changed, and says when none is left', async () => {
    await vi.waitFor(() => expect(latest('pending')).toBe(0));
    told.length = 0;
    await stroke(-0.5);
    await vi.waitFor(() => expect(told.some((t) => t.event === 'tiles' && t.data.left === 0)).toBe(true));
    const sent = told.flatMap((t) => (t.event === 'tiles' ? [...t.data.tiles] : []));
    expect(sent.length).toBeGreaterThan(0);
  });

  it('refuses what can’t be done with a sentence, and what was there stays', async () => {
    const before = latest('state').document;
    await expect(command({ do: 'remove-layers', layers: [99] })).rejects.toThrow(/layer/i);
    await expect(async () => value(handlers.sheet({ sheet: 7 }))).rejects.toThrow(/no longer there/);
    await expect(async () =>
      value(handlers.strokeExtend({ call: 1, samples: Float64Array.of(NaN), lift: true } as never)),
    ).rejects.toThrow();
    expect(latest('state').document).toBe(before);
    await command({ do: 'rename-project', name: 'Still here' });
    expect(latest('state').document.name).toBe('Still here');
  });

  it('only looks on where another tab paints', async () => {
    handlers = paintHandlers((event, data) => void told.push({ event, data } as Told));
    await open(true);
    await expect(command({ do: 'rename-project', name: 'Mine' })).rejects.toThrow(/Another tab paints/);
  });

  it('goes on while nothing can be written, gives the project as a file, and writes all of it when it can again', async () => {
    await value(handlers.settle(null));
    // A full disk lets nothing in, whatever is written.
    const full = new DOMException('full', 'QuotaExceededError');
    const refuses = vi
      .spyOn(ProjectStore.prototype, 'transaction')
      .mockImplementation((() => Promise.reject(full)) as never);
    await command({ do: 'rename-project', name: 'While full' });
    await stroke(-0.5);
    await command({ do: 'add-layer', layer: { kind: 'paint', name: 'Over it' }, at: 2 });
    await vi.waitFor(() => expect(latest('keep')).toMatchObject({ kept: false }));
    await value(handlers.undo({ call: ++call, step: null }));
    const file = readProjectFile(await value(handlers.projectFile(null)));
    expect(file.document.name).toBe('While full');
    expect(file.document.layers.some(({ name }) => name === 'Over it')).toBe(false);
    const painted = (await rows()).slice();

    refuses.mockRestore();
    await command({ do: 'rename-project', name: 'Written' });
    await vi.waitFor(() => expect((latest('keep') as KeepState).kept).toBe(true), { timeout: 20_000 });
    await value(handlers.settle(null));
    const stored = await loadProject(store, 'p');
    expect(stored.document.name).toBe('Written');
    expect(stored.document.layers.map(({ name }) => name)).toEqual(
      latest('state').document.layers.map(({ name }) => name),
    );
    expect(stored.strokes.get(PAINT)).toHaveLength(1);
    await open();
    expect(await rows()).toEqual(painted);
  });
});
