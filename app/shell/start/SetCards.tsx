import { useLiveQuery } from 'dexie-react-hooks';
import { Link, useNavigate } from 'react-router';
import { allSets, newSet } from '../../set';
import { Chip } from '../../shared/Chip';

/** The sets of this browser, on the start page. */
export function SetCards() {
  const sets = useLiveQuery(() => allSets().catch(() => null));
  const navigate = useNavigate();
  const begin = async (): Promise<void> => {
    const id = await newSet('New set', []);
    if (id) await navigate(`/set/${id}`);
  };
  return (
    <>
      <div className="projects-head">
        <h2>Sets</h2>
        <Chip
          title="Projects that share palette, light, ramps, recipes and references"
          onClick={() => void begin()}
        >
          New set
        </Chip>
      </div>
      {sets === null ? (
        <p className="empty" role="status">
          The sets can’t be read just now. Reload the page.
        </p>
      ) : sets?.length === 0 ? (
        <p className="empty">Projects that belong together can stand in a set and share what they have.</p>
      ) : (
        <ul className="set-cards">
          {sets?.map(({ id, name, projects }) => (
            <li key={id}>
              <Link className="set-card" to={`/set/${id}`}>
                <b>{name}</b>
                <small>
                  {projects.length} {projects.length === 1 ? 'project' : 'projects'}
                </small>
              </Link>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
