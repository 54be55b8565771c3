import { useLiveQuery } from 'dexie-react-hooks';
import { Dropdown } from 'react-bootstrap';
import { Link } from 'react-router';
import type { AssetSet } from '../../core/set';
import { store } from '../shared/platform';
import { Png } from './Png';
import { ScaleField } from './ScaleField';
import { changeSet } from './sets';
import type { Member } from './use-seen';

/** The projects of a set: opened, moved, taken out; others put in. */
export function MemberList({
  set,
  members,
  chosen,
  onChoose,
}: {
  readonly set: AssetSet;
  readonly members: readonly Member[];
  readonly chosen: string | null;
  onChoose(id: string): void;
}) {
  const others = useLiveQuery(async () => {
    const rows = await store.projects.orderBy('updatedAt').reverse().toArray();
    return rows.filter((row) => row.deletedAt === null && !set.projects.includes(row.id));
  }, [set.projects.join()]);
  const change = (projects: readonly string[]): void =>
    void changeSet(set.id, (now) => ({ ...now, projects: [...projects] }));
  const move = (i: number, by: number): void => {
    change(set.projects.toSpliced(i, 1).toSpliced(i + by, 0, set.projects[i]!));
  };
  return (
    <section>
      <h2>
        Projects
        <Dropdown align="end">
          <Dropdown.Toggle as="button" type="button" className="chip" disabled={others?.length === 0}>
            Add…
          </Dropdown.Toggle>
          <Dropdown.Menu className="history-menu">
            {others?.map(({ id, name }) => (
              <Dropdown.Item as="button" key={id} onClick={() => change([...set.projects, id])}>
                {name}
              </Dropdown.Item>
            ))}
          </Dropdown.Menu>
        </Dropdown>
      </h2>
      <ul className="member-list">
        {members.map(({ id, name, scale, seen, problem }, i) => (
          <li key={id} className={id === chosen ? 'on' : ''}>
            <button
              type="button"
              className="member-face"
              aria-pressed={id === chosen}
              onClick={() => onChoose(id)}
            >
              {seen ? <Png bytes={seen.picture} alt="" /> : <span className="no-picture" />}
              <span>
                <b>{name}</b>
                <small>{problem || (seen ? `${seen.facts.triangles} triangles` : 'looking…')}</small>
              </span>
            </button>
            <ScaleField set={set} id={id} name={name} scale={scale} />
            <Link className="chip" to={`/project/${id}/paint`} aria-label={`Open ${name}`}>
              Open
            </Link>
            <Dropdown align="end">
              <Dropdown.Toggle as="button" type="button" className="chip" aria-label={`More for ${name}`}>
                …
              </Dropdown.Toggle>
              <Dropdown.Menu>
                <Dropdown.Item as="button" disabled={i === 0} onClick={() => move(i, -1)}>
                  Move left
                </Dropdown.Item>
                <Dropdown.Item as="button" disabled={i === members.length - 1} onClick={() => move(i, 1)}>
                  Move right
                </Dropdown.Item>
                <Dropdown.Item as="button" onClick={() => change(set.projects.filter((p) => p !== id))}>
                  Remove from the set
                </Dropdown.Item>
              </Dropdown.Menu>
            </Dropdown>
          </li>
        ))}
      </ul>
    </section>
  );
}
