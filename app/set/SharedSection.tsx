import { useEffect, useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { sentenceOf } from '../../core/errors';
import { isShared, NOTHING_SHARED, SHARED_KINDS, type AssetSet, type SharedKind } from '../../core/set';
import { Chip } from '../shared/Chip';
import { notify } from '../shared/notify';
import { setPool, store } from '../shared/platform';
import { changeSet } from './sets';
import { FollowDialog } from './FollowDialog';
import type { Member } from './use-seen';
import { KIND_WORDS, sharedWords } from './words';

/** In which of its kinds each project differs from the set. */
function useDifferences(set: AssetSet, members: readonly Member[]): ReadonlyMap<SharedKind, string[]> | null {
  const [found, setFound] = useState<ReadonlyMap<SharedKind, string[]> | null>(null);
  const state = members.map((m) => `${m.id} ${m.seen ? m.seen.glb.length : 0}`).join();
  useEffect(() => {
    let isOver = false;
    void (async () => {
      const out = new Map<SharedKind, string[]>();
      for (const { id, name } of members) {
        const kinds = await setPool.run('differsIn', { project: id, set }).catch(() => []);
        for (const kind of kinds) out.set(kind, [...(out.get(kind) ?? []), name]);
      }
      if (!isOver) setFound(out);
    })();
    return () => {
      isOver = true;
    };
  }, [set, state]); // eslint-disable-line react-hooks/exhaustive-deps
  return found;
}

/** What the projects of a set have in common: put in from one of them, laid on all of them. */
export function SharedSection({
  set,
  members,
}: {
  readonly set: AssetSet;
  readonly members: readonly Member[];
}) {
  const differs = useDifferences(set, members);
  const [following, setFollowing] = useState<SharedKind | null>(null);
  return (
    <section>
      <h2>Shared</h2>
      {SHARED_KINDS.map((kind) => (
        <SharedRow
          key={kind}
          set={set}
          kind={kind}
          members={members}
          differs={differs?.get(kind) ?? []}
          onLay={() => setFollowing(kind)}
        />
      ))}
      {following && (
        <FollowDialog set={set} kind={following} members={members} onClose={() => setFollowing(null)} />
      )}
    </section>
  );
}

function SharedRow({
  set,
  kind,
  members,
  differs,
  onLay,
}: {
  readonly set: AssetSet;
  readonly kind: SharedKind;
  readonly members: readonly Member[];
  readonly differs: readonly string[];
  onLay(): void;
}) {
  const { title } = KIND_WORDS[kind];
  const has = isShared(set.shared, kind);
  return (
    <div className="shared-row">
      <div>
        <b>{title}</b>
        <small>{has ? sharedWords(set.shared, kind) : 'none yet'}</small>
      </div>
      {kind === 'palette' && has && (
        <span className="shared-colors" aria-hidden>
          {set.shared.palette.map(({ name, color }) => (
            <i key={name} style={{ background: color }} title={name} />
          ))}
        </span>
      )}
      {has && (
        <small className={differs.length > 0 ? 'differs' : ''} role="status">
          {differs.length === 0 ? 'The same in all' : `Other in ${differs.join(', ')}`}
        </small>
      )}
      <span className="row">
        <Dropdown>
          <Dropdown.Toggle as="button" type="button" className="chip" aria-label={`${title} from a project`}>
            From…
          </Dropdown.Toggle>
          <Dropdown.Menu>
            {members.map(({ id, name }) => (
              <Dropdown.Item as="button" key={id} onClick={() => void putIn(set, kind, id, name)}>
                {kind === 'recipes' ? `The build-up of ${name}` : name}
              </Dropdown.Item>
            ))}
            {has && (
              <Dropdown.Item as="button" onClick={() => void empty(set, kind)}>
                None
              </Dropdown.Item>
            )}
          </Dropdown.Menu>
        </Dropdown>
        {has && (
          <Chip
            disabled={differs.length === 0}
            onClick={onLay}
            aria-label={`Apply the ${title.toLowerCase()} to all`}
          >
            Apply to all…
          </Chip>
        )}
      </span>
    </div>
  );
}

/** The set has what a project has. */
async function putIn(set: AssetSet, kind: SharedKind, project: string, name: string): Promise<void> {
  try {
    const { shared, pictures } = await setPool.run('shareOf', { project, kind });
    if (kind === 'ramps' && !shared.ramps) return notify(`“${name}” has no ramp sheet.`);
    await store.setPictures.bulkPut(pictures.map(([hash, bytes]) => ({ hash, bytes })));
    await changeSet(set.id, (now) => {
      // A recipe joins those that are there; one of its name goes.
      const recipes = shared.recipes && [
        ...now.shared.recipes.filter((r) => r.name !== shared.recipes![0]?.name),
        ...shared.recipes,
      ];
      return { ...now, shared: { ...now.shared, ...shared, ...(recipes && { recipes }) } };
    });
  } catch (error) {
    notify(sentenceOf(error));
  }
}

const empty = (set: AssetSet, kind: SharedKind): Promise<boolean> =>
  changeSet(set.id, (now) => ({ ...now, shared: { ...now.shared, [kind]: NOTHING_SHARED[kind] } }));
