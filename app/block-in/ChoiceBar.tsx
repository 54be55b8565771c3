import { Chip } from '../shared/Chip';
import { Slider } from '../shared/Slider';
import { useCommandBook, useTip } from '../shared/commands';
import { FACE_TOOLS, someFacesChosen, useFaceChoice } from '../shared/face-choice';
import { useUi } from '../shared/ui-store';
import { changeChoice, type ChoiceChange } from './choice-actions';
import { FACE_TOOL_WORDS } from './words';

const CHANGES: readonly (readonly [ChoiceChange, string, string])[] = [
  ['grow', 'Grow', 'Everything that touches it too'],
  ['shrink', 'Shrink', 'Only what touches nothing else'],
  ['invert', 'Invert', 'Everything else instead'],
  ['mirror', 'Mirror', 'The same on the other side of the model'],
];

/** How faces are chosen, and what can be done with those that are. */
export function ChoiceBar() {
  const state = useFaceChoice();
  const color = useUi((s) => s.color);
  const { run } = useCommandBook();
  const tip = useTip();
  const some = someFacesChosen(state);
  const drawsLines = state.tool === 'lasso' || state.tool === 'rectangle';
  return (
    <div className="tool-bar">
      <div className="row" role="group" aria-label="Choose by">
        {FACE_TOOLS.map((tool) => (
          <Chip
            key={tool}
            on={state.tool === tool}
            title={tip(FACE_TOOL_WORDS[tool].says, `choose-by-${tool}`)}
            onClick={() => run(`choose-by-${tool}`)}
          >
            {FACE_TOOL_WORDS[tool].title}
          </Chip>
        ))}
      </div>
      {state.tool === 'like' && (
        <div className="row flood-row" role="group" aria-label="What counts as alike">
          <i style={{ background: color }} aria-hidden />
          <Slider
            label="Tolerance"
            says="How much colours may differ"
            value={state.tolerance}
            min={0}
            max={40}
            step={0.5}
            curve={2}
            onChange={(tolerance) => useFaceChoice.setState({ tolerance })}
          />
          <Chip
            on={state.everywhere}
            title="All that looks alike, not only what hangs together with the place that is pressed"
            onClick={() => useFaceChoice.setState({ everywhere: !state.everywhere })}
          >
            Everywhere
          </Chip>
        </div>
      )}
      {state.tool !== 'part' && state.tool !== 'like' && (
        <div className="row" role="group" aria-label="How faces are chosen">
          <Chip
            on={state.takesOff}
            title="Presses remove instead of adding; Shift does so for once"
            onClick={() => useFaceChoice.setState({ takesOff: !state.takesOff })}
          >
            Remove
          </Chip>
          <Chip
            on={state.mirror}
            title="On both sides of the model at once"
            onClick={() => useFaceChoice.setState({ mirror: !state.mirror })}
          >
            Both sides
          </Chip>
          {drawsLines && (
            <>
              <Chip
                on={state.through}
                title="What lies behind too, not only what is seen"
                onClick={() => useFaceChoice.setState({ through: !state.through })}
              >
                All through
              </Chip>
              <Chip
                on={state.cutsThrough}
                title="The border may run through a face, crisp to the texel"
                onClick={() => useFaceChoice.setState({ cutsThrough: !state.cutsThrough })}
              >
                Cut faces
              </Chip>
            </>
          )}
        </div>
      )}
      {some && (
        <div className="row" role="group" aria-label="Chosen faces">
          <span className="choice-count" role="status">
            {state.faces.size} {state.faces.size === 1 ? 'face' : 'faces'}
            {state.cuts.length > 0 ? ', with a cut border' : ''}
          </span>
          {CHANGES.map(([how, title, says]) => (
            <Chip key={how} title={says} onClick={() => changeChoice(how)}>
              {title}
            </Chip>
          ))}
          <Chip title={tip('Keep it under a name', 'faces-keep')} onClick={() => run('faces-keep')}>
            Keep as region
          </Chip>
          <Chip
            primary
            title={tip('Give it the colour in hand', 'part-color')}
            onClick={() => run('part-color')}
          >
            <i style={{ background: color }} aria-hidden /> Colour it
          </Chip>
          <Chip title={tip('Nothing is chosen any more', 'faces-none')} onClick={() => run('faces-none')}>
            None
          </Chip>
        </div>
      )}
    </div>
  );
}
