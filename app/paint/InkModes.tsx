import { copyOver } from '../build-up';
import { useProject, type Session } from '../project';
import { Chip } from '../shared/Chip';
import { INK_MODES, useInk } from '../shared/ink-store';
import { Slider } from '../shared/Slider';
import { notify } from '../shared/notify';
import { INK_WORDS } from './paint-words';
import { usePaint } from './paint-store';
import { symmetryFor } from './symmetry';

/** How lines are drawn or changed. */
export function InkModes({ session }: { readonly session: Session }) {
  const { mode, tolerance, joins, chosen, growing } = useInk();
  return (
    <div className="row" role="group" aria-label="Lines">
      {INK_MODES.map((one) => (
        <Chip
          key={one}
          on={mode === one}
          title={INK_WORDS[one][1]}
          onClick={() => useInk.setState({ mode: one, growing: null, first: null })}
        >
          {INK_WORDS[one][0]}
        </Chip>
      ))}
      {mode === 'draw' && (
        <>
          <Slider
            label="Fitted"
            says="How far a line may lie off the hand’s, pixels"
            value={tolerance}
            min={0.5}
            max={12}
            step={0.5}
            show={(v) => `${v} px`}
            read={(text) => Number.parseFloat(text)}
            onChange={(next) => useInk.setState({ tolerance: next })}
          />
          <Chip
            on={joins}
            title="A line that begins or ends at the end of another goes on from it"
            onClick={() => useInk.setState({ joins: !joins })}
          >
            Join ends
          </Chip>
        </>
      )}
      {mode === 'points' && growing !== null && (
        <Chip
          title="The next press begins another (Escape)"
          onClick={() => useInk.setState({ growing: null, first: null })}
        >
          End the line
        </Chip>
      )}
      {mode === 'change' && chosen.length > 0 && (
        <Chip
          title="Copies on the other sides of the symmetry, or round its axis"
          onClick={() => copyChosen(session)}
        >
          Copy over
        </Chip>
      )}
    </div>
  );
}

function copyChosen(session: Session): void {
  const { mesh } = useProject.getState();
  const { symmetry } = usePaint.getState();
  const over = mesh && symmetryFor({ ...symmetry, on: true }, mesh, null);
  if (over) void copyOver(session, over);
  else notify('Set a plane or an axis for the symmetry first.');
}
