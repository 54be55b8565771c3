/** A tab that is just being closed or reloaded lets its lock go within this time. */
const LOCK_WAIT_MS = 2500;

/** Does something to a project while no tab has it open. @returns false if one has */
export async function whileClosed(project: string, work: () => Promise<void>): Promise<boolean> {
  if (!navigator.locks) {
    await work();
    return true;
  }
  return navigator.locks.request(`zanahoria ${project}`, { ifAvailable: true }, async (lock) => {
    if (lock) await work();
    return lock !== null;
  });
}

/** A tab that is only reloaded is back within this time: it is to have its project again. */
const RELOAD_MS = 3500;

/** Resolves when no other tab holds a project's lock, and none comes back for it. @returns false if that was given up */
export async function waitUntilFree(project: string, signal: AbortSignal): Promise<boolean> {
  const name = `zanahoria ${project}`;
  try {
    for (;;) {
      await navigator.locks.request(name, { signal }, () => undefined);
      await new Promise((resolve) => setTimeout(resolve, RELOAD_MS));
      const isFree = await navigator.locks.request(name, { ifAvailable: true }, (lock) => lock !== null);
      signal.throwIfAborted();
      if (isFree) return true;
    }
  } catch {
    return false;
  }
}

/** No two tabs may write one project. @returns how to let go, or null if another tab holds it */
export async function takeLock(project: string): Promise<(() => void) | null> {
  if (!navigator.locks) return () => undefined;
  return new Promise((resolve) => {
    navigator.locks
      .request(`zanahoria ${project}`, { signal: AbortSignal.timeout(LOCK_WAIT_MS) }, () => {
        return new Promise<void>((release) => resolve(release));
      })
      .catch(() => resolve(null));
  });
}
