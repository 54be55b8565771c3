import { CoreError, ERROR_CODES, type ErrorCode } from '../core/errors';

/** What a worker can be asked, by name: one argument, one result. */
export type Methods = Record<string, { params: unknown; result: unknown }>;

/** What a worker tells unasked, by name. */
export type Events = Record<string, unknown>;

interface WireError {
  readonly name: string;
  readonly message: string;
  readonly stack: string | undefined;
  readonly code: string | undefined;
}

type Request = {
  readonly type: 'call';
  readonly id: number;
  readonly method: string;
  readonly params: unknown;
};

type Response =
  | { readonly type: 'result'; readonly id: number; readonly result: unknown }
  | { readonly type: 'error'; readonly id: number; readonly error: WireError }
  | { readonly type: 'event'; readonly event: string; readonly data: unknown };

/** The two ends' common shape; a Worker and a worker's own scope both have it. */
interface Port {
  postMessage(message: unknown, options: { transfer: Transferable[] }): void;
  addEventListener(type: 'message', listener: (event: MessageEvent) => void): void;
}

/** A result that hands memory over instead of copying it. */
export class Transferred<T> {
  readonly value: T;
  readonly buffers: Transferable[];
  constructor(value: T, buffers: Transferable[]) {
    this.value = value;
    this.buffers = buffers;
  }
}

/** All of an array's memory handed over. */
export const handOver = <T extends Uint8Array | Uint16Array>(data: T): Transferred<T> =>
  new Transferred(data, [data.buffer as ArrayBuffer]);

export type Handlers<M extends Methods> = {
  [K in keyof M]: (
    params: M[K]['params'],
  ) => M[K]['result'] | Transferred<M[K]['result']> | Promise<M[K]['result'] | Transferred<M[K]['result']>>;
};

export type Emit<E extends Events> = <K extends keyof E & string>(
  event: K,
  data: E[K],
  transfer?: Transferable[],
) => void;

/**
 * The worker's end: answers calls as they come.
 *
 * @param inLine a call only begins when the one before has been answered, so that nothing comes between the steps of a long one
 * @param atOnce methods that don't wait in line
 */
export function serve<M extends Methods, E extends Events>(
  port: Port,
  makeHandlers: (emit: Emit<E>) => Handlers<M>,
  { inLine = false, atOnce = [] }: { inLine?: boolean; atOnce?: readonly (keyof M & string)[] } = {},
): void {
  let line: Promise<void> | null = null;
  const emit: Emit<E> = (event, data, transfer = []) =>
    port.postMessage({ type: 'event', event, data } satisfies Response, { transfer });
  const handlers = makeHandlers(emit);
  port.addEventListener('message', (message) => {
    const request = message.data as Request;
    if (request.type !== 'call') return;
    if (!inLine || atOnce.includes(request.method)) void answer(request);
    else if (line) line = line.then(() => answer(request));
    else {
      const own: Promise<void> = answer(request).finally(() => {
        if (line === own) line = null;
      });
      line = own;
    }
  });

  async function answer({ id, method, params }: Request): Promise<void> {
    try {
      const handler = Object.hasOwn(handlers, method) ? handlers[method] : undefined;
      if (!handler) throw new CoreError('bad-argument', `The worker has no method “${method}”.`);
      const answered = await handler(params as never);
      const [result, buffers] =
        answered instanceof Transferred ? [answered.value, answered.buffers] : [answered, []];
      port.postMessage({ type: 'result', id, result } satisfies Response, { transfer: buffers });
    } catch (error) {
      port.postMessage({ type: 'error', id, error: toWire(error) } satisfies Response, { transfer: [] });
    }
  }
}

function toWire(error: unknown): WireError {
  if (!(error instanceof Error))
    return { name: 'Error', message: String(error), stack: undefined, code: undefined };
  return {
    name: error.name,
    message: error.message,
    stack: error.stack,
    code: error instanceof CoreError ? error.code : undefined,
  };
}

function fromWire(wire: WireError): Error {
  const known = ERROR_CODES.find((code): code is ErrorCode => code === wire.code);
  const error = known ? new CoreError(known, wire.message) : new Error(wire.message);
  error.name = wire.name;
  if (wire.stack) error.stack = wire.stack;
  return error;
}

/** The caller's end. A worker that dies rejects everything that still waits for it. */
export class WorkerClient<M extends Methods, E extends Events> {
  private readonly worker: Worker;
  private readonly waiting = new Map<
    number,
    { resolve: (value: never) => void; reject: (error: Error) => void }
  >();
  private nextId = 1;
  private dead: Error | null = null;

  /** @param onDeath told once, when the worker has failed by itself */
  constructor(
    worker: Worker,
    onEvent: { [K in keyof E]?: (data: E[K]) => void },
    onDeath: (error: Error) => void = () => undefined,
  ) {
    this.worker = worker;
    worker.addEventListener('message', (message: MessageEvent) => {
      const response = message.data as Response;
      if (response.type === 'event') {
        onEvent[response.event as keyof E]?.(response.data as never);
        return;
      }
      const call = this.waiting.get(response.id);
      this.waiting.delete(response.id);
      if (response.type === 'result') call?.resolve(response.result as never);
      else call?.reject(fromWire(response.error));
    });
    const died = (cause: unknown): void => {
      const error = new CoreError(
        'worker-died',
        'A part of the program that works in the background has stopped. It is being started again; nothing finished is lost.',
        { cause },
      );
      this.close(error);
      onDeath(error);
    };
    worker.addEventListener('error', (event) => died(event.message || 'error'));
    worker.addEventListener('messageerror', () => died('messageerror'));
  }

  call<K extends keyof M & string>(
    method: K,
    params: M[K]['params'],
    transfer: Transferable[] = [],
  ): Promise<M[K]['result']> {
    if (this.dead) return Promise.reject(this.dead);
    const id = this.nextId++;
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { resolve: resolve as (value: never) => void, reject });
      this.worker.postMessage({ type: 'call', id, method, params } satisfies Request, { transfer });
    });
  }

  /** Ends the worker; what still waits is rejected with `error`. */
  close(error: Error = new CoreError('cancelled', 'Stopped.')): void {
    if (this.dead) return;
    this.dead = error;
    this.worker.terminate();
    for (const { reject } of this.waiting.values()) reject(error);
    this.waiting.clear();
  }
}
