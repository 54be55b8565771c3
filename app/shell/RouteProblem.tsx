import { Chip } from '../shared/Chip';
import { Link, useRouteError } from 'react-router';
import { sentenceOf } from '../../core/errors';

/** Stands in for a page that could not be drawn. */
export function RouteProblem() {
  const error = useRouteError();
  return (
    <main className="failed">
      <h1>This page can’t be shown</h1>
      <p role="alert">{sentenceOf(error)} Finished strokes are kept; nothing of them is lost by this.</p>
      <div className="row">
        <Chip primary onClick={() => window.location.reload()}>
          Reload
        </Chip>
        <Link className="chip" to="/" reloadDocument>
          To the start page
        </Link>
      </div>
    </main>
  );
}
