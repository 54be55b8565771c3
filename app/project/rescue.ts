import type { ModelState } from '../../core/engine';
import { paintHandlers, Transferred, type Handlers, type PaintMethods } from '../../workers';

/**
 * A project file made on the main thread, for when no worker can be had: what storage holds, and what was asked for since. Where it can
 * be written, storage takes it in too.
 *
 * @param session names the one who asked
 * @param calls in order; what can't be done on the main thread is passed over
 * @throws CoreError `storage-damaged` and others if the project can't be read
 */
export async function rescue(
  project: string,
  model: ModelState,
  session: string,
  calls: readonly { readonly call: number; readonly method: string; readonly params: unknown }[],
): Promise<Uint8Array> {
  const handlers: Handlers<PaintMethods> = paintHandlers(() => undefined);
  const known = await plain(handlers.open({ project, session, model, follows: false }));
  for (const { call, method, params } of calls) {
    if (call <= known) continue;
    try {
      await handlers[method as keyof PaintMethods]({ ...(params as object), call } as never);
    } catch {
      // What was refused then is refused again.
    }
  }
  const file = await plain(handlers.projectFile(null));
  await handlers.settle(null);
  return file;
}

async function plain<T>(answer: T | Transferred<T> | Promise<T | Transferred<T>>): Promise<T> {
  const value = await answer;
  return value instanceof Transferred ? value.value : value;
}
