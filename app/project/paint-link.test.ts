import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { FakeWorker } from '../../tests/fake-worker';
import type { Emit, Handlers, PaintEvents, PaintMethods } from '../../workers';
import { PaintLink } from './paint-link';

/** What is on disk: it outlives every worker. */
interface Disk {
  call: number;
  strokes: string[];
}

interface Painter {
  readonly worker: FakeWorker<PaintMethods, PaintEvents>;
  readonly write: () => void;
}

/** A paint worker that does the calls it is given in order, and puts them on disk when `write` says so. */
function painter(disk: Disk, { stuckAt = Infinity, silent = false, diesAtOpen = false } = {}): Painter {
  const strokes = [...disk.strokes];
  let last = disk.call;
  let tell: Emit<PaintEvents>;
  const never = (): Promise<never> => new Promise(() => undefined);
  const worker = new FakeWorker<PaintMethods, PaintEvents>((emit) => {
    tell = emit;
    return {
      open: () => {
        if (!diesAtOpen) return disk.call;
        queueMicrotask(() => worker.die());
        return never();
      },
      strokeEnd: ({ call }) => {
        if (call >= stuckAt) return never();
        strokes.push(`stroke ${call}`);
        last = call;
        return null;
      },
      ping: () => (silent ? never() : null),
      settle: () => null,
    } satisfies Partial<Handlers<PaintMethods>> as unknown as Handlers<PaintMethods>;
  });
  const write = (): void => {
    disk.strokes = [...strokes];
    disk.call = last;
    tell('keep', { kept: true, at: 0, call: last });
  };
  return { worker, write };
}

function linkTo(make: (nth: number) => Painter) {
  const painters: Painter[] = [];
  const heard: string[] = [];
  const link = new PaintLink({
    makeWorker: () => {
      const one = make(painters.length + 1);
      painters.push(one);
      return one.worker as unknown as Worker;
    },
    open: () => ({ project: 'p', model: null as never, follows: false }),
    onEvent: {},
    onRestart: () => heard.push('restarted'),
    onGiveUp: (error) => heard.push(error.message),
  });
  return { link, painters, heard };
}

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

describe('the way to the paint worker', () => {
  it('gives a successor what the lost worker had not written, in order, and nothing twice', async () => {
    const disk: Disk = { call: 0, strokes: [] };
    const { link, painters, heard } = linkTo((nth) => painter(disk, nth === 1 ? { stuckAt: 4 } : {}));
    await link.open();
    const answers = [1, 2, 3, 4].map(() => link.change('strokeEnd', {}));
    await answers[1];
    painters[0]!.write();
    await answers[2];
    // Three may be in the file already, four never came to an end, and the fifth finds no worker.
    expect(link.unwritten().length).toBeGreaterThanOrEqual(1);
    painters[0]!.worker.die();
    answers.push(link.change('strokeEnd', {}));
    await vi.advanceTimersByTimeAsync(300);
    await Promise.all(answers);
    expect(heard).toEqual(['restarted']);
    painters[1]!.write();
    await vi.advanceTimersByTimeAsync(0);
    expect(disk.strokes).toEqual([1, 2, 3, 4, 5].map((n) => `stroke ${n}`));
    expect(link.unwritten()).toEqual([]);
    await link.close();
  });

  it('takes a worker that no longer answers for lost', async () => {
    const disk: Disk = { call: 0, strokes: [] };
    const { link, painters, heard } = linkTo((nth) =>
      painter(disk, nth === 1 ? { silent: true, stuckAt: 1 } : {}),
    );
    await link.open();
    const stroke = link.change('strokeEnd', {});
    await vi.advanceTimersByTimeAsync(15_000);
    expect(painters).toHaveLength(1);
    await vi.advanceTimersByTimeAsync(10_000);
    await stroke;
    expect([painters.length, painters[0]!.worker.ended, heard]).toEqual([2, true, ['restarted']]);
    await link.close();
  });

  it('leaves a slow worker that answers alone', async () => {
    const disk: Disk = { call: 0, strokes: [] };
    const { link, painters } = linkTo(() => painter(disk, { stuckAt: 1 }));
    await link.open();
    void link.change('strokeEnd', {}).catch(() => undefined);
    await vi.advanceTimersByTimeAsync(120_000);
    expect(painters).toHaveLength(1);
    await link.close();
  });

  it('waits longer before each start, and gives up instead of trying for ever; what waits is told', async () => {
    const disk: Disk = { call: 0, strokes: [] };
    const { link, painters, heard } = linkTo((nth) => painter(disk, { diesAtOpen: nth > 1 }));
    await link.open();
    painters[0]!.worker.die();
    const stroke = link.change('strokeEnd', {});
    const told = expect(stroke).rejects.toThrow(/stopped several times in a row/);
    const starts: number[] = [];
    for (let ms = 0; ms < 60_000; ms += 100) {
      await vi.advanceTimersByTimeAsync(100);
      if (painters.length > starts.length + 1) starts.push(ms + 100);
    }
    await told;
    expect(starts).toEqual([200, 2200, 8200]);
    expect(heard).toEqual([expect.stringMatching(/Save the project file now/)]);
    expect(link.unwritten()).toHaveLength(1);
  });
});
