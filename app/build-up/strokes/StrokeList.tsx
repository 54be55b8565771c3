import { useEffect, useRef, useState } from 'react';
import type { Channel } from '../../../core/layers';
import type { LayerNode } from '../../../core/document';
import type { StrokeSummary } from '../../../core/engine';
import { type Session, useProject } from '../../project';
import { Chip } from '../../shared/Chip';
import { chooseStroke, NO_FILM, useFilm } from '../../shared/film-store';
import { Fold } from '../../shared/Fold';
import { ShareSlider } from '../../shared/Slider';
import { useUi } from '../../shared/ui-store';
import { FilmStrip } from './FilmStrip';

/** So many are listed: the latest. */
const LISTED = 200;

/** A value that is dragged is laid when it has rested for so long, ms: the layer is painted again for it. */
const REST = 350;

const TOOLS: Readonly<Record<StrokeSummary['tool'], string>> = {
  brush: 'paint',
  soften: 'soften',
  smear: 'smear',
  tone: 'deepen or lift',
  copy: 'copy',
  through: 'through a picture',
  fill: 'area',
};

/** The strokes of a layer, each to be seen, chosen and changed. */
export function StrokeList({ session, node }: { readonly session: Session; readonly node: LayerNode }) {
  const channel: Channel = useUi((s) => (s.target?.channel === 'mask' ? 'mask' : 'pixels'));
  const isPaint = node.kind === 'paint';
  if (!isPaint && channel !== 'mask') return null;
  return (
    <Fold title="Strokes" note="to be changed">
      <Listed session={session} layer={node.id} channel={channel} />
    </Fold>
  );
}

function Listed({
  session,
  layer,
  channel,
}: {
  readonly session: Session;
  readonly layer: number;
  readonly channel: Channel;
}) {
  const strokes = useFilm((s) => s.strokes);
  const chosen = useFilm((s) => s.chosen);
  const touching = useFilm((s) => s.touching);
  const done = useProject((s) => s.history);
  useEffect(() => {
    let isHere = true;
    void session.strokes(layer, channel).then((list) => {
      if (isHere && list) useFilm.setState({ strokes: list });
    });
    return () => {
      isHere = false;
    };
  }, [session, layer, channel, done]);
  useEffect(() => () => useFilm.setState(NO_FILM), [session, layer, channel]);
  if (strokes.length === 0) {
    return (
      <p className="hint-line">
        There is none that can be changed: what was filled, merged or carried to another model is paint now.
      </p>
    );
  }
  const shown = strokes.slice(-LISTED).toReversed();
  return (
    <>
      <FilmStrip session={session} layer={layer} channel={channel} />
      <div className="row">
        <Chip
          on={touching}
          title="Press a stroke on the model to choose it; Shift chooses several"
          onClick={() => useFilm.setState({ touching: !touching })}
        >
          {touching ? 'Press a stroke…' : 'Choose by touch'}
        </Chip>
        {chosen.size > 0 && <Chip onClick={() => useFilm.setState({ chosen: new Set() })}>None</Chip>}
      </div>
      <ul className="stroke-list" aria-label="Strokes, the latest first">
        {shown.map((stroke) => (
          <li key={stroke.number}>
            <button
              type="button"
              aria-pressed={chosen.has(stroke.number)}
              onPointerEnter={() => useFilm.setState({ hovered: stroke.number })}
              onPointerMove={() => useFilm.setState({ hovered: stroke.number })}
              onPointerLeave={() => useFilm.setState({ hovered: null })}
              onFocus={() => useFilm.setState({ hovered: stroke.number })}
              onBlur={() => useFilm.setState({ hovered: null })}
              onClick={(e) => chooseStroke(stroke.number, e.shiftKey || e.ctrlKey || e.metaKey)}
            >
              <i style={stroke.color && !stroke.erases ? { background: stroke.color } : {}} aria-hidden />
              {stroke.number + 1} <small>{stroke.erases ? 'erase' : TOOLS[stroke.tool]}</small>
              <small>{Math.round(stroke.opacity * 100)}</small>
            </button>
          </li>
        ))}
      </ul>
      {strokes.length > LISTED && (
        <p className="hint-line">
          The latest {LISTED} of {strokes.length} are listed; any can be chosen by touch.
        </p>
      )}
      {chosen.size > 0 && <Changes session={session} layer={layer} channel={channel} />}
    </>
  );
}

/** What can be changed of the chosen strokes. */
function Changes({
  session,
  layer,
  channel,
}: {
  readonly session: Session;
  readonly layer: number;
  readonly channel: Channel;
}) {
  const strokes = useFilm((s) => s.strokes);
  const chosen = useFilm((s) => s.chosen);
  const color = useUi((s) => s.color);
  const first = strokes.find((s) => chosen.has(s.number));
  const [opacity, setOpacity] = useState<number | null>(null);
  type Change = Extract<Parameters<Session['command']>[0], { do: 'edit-strokes' }>['change'];
  const change = async (to: Change): Promise<void> => {
    const numbers = [...chosen];
    const done = await session.command({ do: 'edit-strokes', layer, channel, strokes: numbers, change: to });
    if (done && to === 'remove') useFilm.setState({ chosen: new Set(), hovered: null });
  };
  const changeNow = useRef(change);
  changeNow.current = change;
  // Only what is dragged begins the wait anew.
  useEffect(() => {
    if (opacity === null) return;
    const rest = setTimeout(() => {
      void changeNow.current({ opacity });
      setOpacity(null);
    }, REST);
    return () => clearTimeout(rest);
  }, [opacity]);
  if (!first) return null;
  return (
    <div role="group" aria-label="Chosen strokes">
      <ShareSlider
        label="Opacity"
        says="Opacity of the chosen strokes"
        value={opacity ?? first.opacity}
        onChange={setOpacity}
      />
      <div className="row">
        <Chip title="Give them the colour in hand" onClick={() => void change({ color })}>
          <i style={{ background: color }} aria-hidden /> Colour
        </Chip>
        <Chip title="Wider by a fifth" onClick={() => void change({ size: 1.2 })}>
          Wider
        </Chip>
        <Chip title="Narrower by a fifth" onClick={() => void change({ size: 1 / 1.2 })}>
          Narrower
        </Chip>
        <Chip title="Remove them" onClick={() => void change('remove')}>
          Remove
        </Chip>
      </div>
    </div>
  );
}
