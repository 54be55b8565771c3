import { MOST_PAIRS, type PointPair } from '../../../core/match';
import type { Vec3 } from '../../../core/math';
import { matchedReference, type Session } from '../../project';
import { newGesture } from '../../shared/gesture';
import { notify } from '../../shared/notify';
import { fitFromPairs, matchOf, patchMatch } from './camera-actions';
import { useMatch } from '../match-ui';

/** From so many pairs on the camera is fitted whenever one is set. */
const ENOUGH = 4;

let dragged = '';

const pairsNow = (): readonly PointPair[] => matchOf(matchedReference()).pairs;

async function setPairs(
  session: Session,
  pairs: readonly PointPair[],
  gesture: string | null = null,
): Promise<void> {
  if (await patchMatch(session, () => ({ pairs: [...pairs] }), gesture)) {
    if (gesture === null && pairs.length >= ENOUGH) await fitFromPairs(session);
  }
}

/** A place of the model was pressed: the half of a pair. */
export function placeOnModel(session: Session, model: Vec3): void {
  const { tool, half, span } = useMatch.getState();
  if (tool === 'spans') return spanOnModel(session, model);
  if (half && 'picture' in half) {
    useMatch.setState({ half: null });
    return addPair(session, { model, picture: half.picture });
  }
  useMatch.setState({ half: { model }, pair: null, span });
}

/** A place of the picture was pressed. @returns the pair that lies there and is dragged from now on; null: none */
export function placeOnPicture(session: Session, picture: readonly [number, number]): number | null {
  const { tool, half } = useMatch.getState();
  if (tool === 'spans') {
    spanOnPicture(session, picture);
    return null;
  }
  const reach = (matchedReference()?.height ?? 1000) / 60;
  const near = pairsNow().findIndex(
    (p) => Math.hypot(p.picture[0] - picture[0], p.picture[1] - picture[1]) < reach,
  );
  if (near >= 0 && !half) {
    dragged = newGesture();
    useMatch.setState({ pair: near });
    return near;
  }
  if (half && 'model' in half) {
    useMatch.setState({ half: null });
    addPair(session, { model: half.model, picture });
  } else useMatch.setState({ half: { picture }, pair: null });
  return null;
}

function addPair(session: Session, pair: PointPair): void {
  const pairs = pairsNow();
  if (pairs.length >= MOST_PAIRS) {
    notify(`Up to ${MOST_PAIRS} pairs are kept. Remove one first.`);
    return;
  }
  void addedPair(session, pair);
}

async function addedPair(session: Session, pair: PointPair): Promise<void> {
  await patchMatch(session, ({ pairs }) => ({ pairs: [...pairs, pair] }));
  if (pairsNow().length >= ENOUGH) await fitFromPairs(session);
}

export function moveOnPicture(session: Session, index: number, picture: readonly [number, number]): void {
  const pairs = pairsNow();
  const pair = pairs[index];
  if (pair) void setPairs(session, pairs.with(index, { ...pair, picture }), dragged);
}

/** The drag of a pair has ended: the camera follows. */
export const pairMoved = (session: Session): Promise<void> =>
  pairsNow().length >= ENOUGH ? fitFromPairs(session) : Promise.resolve();

export function removePair(session: Session, index: number): void {
  useMatch.setState({ pair: null });
  void setPairs(
    session,
    pairsNow().filter((_, i) => i !== index),
  );
}

/** A length is set by its two ends on the model, then on the picture. */
function spanOnModel(session: Session, at: Vec3): void {
  const { span } = useMatch.getState();
  if (span.model) return notify('Now its two ends in the picture.');
  if (!span.from) return useMatch.setState({ span: { ...span, from: at } });
  useMatch.setState({ span: { ...span, model: [span.from, at] } });
  finishSpan(session);
}

function spanOnPicture(session: Session, at: readonly [number, number]): void {
  const { span } = useMatch.getState();
  if (span.picture) return notify('Now its two ends on the model.');
  if (!span.at) return useMatch.setState({ span: { ...span, at } });
  useMatch.setState({ span: { ...span, picture: [span.at, at] } });
  finishSpan(session);
}

function finishSpan(session: Session): void {
  const { span } = useMatch.getState();
  if (!span.model || !span.picture) return;
  const { model, picture } = span;
  useMatch.setState({ span: {} });
  void patchMatch(session, ({ spans }) => ({
    spans: [...spans, { name: `Length ${spans.length + 1}`, model, picture }],
  }));
}

export const renameSpan = (session: Session, index: number, name: string): Promise<boolean> =>
  patchMatch(session, ({ spans }) => ({
    spans: spans.map((s, i) => (i === index ? { ...s, name } : s)),
  }));

export const removeSpan = (session: Session, index: number): Promise<boolean> =>
  patchMatch(session, ({ spans }) => ({ spans: spans.filter((_, i) => i !== index) }));
