// Before anything loads Dexie, which looks for it once: modules are shared by all files of a worker.
import 'fake-indexeddb/auto';
import { expect } from 'vitest';
import fc from 'fast-check';

// The same examples in every run: a failure here is a failure everywhere.
fc.configureGlobal({ seed: 20261125, numRuns: 200 });

/** Pictures and tiles are compared at once: told number by number, a tile takes tens of milliseconds. */
expect.addEqualityTesters([
  (a: unknown, b: unknown): boolean | undefined => {
    if (!(a instanceof Uint8Array && b instanceof Uint8Array)) return undefined;
    return Buffer.compare(a, b) === 0;
  },
]);
