import { useEffect, useRef } from 'react';
import { Chip } from '../../shared/Chip';
import { wholeIslands } from '../../shared/layout-store';
import { useLossReview } from '../../shared/loss-review';
import { shareWords } from '../../shared/lost-words';
import { subjectNow, useProject } from '../../project';
import { useViewport } from '../../viewport';

/** So many islands are listed. */
const LISTED = 60;

/** Says which islands a change of the model takes paint from, before it is taken; each is flown to by a click. */
export function LossReviewCard() {
  const review = useLossReview((s) => s.review);
  const viewport = useViewport();
  const host = useRef<HTMLElement>(null);
  const mesh = useProject((s) => s.mesh);
  useEffect(() => host.current?.focus(), [review]);
  if (!review || !mesh) return null;
  const { label, loss, answer } = review;
  const fly = (face: number): void => {
    const subject = subjectNow();
    if (subject) viewport.view?.camera.frameFaces(wholeIslands(subject, [face]));
  };
  const seen = new Map<string, number>();
  return (
    <section
      ref={host}
      className="loss-review"
      role="dialog"
      aria-labelledby="loss-title"
      tabIndex={-1}
      onKeyDown={(e) => {
        if (e.key !== 'Escape') return;
        e.stopPropagation();
        answer(false);
      }}
    >
      <h2 id="loss-title">
        Paint at risk <span>{label}</span>
      </h2>
      <p>
        {shareWords(loss.lost)} of what is painted would be bare, or look quite otherwise. Nothing has been
        changed yet.
      </p>
      <ul>
        {loss.damaged.slice(0, LISTED).map(({ part, face, lost }) => {
          const number = (seen.get(part) ?? 0) + 1;
          seen.set(part, number);
          return (
            <li key={face}>
              <button type="button" title="Show this island" onClick={() => fly(face)}>
                <span>
                  {part}
                  {number > 1 && ` ${number}`}
                </span>
                <span>{Math.round(lost * 100)} %</span>
              </button>
            </li>
          );
        })}
      </ul>
      {loss.damaged.length > LISTED && <p>{loss.damaged.length - LISTED} more.</p>}
      <div className="row end">
        <Chip title="The model stays as it is" onClick={() => answer(false)}>
          Keep as is
        </Chip>
        <Chip primary title="Do it; it can be undone" onClick={() => answer(true)}>
          Go ahead
        </Chip>
      </div>
    </section>
  );
}
