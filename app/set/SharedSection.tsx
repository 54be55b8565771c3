import { useEffect, useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { sentenceOf } from '../../core/errors';
import { isShared, NOTHING_SHARED, SHARED_KINDS, type AssetSet, type SharedKind } from '../../core/set';
import type { LightPlan } from '../../core/light';
import { Chip } from '../shared/Chip';
import { Fold } from '../shared/Fold';
import { notify } from '../shared/notify';
import { setPool } from '../shared/platform';
import { changeSet } from './sets';
import { FollowDialog } from './FollowDialog';
import { SharedBearing } from './SharedBearing';
import { SharedColors } from './SharedColors';
import type { Member } from './use-seen';
import { differenceWords, KIND_WORDS, sharedWords } from './words';

/** What is known of where projects differ from their set. */
interface Compared {
  /** In which of its kinds each project differs. */
  readonly differs: ReadonlyMap<SharedKind, string[]>;
  /** Projects that couldn't be compared. */
  readonly failed: readonly string[];
}

/** In which of its kinds each project differs from the set; null while they are compared. */
function useDifferences(set: AssetSet, members: readonly Member[]): Compared | null {
  const [found, setFound] = useState<Compared | null>(null);
  const state = members.map((m) => `${m.id} ${m.seen ? m.seen.glb.length : 0}`).join();
  useEffect(() => {
    let isOver = false;
    setFound(null);
    void (async () => {
      const differs = new Map<SharedKind, string[]>();
      const failed: string[] = [];
      for (const { id, name } of members) {
        try {
          for (const kind of await setPool.run('differsIn', { project: id, set }))
            differs.set(kind, [...(differs.get(kind) ?? []), name]);
        } catch {
          failed.push(name);
        }
      }
      if (!isOver) setFound({ differs, failed });
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
  const compared = useDifferences(set, members);
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
          compared={compared}
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
  compared,
  onLay,
}: {
  readonly set: AssetSet;
  readonly kind: SharedKind;
  readonly members: readonly Member[];
  readonly compared: Compared | null;
  onLay(): void;
}) {
  const { title } = KIND_WORDS[kind];
  const has = isShared(set.shared, kind);
  const differs = compared?.differs.get(kind) ?? [];
  const failed = compared?.failed ?? [];
  // What isn't known to be the same can be applied.
  const isSame = compared !== null && differs.length + failed.length === 0;
  return (
    <div className="shared-row">
      <div>
        <b>{title}</b>
        <small>{has ? sharedWords(set.shared, kind) : 'none yet'}</small>
      </div>
      {kind === 'palette' && has && (
        <SharedColors colors={set.shared.palette} onChange={(i, color) => void recolor(set, i, color)} />
      )}
      {kind === 'light' && set.shared.light && <SharedLight set={set} plan={set.shared.light.plan} />}
      {has && (
        <small className={isSame ? '' : 'differs'} role="status" aria-busy={compared === null}>
          {differenceWords(compared && { differs, failed })}
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
          <Chip disabled={isSame} onClick={onLay} aria-label={`Apply the ${title.toLowerCase()} to all`}>
            Apply to all…
          </Chip>
        )}
      </span>
    </div>
  );
}

/** Parts of a light plan that have a colour. */
const LIT = [
  ['key', 'Key'],
  ['sky', 'Sky'],
  ['horizon', 'Horizon'],
  ['ground', 'Ground'],
  ['rim', 'Rim'],
] as const;

const recolor = (set: AssetSet, swatch: number, color: string): Promise<boolean> =>
  changeSet(set.id, (now) => {
    const known = now.shared.palette[swatch];
    if (!known || known.name !== set.shared.palette[swatch]?.name) return now;
    const palette = now.shared.palette.with(swatch, { ...known, color });
    return { ...now, shared: { ...now.shared, palette } };
  });

/** The colours of a shared light plan and from where its key comes, to be changed here. */
function SharedLight({ set, plan }: { readonly set: AssetSet; readonly plan: LightPlan }) {
  const change = (of: (plan: LightPlan) => LightPlan): void =>
    void changeSet(set.id, (now) => {
      const { light } = now.shared;
      return light ? { ...now, shared: { ...now.shared, light: { ...light, plan: of(light.plan) } } } : now;
    });
  return (
    <>
      <SharedColors
        colors={LIT.map(([part, name]) => ({ name, color: plan[part].color }))}
        onChange={(i, color) => {
          const part = LIT[i]![0];
          change((now) => ({ ...now, [part]: { ...now[part], color } }));
        }}
      />
      <Fold title="Key light">
        <SharedBearing
          direction={plan.key.direction}
          onChange={([x, y, z]) => change((now) => ({ ...now, key: { ...now.key, direction: [x, y, z] } }))}
        />
      </Fold>
    </>
  );
}

/** The set has what a project has. */
async function putIn(set: AssetSet, kind: SharedKind, project: string, name: string): Promise<void> {
  try {
    const { shared, pictures } = await setPool.run('shareOf', { project, kind });
    if (kind === 'ramps' && !shared.ramps) return notify(`“${name}” has no ramp sheet.`);
    const change = (now: AssetSet): AssetSet => {
      // A recipe joins those that are there; one of its name goes.
      const recipes = shared.recipes && [
        ...now.shared.recipes.filter((r) => r.name !== shared.recipes![0]?.name),
        ...shared.recipes,
      ];
      return { ...now, shared: { ...now.shared, ...shared, ...(recipes && { recipes }) } };
    };
    await changeSet(set.id, change, pictures);
  } catch (error) {
    notify(sentenceOf(error));
  }
}

const empty = (set: AssetSet, kind: SharedKind): Promise<boolean> =>
  changeSet(set.id, (now) => ({ ...now, shared: { ...now.shared, [kind]: NOTHING_SHARED[kind] } }));
