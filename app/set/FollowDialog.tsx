import { useEffect, useState } from 'react';
import { Form } from 'react-bootstrap';
import { CoreError, sentenceOf } from '../../core/errors';
import type { AssetSet, SharedKind } from '../../core/set';
import type { WouldFollow } from '../../workers';
import { whileClosed } from '../project';
import { FormDialog } from '../shared/FormDialog';
import { notify } from '../shared/notify';
import { setPool } from '../shared/platform';
import { withTask } from '../shared/tasks';
import { Png } from './Png';
import type { Member } from './use-seen';
import { KIND_WORDS } from './words';

type Found = WouldFollow | { readonly problem: string };

/** Shows what would change in each project that follows the set, and does it where it is wanted. */
export function FollowDialog({
  set,
  kind,
  members,
  onClose,
}: {
  readonly set: AssetSet;
  readonly kind: SharedKind;
  readonly members: readonly Member[];
  onClose(): void;
}) {
  const [found, setFound] = useState<ReadonlyMap<string, Found>>(new Map());
  const [off, setOff] = useState<ReadonlySet<string>>(new Set());
  const [isBusy, setBusy] = useState(false);
  useEffect(() => {
    const { signal, abort } = abortable();
    void (async () => {
      for (const { id } of members) {
        const one = await setPool
          .run('wouldFollow', { project: id, set, kinds: [kind] }, { signal })
          .catch((error: unknown): Found => ({ problem: sentenceOf(error) }));
        if (signal.aborted) return;
        setFound((before) => new Map(before).set(id, one));
      }
    })();
    return abort;
  }, [set, kind]); // eslint-disable-line react-hooks/exhaustive-deps

  const wanted = members.filter(({ id }) => !off.has(id) && changes(found.get(id)));
  const isLooking = found.size < members.length;
  const submit = async (): Promise<void> => {
    setBusy(true);
    const done = await followAll(set, kind, wanted);
    setBusy(false);
    if (done > 0)
      notify(`${done} ${done === 1 ? 'project follows' : 'projects follow'} the set now. Undo it in each.`);
    onClose();
  };
  return (
    <FormDialog
      title={`${KIND_WORDS[kind].title} of “${set.name}”`}
      submit={
        isLooking ? 'Looking…' : `Change ${wanted.length} ${wanted.length === 1 ? 'project' : 'projects'}`
      }
      disabled={isLooking || wanted.length === 0 || isBusy}
      busy={isBusy}
      onSubmit={() => void submit()}
      onClose={onClose}
    >
      <p className="hint-line">{KIND_WORDS[kind].follows}</p>
      <ul className="follow-list">
        {members.map((member) => (
          <FollowRow
            key={member.id}
            member={member}
            found={found.get(member.id)}
            isOn={!off.has(member.id)}
            onToggle={() => setOff(toggled(off, member.id))}
          />
        ))}
      </ul>
    </FormDialog>
  );
}

const changes = (found: Found | undefined): boolean =>
  found !== undefined && 'says' in found && found.says.length > 0;

function toggled(set: ReadonlySet<string>, id: string): Set<string> {
  const next = new Set(set);
  if (!next.delete(id)) next.add(id);
  return next;
}

function abortable() {
  const controller = new AbortController();
  return { signal: controller.signal, abort: () => controller.abort() };
}

function FollowRow({
  member: { id, name },
  found,
  isOn,
  onToggle,
}: {
  readonly member: Member;
  readonly found: Found | undefined;
  readonly isOn: boolean;
  onToggle(): void;
}) {
  const does = changes(found);
  return (
    <li className={does ? '' : 'same'}>
      <Form.Check
        type="checkbox"
        id={`follow ${id}`}
        label={name}
        checked={isOn && does}
        disabled={!does}
        onChange={onToggle}
      />
      {found && 'before' in found && (
        <span className="follow-pictures">
          <Png bytes={found.before} alt={`${name} as it is`} />
          {does && (
            <>
              <i aria-hidden>→</i>
              <Png bytes={found.after} alt={`${name} as it becomes`} />
            </>
          )}
        </span>
      )}
      <small>{rowWords(found)}</small>
    </li>
  );
}

function rowWords(found: Found | undefined): string {
  if (!found) return 'Looking…';
  if ('problem' in found) return found.problem;
  if (found.says.length === 0) return 'It has all of it already.';
  const percent = found.changed * 100;
  const part =
    percent === 0
      ? 'no texel changes'
      : `${percent < 1 ? 'under 1' : Math.round(percent)} % of its texels change, by ΔE ${found.by.toFixed(1)} in the mean`;
  return `${capital(found.says.join('; '))}; ${part}.`;
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** @returns in how many it was done; what stood in the way of the others is told */
async function followAll(set: AssetSet, kind: SharedKind, members: readonly Member[]): Promise<number> {
  let done = 0;
  await withTask('Changing the projects', async (signal, progress) => {
    for (const [i, { id, name }] of members.entries()) {
      if (signal.aborted) return;
      try {
        // What is half written is written to its end: it isn't stopped in the middle.
        const isFree = await whileClosed(id, async () => {
          await setPool.run('follow', { project: id, set, kinds: [kind] });
        });
        if (isFree) done++;
        else notify(`“${name}” is open in a tab. Close it there, and apply it once more.`);
      } catch (error) {
        if (!(error instanceof CoreError && error.code === 'cancelled'))
          notify(`“${name}”: ${sentenceOf(error)}`);
      }
      progress((i + 1) / members.length);
    }
  });
  return done;
}
