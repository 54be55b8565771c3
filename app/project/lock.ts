/** A tab that is just being closed or reloaded lets its lock go within this time. */
const LOCK_WAIT_MS = 2500;

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
