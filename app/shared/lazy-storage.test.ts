import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { lazyStorage } from './lazy-storage';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

const storeOn = (written: string[]) =>
  create(
    persist(() => ({ brush: 1, under: 0 }), {
      name: 'habits',
      storage: lazyStorage<{ brush: number }>(
        (_key, text) => void written.push(text),
        () => null,
      ),
      partialize: ({ brush }) => ({ brush }),
    }),
  );

it('forty moves of the pointer write nothing; a habit that changes is written once', () => {
  const written: string[] = [];
  const store = storeOn(written);
  // What it begins with is written once.
  store.setState({ under: 0.5 });
  vi.advanceTimersByTime(5000);
  expect(written).toHaveLength(1);
  written.length = 0;
  for (let i = 1; i <= 40; i++) store.setState({ under: i });
  vi.advanceTimersByTime(5000);
  expect(written).toEqual([]);
  store.setState({ brush: 2 });
  store.setState({ brush: 3 });
  expect(written).toEqual([]);
  vi.advanceTimersByTime(1000);
  expect(written.map((text) => JSON.parse(text) as object)).toEqual([{ state: { brush: 3 }, version: 0 }]);
});

it('what waits is written when the page is left', () => {
  const written: string[] = [];
  const target = new EventTarget();
  vi.stubGlobal('addEventListener', target.addEventListener.bind(target));
  const store = storeOn(written);
  vi.unstubAllGlobals();
  store.setState({ brush: 5 });
  target.dispatchEvent(new Event('pagehide'));
  expect(written).toHaveLength(1);
  vi.advanceTimersByTime(5000);
  expect(written).toHaveLength(1);
});
