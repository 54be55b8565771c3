import { afterEach, describe, expect, it, vi } from 'vitest';
import { CoreError } from '../core/errors';
import { JobPool, serve, Transferred, WorkerClient, type Handlers } from '.';

type Methods = {
  add: { params: { a: number; b: number }; result: number };
  fail: { params: null; result: null };
  hang: { params: null; result: null };
};
type Events = { hello: string };

/** A worker that lives on the same thread, with the same messages. */
class FakeWorker extends EventTarget {
  ended = false;
  private readonly inside = new EventTarget();

  constructor(handlers: Handlers<Methods>) {
    super();
    const port = {
      postMessage: (message: unknown) => this.later(this, structuredClone(message)),
      addEventListener: (type: 'message', listener: (e: MessageEvent) => void) =>
        this.inside.addEventListener(type, listener as EventListener),
    };
    serve<Methods, Events>(port, (emit) => {
      emit('hello', 'there');
      return handlers;
    });
  }
  private later(target: EventTarget, data: unknown): void {
    queueMicrotask(() => {
      if (!this.ended) target.dispatchEvent(new MessageEvent('message', { data }));
    });
  }
  postMessage(message: unknown): void {
    this.later(this.inside, structuredClone(message));
  }
  terminate(): void {
    this.ended = true;
  }
  die(): void {
    this.dispatchEvent(new Event('error'));
  }
}

const handlers: Handlers<Methods> = {
  add: ({ a, b }) => new Transferred(a + b, []),
  fail: () => {
    throw new CoreError('model-empty', 'The file holds no triangles.');
  },
  hang: () => new Promise(() => undefined),
};
const makeWorker = (): Worker => new FakeWorker(handlers) as unknown as Worker;

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
    const worker = new FakeWorker(handlers);
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
  const poolOf = (workers: FakeWorker[], count: number): JobPool =>
    new JobPool(() => {
      const worker = new FakeWorker({
        readModel: () => new Promise(() => undefined),
        palettePng: ({ colors }: { colors: unknown[] }) => Uint8Array.of(colors.length),
      } as unknown as Handlers<Methods>);
      workers.push(worker);
      return worker as unknown as Worker;
    }, count);
  const hanging = { name: 'x', bytes: new Uint8Array(0), companions: new Map<string, Uint8Array>() };

  it('gives jobs to free workers and lets the rest wait', async () => {
    const workers: FakeWorker[] = [];
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
    const workers: FakeWorker[] = [];
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
    const workers: FakeWorker[] = [];
    const pool = poolOf(workers, 1);
    const job = pool.run('readModel', hanging);
    await Promise.resolve();
    workers[0]!.die();
    await expect(job).rejects.toMatchObject({ code: 'worker-died' });
    expect((await pool.run('palettePng', { colors: [] }))[0]).toBe(0);
  });
});
