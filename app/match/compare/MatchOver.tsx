import { useEffect } from 'react';
import { useMatchView, type Session } from '../../project';
import { Chip } from '../../shared/Chip';
import { useCommandBook } from '../../shared/commands';
import { useEveryPicture, useViewport, useView } from '../../viewport';
import { lookThrough, matchOf } from '../camera/camera-actions';
import { MatchChips } from './MatchChips';
import { MatchPane } from './MatchPane';
import { residualsOf } from '../camera/match-tool';
import { useMatch } from '../match-ui';
import { OnePage } from '../figures/OnePage';
import { keepTrial, takeBack } from '../figures/try-proposal';
import { useChosenMatch } from '../use-chosen-match';

/** All that lies over the picture at this stage. */
export function MatchOver({ session }: { readonly session: Session }) {
  const reference = useChosenMatch();
  const camera = matchOf(reference).camera;
  const view = useView();
  const page = useMatch((s) => s.page);
  const tool = useMatch((s) => s.tool);
  useEffect(() => {
    session.matcher.want('match', true);
    return () => session.matcher.want('match', false);
  }, [session]);
  // Entering the stage stands where the reference stands.
  useEffect(() => {
    const { tracing, tool: now } = useMatch.getState();
    // Not under the hand that sets pairs.
    if (view && camera && tracing === null && now !== 'pairs') lookThrough(view);
  }, [view, camera, tool]);
  useEffect(
    () => () => {
      useMatch.setState({
        tool: 'look',
        half: null,
        shownPlace: null,
        shownAdvice: null,
        tracing: null,
        trial: null,
      });
      view?.outline(-1);
    },
    [view],
  );
  return (
    <>
      <MatchPane session={session} />
      <MatchChips />
      <div className="over-picture match-bar">
        <Trial session={session} />
        <Says />
      </div>
      {page && <OnePage session={session} />}
    </>
  );
}

/** What was tried, to be kept or taken back. */
function Trial({ session }: { readonly session: Session }) {
  const trial = useMatch((s) => s.trial);
  const isTrying = useMatch((s) => s.isTrying);
  if (isTrying) return <div className="tool-bar">Trying it, and measuring what it comes to…</div>;
  if (!trial) return null;
  const { title, before, after, area } = trial;
  return (
    <div className="tool-bar" role="status" data-testid="trial">
      <div className="row">
        <span className="trial-words">
          <b>{title}</b>
          <small>
            {area && `${area.name} ΔE ${area.before.toFixed(1)} → ${area.after.toFixed(1)}, `}
            all {before.mean.toFixed(1)} → {after.mean.toFixed(1)}
          </small>
        </span>
        <Chip primary onClick={keepTrial}>
          Keep
        </Chip>
        <Chip onClick={() => void takeBack(session)}>Undo this</Chip>
      </div>
    </div>
  );
}

/** Where one stands, and what the tool in hand waits for, in a sentence. */
function Says() {
  const viewport = useViewport();
  const view = useView();
  useEveryPicture(view);
  const reference = useChosenMatch();
  const match = matchOf(reference);
  const { tool, half, span, tracing, shownAdvice, arranged } = useMatch();
  const { run } = useCommandBook();
  const report = useMatchView((s) => s.report);
  if (!reference) return null;
  if (tool === 'pairs') {
    const waits = !half
      ? `Press a place on the model and the same on the picture (${match.pairs.length} set).`
      : 'model' in half
        ? 'Now the same place on the picture.'
        : 'Now the same place on the model.';
    return <div className="tool-bar">{waits} Drag a number to move it, Delete removes it.</div>;
  }
  if (tool === 'spans') {
    const on = span.model
      ? 'picture'
      : span.picture
        ? 'model'
        : span.from
          ? 'model'
          : span.at
            ? 'picture'
            : 'model or picture';
    return <div className="tool-bar">Press the two ends of a length on the {on}.</div>;
  }
  if (tool === 'mask')
    return <div className="tool-bar">Paint on the picture: what is veiled doesn’t count as the model.</div>;
  if (tracing !== null)
    return (
      <div className="tool-bar">
        Turn, move and zoom the model until it lies on the picture, then keep this view.
      </div>
    );
  if (shownAdvice) {
    return (
      <div className="tool-bar">
        <div className="row">
          <span className="trial-words">
            <b>{shownAdvice.title}</b>
            <small>{shownAdvice.detail}</small>
          </span>
          <Chip onClick={() => run('stage-paint')}>Paint there</Chip>
          <Chip
            onClick={() =>
              run(
                shownAdvice.kind === 'light' || shownAdvice.kind === 'tone' ? 'stage-form' : 'stage-block-in',
              )
            }
          >
            {shownAdvice.kind === 'light' || shownAdvice.kind === 'tone' ? 'Form' : 'Block in'}
          </Chip>
          <Chip aria-label="Close" onClick={() => useMatch.setState({ shownAdvice: null, shownPlace: null })}>
            ×
          </Chip>
        </div>
      </div>
    );
  }
  if (!match.camera || arranged !== 'beside') return null;
  if (!view?.camera.isThrough) {
    return (
      <div className="tool-bar">
        <div className="row">
          <span className="trial-words">Elsewhere than the reference’s camera.</span>
          <Chip onClick={() => lookThrough(viewport.view)}>Go to it</Chip>
        </div>
      </div>
    );
  }
  const residuals = residualsOf(match);
  const worst = report?.silhouette.places[0];
  return (
    <div className="tool-bar">
      Through the reference’s camera
      {residuals.length > 0 &&
        `: ${residuals.length} pairs, at most ${Math.max(...residuals).toFixed(1)} pixels off`}
      .{worst && worst.percent >= 2 && ` ${worst.part} is ${worst.percent.toFixed(0)} % too ${worst.is}.`}
    </div>
  );
}
