import { useEffect, useState } from 'react';
import type { InkFigures, InkLayer } from '../../../core/layers';
import type { InkStyle } from '../../../core/ink';
import { useProject, type Session } from '../../project';
import { Chip } from '../../shared/Chip';
import { useInk } from '../../shared/ink-store';
import { useUi } from '../../shared/ui-store';
import { changeInk, INK_EDITS, nextInk } from './ink-actions';
import { InkStyleFields } from './InkStyleFields';
import { OwnLineFields } from './OwnLineFields';

/** ms */
const REST = 300;

const EDIT_WORDS: Readonly<Record<keyof typeof INK_EDITS, readonly [title: string, says: string]>> = {
  smooth: ['Smooth', 'Points go toward the middle of their neighbours'],
  reverse: ['Reverse', 'The beginning becomes the end: tapers and profile turn round'],
  close: ['Close', 'From the last point to the first; or opened again'],
  join: ['Join', 'With the other chosen line, or the one whose end lies nearest'],
  split: ['Split', 'In two at the point in hand'],
  remove: ['Remove', 'The point in hand, or the chosen lines (Delete)'],
};

/** What is told of the layer as it is drawn now; null while that isn't known. */
function useInkFigures(session: Session, { id, lines, own }: InkLayer): InkFigures | null {
  const [figures, setFigures] = useState<InkFigures | null>(null);
  const missing = useProject((s) => s.history);
  useEffect(() => {
    let isHere = true;
    // When a drag rests: every step of it would ask.
    const soon = setTimeout(() => {
      void session.inkFigures(id).then((told) => isHere && told && setFigures(told));
    }, REST);
    return () => {
      isHere = false;
      clearTimeout(soon);
    };
  }, [session, id, lines, own, missing]);
  return figures;
}

/** How lines are drawn: those that are chosen, and the next one; and what draws itself. */
export function InkFields({ session, layer }: { readonly session: Session; readonly layer: InkLayer }) {
  const chosen = useInk((s) => s.chosen);
  useInk((s) => s.style);
  const color = useUi((s) => s.color);
  const figures = useInkFigures(session, layer);
  const lines = layer.lines.filter((line) => chosen.includes(line.id));
  const style = lines[0]?.style ?? nextInk();
  const set = (patch: Partial<InkStyle>, gesture: string | null = null): void =>
    changeInk(session, patch, gesture);
  return (
    <>
      <p className="hint-line" role="status">
        {lines.length === 0
          ? 'The next line'
          : lines.length === 1
            ? 'The chosen line'
            : `${lines.length} chosen lines`}
      </p>
      {lines.some((line) => figures?.gapped.includes(line.id)) && (
        <p className="hint-line">
          It runs over what is no surface, a hole or the way to another piece, and is drawn on either side of
          it.
        </p>
      )}
      <InkStyleFields style={style} color={color} set={set} isClosed={lines.some((line) => line.closed)} />
      {lines.length > 0 && (
        <div className="row" role="group" aria-label="Chosen lines">
          {(Object.keys(INK_EDITS) as (keyof typeof INK_EDITS)[]).map((edit) => (
            <Chip key={edit} title={EDIT_WORDS[edit][1]} onClick={() => void INK_EDITS[edit](session)}>
              {edit === 'close' && lines.every((line) => line.closed) ? 'Open' : EDIT_WORDS[edit][0]}
            </Chip>
          ))}
        </div>
      )}
      <OwnLineFields session={session} layer={layer} count={figures?.own ?? null} />
    </>
  );
}
