import { serve, type Emit, type Events, type Handlers, type Methods } from '../workers';

/** A worker that lives on the same thread, with the same messages. */
export class FakeWorker<M extends Methods, E extends Events> extends EventTarget {
  ended = false;
  private readonly inside = new EventTarget();

  constructor(makeHandlers: (emit: Emit<E>) => Handlers<M>) {
    super();
    const port = {
      postMessage: (message: unknown) => this.later(this, structuredClone(message)),
      addEventListener: (type: 'message', listener: (e: MessageEvent) => void) =>
        this.inside.addEventListener(type, listener as EventListener),
    };
    serve<M, E>(port, makeHandlers);
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
    this.ended = true;
    this.dispatchEvent(new Event('error'));
  }
}
