import type { InkLayer, InkStyle } from '../../core/engine';
import type { Session } from '../project';
import { Chip } from '../shared/Chip';
import { useInk } from '../shared/ink-store';
import { useUi } from '../shared/ui-store';
import { changeInk, INK_EDITS, nextInk } from './ink-actions';
import { InkStyleFields } from './InkStyleFields';
import { OwnLineFields } from './OwnLineFields';

const EDIT_WORDS: Readonly<Record<keyof typeof INK_EDITS, readonly [title: string, says: string]>> = {
  smooth: ['Smooth', 'Points go toward the middle of their neighbours'],
  reverse: ['Reverse', 'The beginning becomes the end: tapers and profile turn round'],
  close: ['Close', 'From the last point to the first; or opened again'],
  join: ['Join', 'With the other chosen line, or the one whose end lies nearest'],
  split: ['Split', 'In two at the point in hand'],
  remove: ['Remove', 'The point in hand, or the chosen lines (Delete)'],
};

/** How lines are drawn: those that are chosen, and the next one; and what draws itself. */
export function InkFields({ session, layer }: { readonly session: Session; readonly layer: InkLayer }) {
  const chosen = useInk((s) => s.chosen);
  useInk((s) => s.style);
  const color = useUi((s) => s.color);
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
      <OwnLineFields session={session} layer={layer} />
    </>
  );
}
