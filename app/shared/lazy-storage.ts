import type { PersistStorage, StorageValue } from 'zustand/middleware';
import { remember, remembered } from './remembered';

/** What is remembered is written so often at the most. */
const WAIT_MS = 1000;

/** Whether two states have the same values. */
const isSame = <S extends object>(a: S, b: S): boolean =>
  (Object.keys(b) as (keyof S)[]).every((key) => a[key] === b[key]);

/**
 * Keeps a store's state where the browser remembers it: only when something of it has changed, once a second at the most, and when the page is
 * left. A pointer that moves over the picture changes the store a hundred times a second, and nothing of what is remembered.
 */
export function lazyStorage<S extends object>(
  write: (key: string, text: string) => void = (key, text) => void remember(key, text),
  read: (key: string) => string | null = remembered,
): PersistStorage<S> {
  let last: S | null = null;
  let waiting: { readonly key: string; readonly value: StorageValue<S> } | null = null;
  const flush = (): void => {
    if (waiting) write(waiting.key, JSON.stringify(waiting.value));
    waiting = null;
  };
  globalThis.addEventListener?.('pagehide', flush);
  globalThis.document?.addEventListener('visibilitychange', flush);
  return {
    getItem: (key) => {
      try {
        return JSON.parse(read(key) ?? 'null') as StorageValue<S> | null;
      } catch {
        // Something else stands there: nothing is remembered.
        return null;
      }
    },
    setItem: (key, value) => {
      if (last && isSame(last, value.state)) return;
      last = value.state;
      if (!waiting) setTimeout(flush, WAIT_MS);
      waiting = { key, value };
    },
    removeItem: (key) => write(key, ''),
  };
}
