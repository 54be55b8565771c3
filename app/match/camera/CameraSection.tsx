import type { Reference } from '../../../core/document';
import { DRAWN_HOW, SHIFT_PAIRS, type DrawnHow } from '../../../core/match';
import type { Session } from '../../project';
import { Chip } from '../../shared/Chip';
import { useTip } from '../../shared/commands';
import { ShareSlider } from '../../shared/Slider';
import { useViewport } from '../../viewport';
import {
  findCamera,
  fitFromPairs,
  lookThrough,
  matchOf,
  mirrorReference,
  patchMatch,
  pictureOf,
  refineCamera,
  setHow,
  takeView,
} from './camera-actions';
import { residualsOf } from './match-tool';
import { toggleTool, useMatch } from '../match-ui';
import { removePair } from './pair-actions';

const HOW_WORDS: Record<DrawnHow, readonly [string, string]> = {
  perspective: ['Perspective', 'As a camera sees it'],
  orthographic: ['No perspective', 'As on a turnaround sheet'],
  drawn: ['Drawn freely', 'The best view without perspective; what the drawing bends is shown as arrows'],
};

/** Where the reference was drawn from: found by itself, by pairs of places, or by moving the model over it. */
export function CameraSection({
  session,
  reference,
}: {
  readonly session: Session;
  readonly reference: Reference;
}) {
  const viewport = useViewport();
  const tip = useTip();
  const match = matchOf(reference);
  const tool = useMatch((s) => s.tool);
  const tracing = useMatch((s) => s.tracing);
  const { lens, shifted } = pictureOf(match.camera);
  const tellsMore = match.pairs.length >= SHIFT_PAIRS;
  const residuals = residualsOf(match);
  const worst = residuals.indexOf(Math.max(...residuals));
  return (
    <div className="match-section">
      {!match.camera && (
        <p className="hint-line">
          Where was the reference drawn from? On a plain ground that is found by itself from the silhouettes;
          else set four pairs of places or more, or move the model until it lies on the picture.
        </p>
      )}
      <div className="row">
        {match.camera ? (
          <>
            <Chip
              title={tip('Through the reference’s camera, and back', 'match-through')}
              onClick={() => lookThrough(viewport.view)}
            >
              Look through it
            </Chip>
            <Chip
              title="Moves it until the silhouettes lie on one another"
              onClick={() => void refineCamera(session, viewport)}
            >
              Refine
            </Chip>
          </>
        ) : null}
        <Chip
          primary={!match.camera}
          title={tip('Looks for it from all around, by the silhouettes', 'match-find')}
          onClick={() => void findCamera(session, viewport)}
        >
          {match.camera ? 'Find anew' : 'Find it'}
        </Chip>
      </div>
      <div className="row">
        <Chip
          on={tool === 'pairs'}
          title={tip('Press the same places on model and picture', 'match-pairs')}
          onClick={() => toggleTool('pairs')}
        >
          Set pairs
        </Chip>
        <Chip
          on={tracing !== null}
          title="Lays the reference over the model, which is then turned and moved until it fits"
          onClick={() =>
            useMatch.setState({
              tracing: tracing === null ? 0.5 : null,
              arranged: 'beside',
              how: { as: 'colors' },
            })
          }
        >
          Move the model over it
        </Chip>
        <Chip
          on={match.mirror}
          title="The picture is seen in a mirror"
          onClick={() => void mirrorReference(session)}
        >
          Mirror
        </Chip>
      </div>
      {tracing !== null && (
        <>
          <ShareSlider
            label="Reference"
            value={tracing}
            onChange={(v) => useMatch.setState({ tracing: v })}
          />
          <div className="row">
            <Chip primary onClick={() => void takeView(session, viewport)}>
              Keep this view
            </Chip>
          </div>
        </>
      )}
      <div className="row" role="group" aria-label="How the reference was made">
        {DRAWN_HOW.map((how) => (
          <Chip
            key={how}
            on={match.how === how}
            title={HOW_WORDS[how][1]}
            onClick={() => void setHow(session, viewport, how)}
          >
            {HOW_WORDS[how][0]}
          </Chip>
        ))}
      </div>
      {match.pairs.length > 0 && (
        <>
          <ol className="pairs">
            {match.pairs.map((_, i) => (
              <li key={i} className={i === worst && residuals[i]! > 2 ? 'worst' : ''}>
                <button
                  type="button"
                  className="link-button"
                  onClick={() => useMatch.setState({ pair: i, tool: 'pairs' })}
                >
                  Pair {i + 1}
                </button>
                <span>
                  {residuals[i] === undefined
                    ? ''
                    : `${residuals[i].toFixed(1)} px off${i === worst ? ', the worst' : ''}`}
                </span>
                <Chip aria-label={`Remove pair ${i + 1}`} onClick={() => removePair(session, i)}>
                  ×
                </Chip>
              </li>
            ))}
          </ol>
          <div className="row">
            <Chip disabled={match.pairs.length < 4} onClick={() => void fitFromPairs(session)}>
              Fit again
            </Chip>
            {match.how === 'perspective' && (
              <>
                <Chip
                  on={shifted || lens}
                  disabled={lens || !tellsMore}
                  title="The picture was cut out of a larger one, so that its middle isn’t where the eye looked; needs six pairs or more"
                  onClick={() => void fitFromPairs(session, { lens, shifted: !shifted })}
                >
                  Cut out
                </Chip>
                <Chip
                  on={lens}
                  disabled={!tellsMore}
                  title="It was taken through a lens that bends straight lines; needs six pairs or more. All comparisons are bent with it, the live view stays straight"
                  onClick={() => void fitFromPairs(session, { lens: !lens, shifted })}
                >
                  Lens
                </Chip>
              </>
            )}
            <Chip onClick={() => void patchMatch(session, () => ({ pairs: [] }))}>Remove all</Chip>
          </div>
          {match.pairs.length < 4 && (
            <p className="hint-line">
              {4 - match.pairs.length} more, spread over the model and in its depth.
            </p>
          )}
        </>
      )}
    </div>
  );
}
