import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useState } from 'react';
import { CoreError, sentenceOf } from '../../core/errors';
import { atScale, scaleIn, type AssetSet } from '../../core/set';
import type { SeenProject } from '../../workers';
import { store } from '../shared/platform';
import { withTask } from '../shared/tasks';
import { seenOf } from './seen';

/** A project of a set: what is known of it, and what it looks like when that has been made. */
export interface Member {
  readonly id: string;
  readonly name: string;
  /** How many units of the set one of its own is. */
  readonly scale: number;
  /** Its figures are in the set's units. */
  readonly seen: SeenProject | null;
  /** Why it can't be seen; empty: it can. */
  readonly problem: string;
}

type Seen = Pick<Member, 'seen' | 'problem'>;
const NOT_YET: Seen = { seen: null, problem: '' };

const inUnitsOf = ({ seen, problem }: Seen, scale: number): Seen => ({
  seen: seen && { ...seen, facts: atScale(seen.facts, scale) },
  problem,
});

/** The projects of a set as they would leave, seen one after the other; again when one of them has changed. */
export function useMembers(set: AssetSet): readonly Member[] {
  const [seen, setSeen] = useState<ReadonlyMap<string, Seen>>(new Map());
  const rows = useLiveQuery(
    async () =>
      (await store.projects.bulkGet([...set.projects])).map((row) => row?.deletedAt === null && row),
    [set.projects.join()],
  );
  const state = rows?.map((row) => (row ? `${row.id} ${row.updatedAt}` : '')).join() ?? null;
  const colors = set.shared.palette.map((s) => s.color).join();
  useEffect(() => {
    if (state === null || set.projects.length === 0) return;
    const ended = new AbortController();
    const look = withTask('Looking at the projects', async (stopped, progress) => {
      const signal = AbortSignal.any([stopped, ended.signal]);
      for (const [i, id] of set.projects.entries()) {
        const onProgress = (done: number): void => progress((i + done) / set.projects.length);
        const found = await seenOf(set, id, { signal, onProgress }).then(
          (seen): Seen => ({ seen, problem: '' }),
          (error: unknown): Seen => {
            if (signal.aborted) throw error;
            return { seen: null, problem: sentenceOf(error) };
          },
        );
        setSeen((before) => new Map(before).set(id, found));
      }
    });
    look.catch((error: unknown) => {
      if (!(error instanceof CoreError && error.code === 'cancelled')) throw error;
    });
    return () => ended.abort();
  }, [set.id, state, colors]); // eslint-disable-line react-hooks/exhaustive-deps
  return set.projects.map((id, i) => {
    const row = rows?.[i];
    const scale = scaleIn(set, id);
    const gone = rows !== undefined && !row;
    return {
      id,
      scale,
      name: row ? row.name : gone ? 'Not here any more' : '…',
      ...(gone
        ? { seen: null, problem: 'It was deleted, or is in another browser.' }
        : inUnitsOf(seen.get(id) ?? NOT_YET, scale)),
    };
  });
}
