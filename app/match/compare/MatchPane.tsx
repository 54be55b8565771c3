import { useEffect, useRef, useState, type PointerEvent, type WheelEvent } from 'react';
import { bringPictures, useReferenceUrl } from '../../easel';
import { type Session, useMatchView } from '../../project';
import { paneRect, type Pane } from '../../shared/panes';
import { useUi } from '../../shared/ui-store';
import { pictureInPane, useViewport, useView, type PicturePlace } from '../../viewport';
import { addMaskMark, lookThrough, matchOf } from '../camera/camera-actions';
import { drawLooks, placeOfLook, wipePoint } from './draw-looks';
import { isLive, useMatch } from '../match-ui';
import { BendMarks } from '../figures/BendMarks';
import { MaskOver } from '../camera/MaskOver';
import { PairMarks } from '../camera/PairMarks';
import { placeOnPicture, moveOnPicture } from '../camera/pair-actions';
import { SpanMarks } from '../camera/SpanMarks';
import { useChosenMatch } from '../use-chosen-match';
import { useHeatPicture, useLooks } from './use-looks';
import { NoReference, clamp, useFlicker, Drawn, WipeLine, useSize } from './match-pane-parts';

/** So many times nearer a notch of the wheel brings the picture. */
const NOTCH = 0.0016;

type Drag =
  | { readonly what: 'pan'; readonly x: number; readonly y: number }
  | { readonly what: 'pair'; readonly index: number }
  | { readonly what: 'wipe' | 'turn' }
  | { readonly what: 'mask'; readonly points: number[] };

/** The reference as it is matched, beside the model; or both pictures laid over one another in the place of all. */
export function MatchPane({ session }: { readonly session: Session }) {
  const host = useRef<HTMLDivElement>(null);
  const panes = useUi((s) => s.panes);
  const ui = useMatch();
  const reference = useChosenMatch();
  const view = useView();
  const viewport = useViewport();
  const live = isLive(ui);
  const size = useSize(host);
  const pictures = useLooks(session);
  const heat = useHeatPicture();
  const read = useMatchView((s) => s.read);
  const bends = useMatchView((s) => s.report?.bends);
  const url = useReferenceUrl(session.project, reference?.id ?? null);
  const drag = useRef<Drag | null>(null);
  const [maskPoints, setMaskPoints] = useState<readonly number[]>([]);

  // Nearer on one side is nearer on the other.
  const { zoom } = ui;
  useEffect(() => {
    if (view?.camera.isThrough) lookThrough(view);
  }, [view, zoom]);

  const pane: Pane | null = !live
    ? { x: 0, y: 0, width: size.width, height: size.height }
    : paneRect(panes, 'match', size.width, size.height);
  if (!reference || !pane) {
    return (
      <div
        className="match-host"
        ref={host}
        onDragOver={(e) => e.preventDefault()}
        onDrop={(e) => {
          e.preventDefault();
          void bringPictures(session, [...e.dataTransfer.files]);
        }}
      >
        {pane && <NoReference pane={pane} />}
      </div>
    );
  }
  const match = matchOf(reference);
  const shown = pictures ?? { width: reference.width, height: reference.height };
  const own = live ? pane : { ...pane, width: ui.arranged === 'beside' ? pane.width / 2 : pane.width };
  const place: PicturePlace = live ? pictureInPane(pane, reference, ui.zoom) : placeOfLook(own, shown, ui);

  const local = (e: { clientX: number; clientY: number }) => {
    const { left, top } = host.current!.getBoundingClientRect();
    return { x: e.clientX - left - pane.x, y: e.clientY - top - pane.y };
  };
  /** Pixels of the reference. */
  const onPicture = (at: { x: number; y: number }): [number, number] => {
    const k = reference.width / (shown.width * place.scale);
    return [(at.x - place.x) * k, (at.y - place.y) * (reference.height / (shown.height * place.scale))];
  };

  const press = (e: PointerEvent<HTMLDivElement>): void => {
    if (e.button !== 0 && e.button !== 1) return;
    if ((e.target as Element).closest('.match-grip, button')) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    const at = local(e);
    const isWork = live && e.button === 0;
    if (isWork && (ui.tool === 'pairs' || ui.tool === 'spans')) {
      const index = placeOnPicture(session, onPicture(at));
      drag.current = index === null ? null : { what: 'pair', index };
      return;
    }
    if (isWork && ui.tool === 'mask') {
      drag.current = { what: 'mask', points: [...onPicture(at)] };
      setMaskPoints([...drag.current.points]);
      return;
    }
    drag.current = { what: 'pan', ...at };
  };
  const move = (e: PointerEvent<HTMLDivElement>): void => {
    const now = drag.current;
    if (!now) return;
    const at = local(e);
    if (now.what === 'pan') {
      const [w, h] = [shown.width * place.scale, shown.height * place.scale];
      useMatch.setState(({ zoom: z }) => ({
        zoom: { ...z, x: z.x + (at.x - now.x) / w, y: z.y + (at.y - now.y) / h },
      }));
      drag.current = { ...now, ...at };
    } else if (now.what === 'pair') moveOnPicture(session, now.index, onPicture(at));
    else if (now.what === 'mask') {
      now.points.push(...onPicture(at));
      setMaskPoints([...now.points]);
    } else moveWipe(now.what, at);
  };
  const release = (): void => {
    const now = drag.current;
    drag.current = null;
    if (now?.what === 'mask') {
      setMaskPoints([]);
      void addMaskMark(session, {
        adds: ui.maskAdds,
        part: ui.maskAdds ? ui.maskPart : null,
        size: ui.maskSize,
        points: now.points.map((p) => Math.round(p * 10) / 10).slice(0, 4000),
      });
    }
  };
  const moveWipe = (what: 'wipe' | 'turn', at: { x: number; y: number }): void => {
    if (what === 'wipe') {
      const x = (at.x - place.x) / (shown.width * place.scale);
      const y = (at.y - place.y) / (shown.height * place.scale);
      useMatch.setState(({ wipe }) => ({ wipe: { ...wipe, x: clamp(x), y: clamp(y) } }));
      return;
    }
    const middle = wipePoint(place, shown, ui);
    const angle = Math.atan2(at.x - middle.x, middle.y - at.y);
    useMatch.setState(({ wipe }) => ({ wipe: { ...wipe, angle } }));
  };
  const wheel = (e: WheelEvent): void => {
    const at = local(e);
    const factor = Math.exp(-Math.max(-400, Math.min(400, e.deltaY)) * NOTCH);
    useMatch.setState(({ zoom: z }) => {
      const times = Math.min(16, Math.max(0.5, z.times * factor));
      const k = times / z.times;
      // What is under the pointer stays there.
      const [w, h] = [shown.width * place.scale, shown.height * place.scale];
      const [u, v] = [(at.x - place.x - w / 2) / w, (at.y - place.y - h / 2) / h];
      return { zoom: { times, x: (z.x - u * (k - 1)) / k, y: (z.y - v * (k - 1)) / k } };
    });
  };

  return (
    <div className="match-host" ref={host}>
      {ui.tracing !== null && live && <Tracing url={url} opacity={ui.tracing} />}
      <div
        className={`match-pane ${live ? ui.tool : 'look'}`}
        style={{ left: pane.x, width: pane.width, height: pane.height }}
        data-testid="match-pane"
        data-ready={live ? url !== null : pictures !== null}
        onPointerDown={press}
        onPointerMove={move}
        onPointerUp={release}
        onPointerCancel={() => {
          drag.current = null;
          setMaskPoints([]);
        }}
        onWheel={wheel}
        onDoubleClick={() => useMatch.setState({ zoom: { times: 1, x: 0, y: 0 } })}
      >
        {live && url && (
          <img
            src={url}
            alt={reference.name}
            draggable={false}
            style={{
              left: place.x,
              top: place.y,
              width: reference.width * place.scale,
              height: reference.height * place.scale,
              transform: match.mirror ? 'scaleX(-1)' : undefined,
            }}
          />
        )}
        {live && heat && (
          <Drawn pane={pane} name="Difference from the reference">
            {(context) =>
              context.drawImage(
                heat,
                place.x,
                place.y,
                reference.width * place.scale,
                reference.height * place.scale,
              )
            }
          </Drawn>
        )}
        {!live && pictures && <Looks pane={pane} pictures={pictures} />}
        {!live && ui.arranged === 'wipe' && pictures && (
          <WipeLine
            at={wipePoint(place, pictures, ui)}
            onDrag={(what) => (e) => {
              e.currentTarget.setPointerCapture(e.pointerId);
              drag.current = { what };
            }}
            onMove={move}
            onEnd={release}
          />
        )}
        {live && ui.tool === 'mask' && read && (
          <MaskOver read={read} place={place} reference={reference} points={maskPoints} />
        )}
        {live && ui.bends && ui.tool !== 'mask' && read && bends && bends.length > 0 && (
          <BendMarks bends={bends} place={place} scale={read.scale} shownPart={ui.shownBend} />
        )}
        {live && <PairMarks session={session} place={place} />}
        {live && <SpanMarks place={place} />}
        {live && ui.shownPlace && read && (
          <i
            className="match-place"
            style={{
              left: place.x + (ui.shownPlace[0] / read.scale) * place.scale,
              top: place.y + (ui.shownPlace[1] / read.scale) * place.scale,
            }}
          />
        )}
        {!live && !pictures && (
          <p className="match-waits">
            {match.camera
              ? 'Comparing…'
              : 'The reference’s camera comes first: let it be found, or set pairs.'}
          </p>
        )}
      </div>
    </div>
  );

  /** The reference over the model's pane. */
  function Tracing({ url: address, opacity }: { readonly url: string | null; readonly opacity: number }) {
    const model = viewport.view?.pane('model');
    if (!address || !model || !reference) return null;
    const over = pictureInPane(model, reference, ui.zoom);
    return (
      <div
        className="match-trace"
        style={{ left: model.x, width: model.width, height: model.height }}
        aria-hidden
      >
        <img
          src={address}
          alt=""
          style={{
            left: over.x,
            top: over.y,
            width: reference.width * over.scale,
            opacity,
            transform: match.mirror ? 'scaleX(-1)' : undefined,
          }}
        />
      </div>
    );
  }
}

/** Both pictures; in turn, where they flicker. */
function Looks({
  pane,
  pictures,
}: {
  readonly pane: Pane;
  readonly pictures: NonNullable<ReturnType<typeof useLooks>>;
}) {
  const ui = useMatch();
  const isPainted = useFlicker(ui.arranged === 'flicker' ? ui.rate : null);
  return (
    <Drawn pane={pane} name={isPainted && ui.arranged === 'flicker' ? 'Painting' : 'Painting and reference'}>
      {(context) => drawLooks(context, pane, pictures, ui, isPainted)}
    </Drawn>
  );
}
