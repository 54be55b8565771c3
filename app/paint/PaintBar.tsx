import { useEffect } from 'react';
import { Form } from 'react-bootstrap';
import { MOST_LETTERS } from '../../core/engine';
import { choosePattern } from '../build-up';
import { type Session, useActiveNode, useProject } from '../project';
import { Chip } from '../shared/Chip';
import { useTip } from '../shared/commands';
import { percent, Slider } from '../shared/Slider';
import { useView } from '../viewport';
import { ABOUT_WORDS, PLANE_WORDS, SCOPE_WORDS, TOOL_WORDS } from './paint-words';
import {
  ABOUTS,
  AXES,
  changeSymmetry,
  FILL_SCOPES,
  isLineTool,
  LINE_TOOLS,
  NO_PAINT,
  PAINT_TOOLS,
  toggleSymmetry,
  usePaint,
  type Axis,
} from './paint-store';
import { useHeldTools } from './held-tools';
import { chooseThrough, layWhole } from './tools/through';

/** What a press does, and what else is set for that. */
export function PaintBar({ session }: { readonly session: Session }) {
  const tool = usePaint((s) => s.tool);
  const on = usePaint((s) => s.symmetry.on);
  const open = usePaint((s) => s.symmetryOpen);
  const tip = useTip();
  useHeldTools();
  // Places and sources are those of one project.
  useEffect(() => () => usePaint.setState(NO_PAINT), [session]);
  return (
    <div className="over-picture">
      <div className="tool-bar">
        {open && <SymmetryFields />}
        <ToolFields session={session} />
        <div className="row" role="group" aria-label="Tool">
          {PAINT_TOOLS.filter((one) => one === 'lasso' || !isLineTool(one)).map((one) => (
            <Chip
              key={one}
              on={one === 'lasso' ? isLineTool(tool) : tool === one}
              title={tip(TOOL_WORDS[one][1], `tool-${one}`)}
              onClick={() => usePaint.setState({ tool: one, sourcing: false })}
            >
              {TOOL_WORDS[one][0]}
            </Chip>
          ))}
          <Chip
            on={on}
            title={tip('The same on other sides of the model, or round an axis', 'symmetry')}
            onClick={toggleSymmetry}
          >
            Symmetry
          </Chip>
          <Chip
            aria-expanded={open}
            aria-label="How symmetry is set"
            title="Planes, axis and where they stand"
            onClick={() => usePaint.setState({ symmetryOpen: !open })}
          >
            {open ? 'Less' : 'Set…'}
          </Chip>
        </div>
      </div>
    </div>
  );
}

/** What the tool in hand has to be told. */
function ToolFields({ session }: { readonly session: Session }) {
  const state = usePaint();
  const { tool } = state;
  if (tool === 'fill') {
    return (
      <div className="row" role="group" aria-label="What is filled">
        {FILL_SCOPES.map((scope) => (
          <Chip
            key={scope}
            on={state.scope === scope}
            title={SCOPE_WORDS[scope][1]}
            onClick={() => usePaint.setState({ scope })}
          >
            {SCOPE_WORDS[scope][0]}
          </Chip>
        ))}
        {state.scope === 'like' && (
          <Slider
            label="Tolerance"
            says="How much colours may differ"
            value={state.tolerance}
            min={0}
            max={40}
            step={0.5}
            curve={2}
            onChange={(tolerance) => usePaint.setState({ tolerance })}
          />
        )}
      </div>
    );
  }
  if (isLineTool(tool)) {
    return (
      <div className="row" role="group" aria-label="What a line covers">
        {LINE_TOOLS.map((one) => (
          <Chip
            key={one}
            on={tool === one}
            title={TOOL_WORDS[one][1]}
            onClick={() => usePaint.setState({ tool: one })}
          >
            {one === 'lasso' ? 'Drawn' : TOOL_WORDS[one][0]}
          </Chip>
        ))}
        <Chip
          on={state.behind}
          title="What lies behind too, not only what is seen"
          onClick={() => usePaint.setState({ behind: !state.behind })}
        >
          All through
        </Chip>
      </div>
    );
  }
  if (tool === 'deepen' || tool === 'lift') {
    return (
      <div className="row tone-row" role="group" aria-label="By how much">
        <Slider
          label="Value"
          says="By how much it gets darker or lighter"
          value={state.lightness}
          min={0}
          max={0.5}
          step={0.01}
          show={(v) => String(Math.round(v * 100))}
          read={(text) => Number.parseFloat(text) / 100}
          onChange={(lightness) => usePaint.setState({ lightness })}
        />
        <Slider
          label="Chroma"
          says="By how much it gets greyer or more vivid"
          value={state.chroma}
          min={-0.2}
          max={0.2}
          step={0.005}
          show={(v) => v.toFixed(3)}
          onChange={(chroma) => usePaint.setState({ chroma })}
        />
      </div>
    );
  }
  if (tool === 'copy') return <SourceFields />;
  if (tool === 'through') return <ThroughFields session={session} />;
  if (tool === 'decal') return <DecalChoice session={session} />;
  return null;
}

/** Which picture lies over the model, and how. */
function ThroughFields({ session }: { readonly session: Session }) {
  const view = useView();
  const { through, movesThrough } = usePaint();
  const references = useProject((s) => s.document?.references) ?? [];
  const change = (patch: Partial<NonNullable<typeof through>>): void =>
    usePaint.setState((s) => ({ through: s.through && { ...s.through, ...patch } }));
  if (references.length === 0) return <p className="hint-line">Add a reference to the easel first.</p>;
  return (
    <>
      <div className="row" role="group" aria-label="Which reference">
        {references.slice(0, 6).map(({ id, name }) => (
          <Chip
            key={id}
            on={through?.reference === id}
            title="Lay it over the model"
            onClick={() => view && void chooseThrough(session, view, id)}
          >
            {name}
          </Chip>
        ))}
      </div>
      {through && (
        <div className="row tone-row" role="group" aria-label="How it lies over the model">
          <Slider
            label="Seen"
            says="How much of the picture is seen"
            value={through.opacity}
            min={0}
            max={1}
            step={0.01}
            {...percent}
            onChange={(opacity) => change({ opacity })}
          />
          <Slider
            label="Width"
            says="Width of the picture over the model"
            value={through.width}
            min={40}
            max={3000}
            step={1}
            curve={2}
            show={(v) => String(Math.round(v))}
            onChange={(width) => {
              // About its middle.
              const by = (width - through.width) / 2;
              const picture = useProject.getState().document?.patterns.find((p) => p.id === through.pattern);
              const tall = picture ? picture.height / picture.width : 1;
              change({ width, x: through.x - by, y: through.y - by * tall });
            }}
          />
          <Chip
            on={movesThrough}
            title="A drag moves the picture instead of painting"
            onClick={() => usePaint.setState({ movesThrough: !movesThrough })}
          >
            Move it
          </Chip>
          <Chip title="All of it, on whatever is seen" onClick={() => view && void layWhole(session, view)}>
            Lay all
          </Chip>
        </div>
      )}
    </>
  );
}

/** What the next decal shows. */
function DecalChoice({ session }: { readonly session: Session }) {
  const { decalPicture, decalWords, decalFresh } = usePaint();
  const patterns = useProject((s) => s.document?.patterns) ?? [];
  const isChosen = useActiveNode()?.kind === 'decal';
  const name = patterns.find((p) => p.id === decalPicture)?.name;
  const choose = async (): Promise<void> => {
    const picture = await choosePattern(session);
    if (picture !== null) usePaint.setState({ decalPicture: picture, decalWords: '', decalFresh: true });
  };
  return (
    <div className="row" role="group" aria-label="What is set">
      <Chip title="A picture from a file; a transparent ground stays so" onClick={() => void choose()}>
        {name && !decalWords ? `Picture: ${name}` : 'Picture…'}
      </Chip>
      <Form.Control
        size="sm"
        className="decal-words"
        aria-label="Words to set"
        placeholder="or words, in the colour in hand"
        maxLength={MOST_LETTERS}
        value={decalWords}
        onChange={(e) => usePaint.setState({ decalWords: e.target.value, decalFresh: true })}
        onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
      />
      {isChosen && (
        <Chip
          on={decalFresh}
          title="The next press sets another, instead of moving the one in hand"
          onClick={() => usePaint.setState({ decalFresh: !decalFresh })}
        >
          Another
        </Chip>
      )}
    </div>
  );
}

function SourceFields() {
  const { source, sourcing } = usePaint();
  return (
    <div className="row" role="group" aria-label="Copied from">
      <Chip
        on={sourcing || Array.isArray(source)}
        title="Press the model where to copy from"
        onClick={() => usePaint.setState({ sourcing: !sourcing })}
      >
        {sourcing ? 'Press the source…' : 'Set source'}
      </Chip>
      <Chip
        on={source === 'other side'}
        title="From the other side of left and right"
        onClick={() => usePaint.setState({ source: 'other side', offset: null, sourcing: false })}
      >
        Other side
      </Chip>
    </div>
  );
}

function SymmetryFields() {
  const symmetry = usePaint((s) => s.symmetry);
  const { planes, axis, count, span, about, placing } = symmetry;
  const change = (patch: Partial<typeof symmetry>): void => changeSymmetry({ on: true, ...patch });
  const toggle = (plane: Axis): void =>
    change({ planes: planes.includes(plane) ? planes.filter((p) => p !== plane) : [...planes, plane] });
  return (
    <>
      <div className="row" role="group" aria-label="Mirrored over">
        <small>Mirror</small>
        {AXES.map((plane) => (
          <Chip
            key={plane}
            on={planes.includes(plane)}
            title={PLANE_WORDS[plane][1]}
            onClick={() => toggle(plane)}
          >
            {PLANE_WORDS[plane][0]}
          </Chip>
        ))}
        <small>through</small>
        {ABOUTS.map((one) => (
          <Chip
            key={one}
            on={one === 'place' ? placing || about === one : about === one && !placing}
            title={ABOUT_WORDS[one][1]}
            onClick={() => change(one === 'place' ? { placing: true } : { about: one, placing: false })}
          >
            {one === 'place' && placing ? 'Press it…' : ABOUT_WORDS[one][0]}
          </Chip>
        ))}
      </div>
      <div className="row tone-row" role="group" aria-label="Round an axis">
        <small>Round</small>
        {AXES.map((one) => (
          <Chip
            key={one}
            on={axis === one}
            title={`Repeated round the ${one.toUpperCase()} axis`}
            onClick={() => change({ axis: axis === one ? null : one })}
          >
            {one.toUpperCase()}
          </Chip>
        ))}
        {axis && (
          <>
            <Slider
              label="Count"
              value={count}
              min={2}
              max={64}
              step={1}
              curve={2}
              onChange={(n) => change({ count: Math.round(n) })}
            />
            <Slider
              label="Span"
              says="Over so many degrees"
              value={span}
              min={10}
              max={360}
              step={1}
              show={(v) => `${Math.round(v)}°`}
              onChange={(degrees) => change({ span: Math.round(degrees) })}
            />
          </>
        )}
      </div>
    </>
  );
}
