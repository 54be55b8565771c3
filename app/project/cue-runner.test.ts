import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { plate } from '../../tests/shapes';
import { cueSpec } from '../../core/cues';
import { newDocument, type ProjectDocument } from '../../core/document';
import { measureSurface } from '../../core/surface';
import type { CueRunner as Runner } from './cue-runner';

const asked: { readonly job: string; readonly data: Record<string, unknown> }[] = [];

const surface = measureSurface(plate(0.2), 64);
const HEIGHT = cueSpec.parse({ cue: 'height', direction: [0, 1, 0], from: 0, to: 1 });
const DENSE: ProjectDocument['dense'] = {
  id: 30,
  name: 'dense.obj',
  triangles: 12,
  distance: 0.02,
  placing: null,
};

/** A copy of one project whose denser model is this file, measured once. @returns under which name values were looked for and kept */
async function keysOf(file: string): Promise<unknown[]> {
  asked.length = 0;
  const runner = new CueRunner(
    {
      cue: () => Promise.resolve(null),
      cueTiles: () => Promise.resolve(null),
      file: () => Promise.resolve(new TextEncoder().encode(file)),
      project: file,
    },
    new AbortController().signal,
  );
  runner.useModel({ hash: 'of both', surface });
  const document = { ...newDocument('Copy', 64), dense: DENSE } as ProjectDocument;
  runner.want([HEIGHT], new Set(), document);
  await vi.waitFor(() => expect(asked.some(({ job }) => job === 'keepMap')).toBe(true));
  return asked.flatMap(({ job, data }) => (job.endsWith('Map') ? [data['key']] : []));
}

let CueRunner: typeof Runner;

beforeAll(async () => {
  // Node has no navigator yet; the pools of workers ask it how many there may be.
  vi.stubGlobal('navigator', { hardwareConcurrency: 2 });
  const { jobPool } = await import('../shared/platform');
  ({ CueRunner } = await import('./cue-runner'));
  vi.spyOn(jobPool, 'run').mockImplementation(((job: string, data: Record<string, unknown>) => {
    asked.push({ job, data });
    return Promise.resolve(job === 'placedCue' ? new Uint16Array(surface.codes.length) : null);
  }) as never);
});
afterAll(() => {
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

it('keeps what was measured on a denser model under what is in its file: copies of a project give other models one id', async () => {
  const [one, other, again] = [await keysOf('a ball'), await keysOf('a box'), await keysOf('a ball')];
  expect(one).toHaveLength(2);
  expect(new Set(one).size).toBe(1);
  expect(other[0]).not.toBe(one[0]);
  expect(again).toEqual(one);
});
