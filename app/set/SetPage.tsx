import './set.css';
import { useEffect, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { AssetSet } from '../../core/set';
import { Chip } from '../shared/Chip';
import { RenameField } from '../shared/RenameField';
import { useTasks } from '../shared/tasks';
import { AtlasDialog } from './AtlasDialog';
import { ConsistencySection } from './ConsistencySection';
import { MemberList } from './MemberList';
import { deliverSet, removeSet, saveGuide, saveSetFile } from './set-actions';
import { changeSet, useSet } from './sets';
import { SharedSection } from './SharedSection';
import { useMembers } from './use-seen';
import { Wall } from './Wall';

/** A set of projects: all of them on a wall, what they share, and whether they go together. */
export function SetPage() {
  const { id = '' } = useParams();
  const set = useSet(id);
  if (set === undefined) return <main aria-busy />;
  if (typeof set === 'string')
    return (
      <main className="failed">
        <h1>The set can’t be opened</h1>
        <p role="alert">{set}</p>
        <Link className="chip" to="/">
          To the start page
        </Link>
      </main>
    );
  return <OpenSet key={id} set={set} />;
}

function OpenSet({ set }: { readonly set: AssetSet }) {
  const members = useMembers(set);
  const [chosen, setChosen] = useState<string | null>(null);
  const [renaming, setRenaming] = useState(false);
  const [packing, setPacking] = useState(false);
  const navigate = useNavigate();
  const isBusy = useTasks((s) => s.tasks.length > 0);
  useEffect(() => {
    document.title = `${set.name} · Zanahoria`;
  }, [set.name]);
  return (
    <div className="set-page" data-busy={isBusy}>
      <header className="head set-head">
        <Link to="/" className="brand" title="To the start page">
          <i aria-hidden />
          <span>Zanahoria</span>
        </Link>
        <div className="project-name">
          {renaming ? (
            <RenameField
              name={set.name}
              label="Name of the set"
              most={80}
              onDone={(name) => {
                setRenaming(false);
                if (name) void changeSet(set.id, (now) => ({ ...now, name }));
              }}
            />
          ) : (
            <h1>
              <button
                type="button"
                className="set-name"
                title="Rename the set"
                onClick={() => setRenaming(true)}
              >
                {set.name}
              </button>
            </h1>
          )}
          <small>a set of {set.projects.length}</small>
        </div>
        <div className="head-actions">
          <Chip
            title="Its swatches, ramps, light and pictures as one HTML page"
            onClick={() => void saveGuide(set, members)}
          >
            Style guide
          </Chip>
          <Chip title="Every model of it as one zip" onClick={() => void deliverSet(set, members)}>
            Deliver all
          </Chip>
          <Chip
            title="All models of it on one sheet"
            disabled={members.length === 0}
            onClick={() => setPacking(true)}
          >
            Atlas…
          </Chip>
          <Chip title="The set with its projects as one file" onClick={() => void saveSetFile(set)}>
            Save the set
          </Chip>
          <Chip
            title="Deletes the set; its projects stay"
            onClick={() => void removeSet(set).then(() => navigate('/'))}
          >
            Delete
          </Chip>
        </div>
      </header>
      {packing && <AtlasDialog set={set} members={members} onClose={() => setPacking(false)} />}
      <Wall members={members} chosen={chosen} onChoose={setChosen} />
      <aside className="side" aria-label="The set">
        <MemberList set={set} members={members} chosen={chosen} onChoose={setChosen} />
        <ConsistencySection members={members} />
        <SharedSection set={set} members={members} />
      </aside>
    </div>
  );
}
