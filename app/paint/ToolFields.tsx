import { useEffect } from 'react';
import { Form } from 'react-bootstrap';
import { MOST_LETTERS } from '../../core/decal';
import { choosePattern } from '../build-up';
import { type Session, useActiveNode, useProject } from '../project';
import { useBoardTaker, type BoardSpot } from '../shared/board-taker';
import { Chip } from '../shared/Chip';
import { useTip } from '../shared/commands';
import { Slider } from '../shared/Slider';
import { useView } from '../viewport';
import { PATH_WORDS, SCOPE_WORDS, TOOL_WORDS } from './paint-words';
import { FILL_SCOPES, isLineTool, LINE_TOOLS, takePath, usePaint } from './paint-store';
import { ThroughFields } from './ThroughFields';
import { InkModes } from './InkModes';
import { throwFromHere } from './tools/decal-tool';
import { patternOfReference } from './tools/through';

/** What the tool in hand has to be told. */
export function ToolFields({ session }: { readonly session: Session }) {
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
  if (tool === 'copy') return <SourceFields session={session} />;
  if (tool === 'through') return <ThroughFields session={session} />;
  if (tool === 'decal') return <DecalChoice session={session} />;
  if (tool === 'ink') return <InkModes session={session} />;
  return null;
}

/** How strokes follow the pointer. */
export function PathChips() {
  const path = usePaint((s) => s.path);
  const tip = useTip();
  return (
    <>
      {(['line', 'arc'] as const).map((one) => (
        <Chip
          key={one}
          on={path === one}
          title={tip(PATH_WORDS[one][1], `path-${one}`)}
          onClick={() => takePath(one)}
        >
          {PATH_WORDS[one][0]}
        </Chip>
      ))}
    </>
  );
}

/** What the next decal shows. */
function DecalChoice({ session }: { readonly session: Session }) {
  const view = useView();
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
      {isChosen && (
        <Chip
          title="Thrown straight onto the form from where it is looked at now"
          onClick={() => view && throwFromHere(session, view)}
        >
          From here
        </Chip>
      )}
    </div>
  );
}

/** From where is copied. */
function SourceFields({ session }: { readonly session: Session }) {
  const { source, sourcing } = usePaint();
  const isPlace = Array.isArray(source);
  const isReference = source !== null && !isPlace && typeof source === 'object';
  useEffect(
    () => () => {
      useBoardTaker.setState({ take: null });
      usePaint.setState({ sourcing: null });
    },
    [],
  );
  const takeReference = (): void => {
    const isOff = sourcing === 'reference';
    usePaint.setState({ sourcing: isOff ? null : 'reference' });
    useBoardTaker.setState({ take: isOff ? null : (spot) => void setReference(session, spot) });
  };
  return (
    <div className="row" role="group" aria-label="Copied from">
      <Chip
        on={sourcing === 'model' || isPlace}
        title="Press the model where to copy from"
        onClick={() => usePaint.setState({ sourcing: sourcing === 'model' ? null : 'model' })}
      >
        {sourcing === 'model' ? 'Press the source…' : 'Set source'}
      </Chip>
      <Chip
        on={source === 'other side'}
        title="From the other side of the symmetry’s first plane: of left and right, if none is set"
        onClick={() => usePaint.setState({ source: 'other side', offset: null, sourcing: null })}
      >
        Other side
      </Chip>
      <Chip
        on={sourcing === 'reference' || isReference}
        title="Press a reference on the easel: it is copied as large as it is seen there"
        onClick={takeReference}
      >
        {sourcing === 'reference' ? 'Press the reference…' : 'A reference'}
      </Chip>
    </div>
  );
}

async function setReference(session: Session, { reference, x, y, scale }: BoardSpot): Promise<void> {
  const wide = useProject.getState().document?.references.find((r) => r.id === reference)?.width;
  const pattern = await patternOfReference(session, reference);
  if (!pattern || !wide) return;
  // The project's copy may be smaller.
  const k = pattern.width / wide;
  usePaint.setState({
    source: { reference, pattern: pattern.id, x: x * k, y: y * k, scale: scale * k },
    offset: null,
    sourcing: null,
  });
}
