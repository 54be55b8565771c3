import '../../shared/shelf.css';
import { useEffect, useMemo, useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import type { Look } from '../../../core/document';
import { type Session, useMatchView, useProject } from '../../project';
import { Chip } from '../../shared/Chip';
import { useTip } from '../../shared/commands';
import { FixedMenu } from '../../shared/FixedMenu';
import { keepLook, removeLook, renameLook } from './looks';
import { TextField } from '../../shared/TextField';

const NONE: readonly Look[] = [];

/** Looks that were kept, each with its picture and its distance, the latest last. */
export function LooksTray({ session }: { readonly session: Session }) {
  const looks = useProject((s) => s.document?.looks) ?? NONE;
  const report = useMatchView((s) => s.report);
  const tip = useTip();
  return (
    <footer className="shelf looks" aria-label="Looks">
      <div className="shelf-side">
        <h2>
          Looks <span>{looks.length}</span>
        </h2>
        <div className="row">
          <Chip
            disabled={!report}
            title={tip('Keeps the present state with its picture and its distance', 'match-keep')}
            onClick={() => void keepLook(session)}
          >
            Keep this look
          </Chip>
        </div>
      </div>
      <ul className="shelf-list">
        {looks.map((look) => (
          <LookCard key={look.id} session={session} look={look} />
        ))}
        {looks.length === 0 && (
          <li className="looks-empty">
            Keep a look now and then: its distance to the reference stands below it.
          </li>
        )}
      </ul>
    </footer>
  );
}

function LookCard({ session, look }: { readonly session: Session; readonly look: Look }) {
  const url = useLookUrl(session, look.id);
  return (
    <li className="shelf-card">
      <Dropdown>
        <Dropdown.Toggle as="button" type="button" className="look-card" title={lookWords(look)}>
          {url ? <img src={url} alt="" draggable={false} /> : <i className="shelf-waits" aria-hidden />}
          <span>
            <i>{look.name}</i>
            {look.match && <> · {look.match.mean.toFixed(1)}</>}
          </span>
        </Dropdown.Toggle>
        <FixedMenu>
          <div className="pop">
            <TextField
              className="swatch-name"
              value={look.name}
              aria-label="Name of the look"
              maxLength={60}
              onText={(name) => renameLook(session, look.id, name)}
            />
            <p className="hint-line">{lookWords(look)}</p>
            {url && <img className="look-large" src={url} alt={look.name} />}
            <Chip onClick={() => void removeLook(session, look.id)}>Remove</Chip>
          </div>
        </FixedMenu>
      </Dropdown>
    </li>
  );
}

export function lookWords({ name, time, match }: Look): string {
  const when = new Date(time).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' });
  if (!match) return `${name}, ${when}`;
  return `${name}, ${when}: ΔE ${match.mean.toFixed(1)}, worst twentieth ${match.p95.toFixed(1)}, silhouette ${(match.iou * 100).toFixed(0)} %`;
}

/** Address of a look's picture; null until it is loaded. */
export function useLookUrl(session: Session, id: number): string | null {
  const [bytes, setBytes] = useState<Uint8Array | null>(null);
  useEffect(() => {
    let isHere = true;
    void session.file(id).then((file) => isHere && setBytes(file));
    return () => {
      isHere = false;
    };
  }, [session, id]);
  const url = useMemo(
    () => bytes && URL.createObjectURL(new Blob([bytes as Uint8Array<ArrayBuffer>], { type: 'image/png' })),
    [bytes],
  );
  useEffect(() => () => void (url && URL.revokeObjectURL(url)), [url]);
  return url;
}
