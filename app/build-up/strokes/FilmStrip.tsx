import { useEffect, useRef, useState } from 'react';
import { Pause } from '@phosphor-icons/react/Pause';
import { Play } from '@phosphor-icons/react/Play';
import type { Channel } from '../../../core/layers';
import type { Session } from '../../project';
import { Chip } from '../../shared/Chip';
import { useFilm } from '../../shared/film-store';
import { Slider } from '../../shared/Slider';

/** A stroke of the film is seen for so long, ms. */
const FRAME_MS = 110;

interface Props {
  readonly session: Session;
  readonly layer: number;
  readonly channel: Channel;
}

/** A layer's strokes played back: as it was after some of them; and the others cut off. */
export function FilmStrip({ session, layer, channel }: Props) {
  const strokes = useFilm((s) => s.strokes);
  const all = strokes.length;
  /** How many are shown; null: the layer as it is. */
  const [shown, setShown] = useState<number | null>(null);
  const [plays, setPlays] = useState(false);
  const isShown = useRef(false);
  const show = async (count: number | null): Promise<void> => {
    setShown(count);
    isShown.current = count !== null;
    await session.film(layer, channel, count);
  };
  const showNow = useRef(show);
  showNow.current = show;

  // Whatever was done has ended the film: the engine shows the layer as it is again.
  useEffect(() => {
    setShown(null);
    setPlays(false);
    isShown.current = false;
  }, [strokes]);
  useEffect(
    () => () => {
      if (isShown.current) void session.film(layer, channel, null);
    },
    [session, layer, channel],
  );
  useEffect(() => {
    if (!plays) return;
    const next = (shown ?? all) >= all ? 0 : (shown ?? 0) + 1;
    const timer = setTimeout(() => {
      void showNow.current(next).then(() => {
        if (next === all) setPlays(false);
      });
    }, FRAME_MS);
    return () => clearTimeout(timer);
  }, [plays, shown, all]);

  const cut = (from: number, to: number): void => {
    const numbers = strokes.slice(from, to).map((s) => s.number);
    void session.command({ do: 'edit-strokes', layer, channel, strokes: numbers, change: 'remove' });
  };
  const at = shown ?? all;
  return (
    <div className="film-strip" role="group" aria-label="Film of the strokes">
      <div className="row">
        <Chip
          aria-label={plays ? 'Pause the film' : 'Play the film'}
          title={plays ? 'Pause' : 'Shows the strokes one after the other'}
          onClick={() => setPlays(!plays)}
        >
          {plays ? (
            <Pause size={13} weight="fill" aria-hidden />
          ) : (
            <Play size={13} weight="fill" aria-hidden />
          )}
        </Chip>
        <Slider
          label="Film"
          says={`The layer after so many of its ${all} strokes`}
          value={at}
          min={0}
          max={all}
          step={1}
          show={(v) => String(Math.round(v))}
          onChange={(v) => {
            setPlays(false);
            void show(Math.round(v) === all ? null : Math.round(v));
          }}
        />
      </div>
      {shown !== null && !plays && (
        <div className="row">
          <Chip
            disabled={at === all || at === 0}
            title="Removes the strokes that came after"
            onClick={() => cut(at, all)}
          >
            Cut what follows
          </Chip>
          <Chip
            disabled={at === 0 || at === all}
            title="Removes the strokes up to here"
            onClick={() => cut(0, at)}
          >
            Cut what came before
          </Chip>
          <Chip title="The layer as it is" onClick={() => void show(null)}>
            All
          </Chip>
        </div>
      )}
    </div>
  );
}
