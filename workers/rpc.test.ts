import { afterEach, describe, expect, it, vi } from 'vitest';
import { CoreError } from '../core/errors';
import { FakeWorker } from '../tests/fake-worker';
import { JobPool, Transferred, WorkerClient, type Handlers } from '.';

type Methods = {
  add: { params: { a: number; b: number }; result: number };
  fail: { params: null; result: null };
  hang: { params: null; result: null };
};
type Events = { hello: string };

const handlers: Handlers<Methods> = {
  add: ({ a, b }) => new Transferred(a + b, []),
  fail: () => {
    throw new CoreError('model-empty', 'The file holds no triangles.');
  },
  hang: () => new Promise(() => undefined),
};
class Fake extends FakeWorker<Methods, Events> {
  constructor(methods: Handlers<Methods> = handlers) {
    super((emit) => {
      emit('hello', 'there');
      return methods;
    });
  }
}
const makeWorker = (): Worker => new Fake() as unknown as Worker;

afterEach(() => vi.restoreAllMocks());

describe('calls to a worker', () => {
  it('bring results and events', async () => {
    const heard: string[] = [];
    const client = new WorkerClient<Methods, Events>(makeWorker(), { hello: (name) => heard.push(name) });
    expect(await client.call('add', { a: 2, b: 3 })).toBe(5);
    expect(heard).toEqual(['there']);
  });

  it('bring errors whole: kind, code and sentence', async () => {
    const client = new WorkerClient<Methods, Events>(makeWorker(), {});
    await expect(client.call('fail', null)).rejects.toMatchObject({
      name: 'CoreError',
      code: 'model-empty',
      message: 'The file holds no triangles.',
    });
    await expect(client.call('nothing' as 'fail', null)).rejects.toThrow(/no method/);
  });

  it('are rejected when the worker dies, and so is every later one', async () => {
    const worker = new Fake(handlers);
    const onDeath = vi.fn();
    const client = new WorkerClient<Methods, Events>(worker as unknown as Worker, {}, onDeath);
    const waiting = client.call('hang', null);
    worker.die();
    await expect(waiting).rejects.toMatchObject({ code: 'worker-died' });
    expect(onDeath).toHaveBeenCalledOnce();
    await expect(client.call('add', { a: 1, b: 1 })).rejects.toMatchObject({ code: 'worker-died' });
  });
});

describe('the pool', () => {
  /** The pool's own methods have other names; the fake answers any. */
  const poolOf = (workers: Fake[], count: number): JobPool =>
    new JobPool(() => {
      const worker = new Fake({
        readModel: () => new Promise(() => undefined),
        palettePng: ({ colors }: { colors: unknown[] }) => Uint8Array.of(colors.length),
      } as unknown as Handlers<Methods>);
      workers.push(worker);
      return worker as unknown as Worker;
    }, count);
  const hanging = { name: 'x', bytes: new Uint8Array(0), companions: new Map<string, Uint8Array>() };

  it('gives jobs to free workers and lets the rest wait', async () => {
    const workers: Fake[] = [];
    const pool = poolOf(workers, 2);
    const results = await Promise.all(
      [1, 2, 3, 4].map((n) =>
        pool.run('palettePng', { colors: Array.from({ length: n }, () => ({ name: '', color: '' })) }),
      ),
    );
    expect(results.map((r) => r[0])).toEqual([1, 2, 3, 4]);
    expect(workers).toHaveLength(2);
  });

  it('a cancelled job ends its worker; the next one gets a new one', async () => {
    const workers: Fake[] = [];
    const pool = poolOf(workers, 1);
    const stop = new AbortController();
    const job = pool.run('readModel', hanging, { signal: stop.signal });
    const next = pool.run('palettePng', { colors: [] });
    stop.abort();
    await expect(job).rejects.toMatchObject({ code: 'cancelled' });
    expect(workers[0]!.ended).toBe(true);
    expect((await next)[0]).toBe(0);
    expect(workers).toHaveLength(2);
  });

  it('a job that still waits can be cancelled too', async () => {
    const pool = poolOf([], 1);
    const stop = new AbortController();
    const first = new AbortController();
    const busy = pool.run('readModel', hanging, { signal: first.signal });
    const waiting = pool.run('readModel', hanging, { signal: stop.signal });
    stop.abort();
    await expect(waiting).rejects.toMatchObject({ code: 'cancelled' });
    first.abort();
    await expect(busy).rejects.toMatchObject({ code: 'cancelled' });
    await expect(pool.run('readModel', hanging, { signal: stop.signal })).rejects.toMatchObject({
      code: 'cancelled',
    });
  });

  it('a worker that dies rejects its job and is replaced', async () => {
    const workers: Fake[] = [];
    const pool = poolOf(workers, 1);
    const job = pool.run('readModel', hanging);
    await Promise.resolve();
    workers[0]!.die();
    await expect(job).rejects.toMatchObject({ code: 'worker-died' });
    expect((await pool.run('palettePng', { colors: [] }))[0]).toBe(0);
  });
});
