import { describe, expect, it } from 'vitest';
import { ball, together } from '../../../tests/shapes';
import { doneAside, doComponentJob, unwrapping, unwrapModel, type ComponentJob } from '..';

describe('work on shells', () => {
  const many = {
    ...together(ball(40, 20), ball(40, 20, 0.7, [3, 0, 0]), ball(24, 12, 0.5, [-2, 1, 0])),
    uvs: null,
  };
  const how = { size: 256, margin: 4, seams: 'auto' } as const;

  it('comes to the same when others do it, whoever is done first, and tells how far it is', async () => {
    const told: number[] = [];
    const sizes: number[] = [];
    let waits = 3;
    const aside = await doneAside(
      unwrapping(many, { ...how, onProgress: (done) => told.push(done) }),
      async (job, onProgress) => {
        // As if it went to another thread and came back, the first last.
        const sent: ComponentJob = structuredClone(job);
        sizes.push(job.task.component.faces.length);
        const wait = waits--;
        for (let k = 0; k < wait; k++) await Promise.resolve();
        return structuredClone(doComponentJob(sent, onProgress));
      },
    );
    const alone = unwrapModel(many, how);
    expect(aside.uvs).toEqual(alone.uvs);
    expect(aside.indices).toEqual(alone.indices);
    // The largest are asked for first, in planning as in laying out.
    expect(sizes.slice(0, 3)).toEqual([1520, 1520, 528]);
    expect(told.every((x, i) => i === 0 || x >= told[i - 1]!)).toBe(true);
    expect(told.at(-1)).toBe(1);
  });

  it('fails as a whole where one helper fails', async () => {
    await expect(doneAside(unwrapping(many, how), () => Promise.reject(new Error('ended')))).rejects.toThrow(
      'ended',
    );
  });
});
