import { useEffect } from 'react';
import { findNode } from '../../../core/document';
import { layerToPaint, type Session, useLooksAtDetail, useProject, useShownDetail } from '../../project';
import { NO_CHOICE, useFaceChoice } from '../../shared/face-choice';
import { store } from '../../shared/platform';
import { shownLayer } from '../../shared/shown';
import { useUi } from '../../shared/ui-store';
import type { ViewportContext } from '../../viewport';

/** How long after the last change the start page's picture is renewed. */
const PICTURE_AFTER_MS = 3000;

/** What is seen to while a project is open and shows nothing by itself. */
export function Upkeep({
  id,
  session,
  viewport,
}: {
  readonly id: string;
  readonly session: Session;
  readonly viewport: ViewportContext;
}) {
  useSomeLayerChosen();
  useShownLayer(session);
  useStartPicture(id, viewport);
  useFacesThere();
  return null;
}

/** A paint layer is chosen when nothing is, so that painting can begin at once. */
function useSomeLayerChosen(): void {
  const layers = useProject((s) => s.document?.layers);
  const selected = useUi((s) => s.target?.layer ?? null);
  useEffect(() => {
    if (!layers || (selected !== null && findNode(layers, selected))) return;
    const { strokes, document } = useProject.getState();
    const paint = document ? layerToPaint(document, strokes === 0) : undefined;
    useUi.setState({
      target: paint ? { layer: paint.id, channel: 'pixels' } : null,
      alsoChosen: new Set(),
    });
  }, [layers, selected]);
}

/** Chosen faces are numbers of triangles: of another model they mean nothing. */
function useFacesThere(): void {
  const faces = useProject((s) => s.mesh?.faceParts.length);
  useEffect(() => useFaceChoice.setState(NO_CHOICE), [faces]);
}

/** The paint worker composites what is looked at. */
function useShownLayer(session: Session): void {
  const shown = useUi((s) => s.shown);
  const detail = useShownDetail();
  const looksAtDetail = useLooksAtDetail();
  useEffect(() => {
    const layer = shownLayer(shown);
    session.setView({
      alone: shown.of === 'layer' ? layer : null,
      maskOf: shown.of === 'mask' ? layer : null,
      detail,
    });
  }, [session, shown, detail]);
  useEffect(() => session.lookAtDetail(looksAtDetail), [session, looksAtDetail]);
}

/** The picture on the start page follows the painting. */
function useStartPicture(id: string, viewport: ViewportContext): void {
  const isReady = useProject((s) => s.status === 'ready' && s.pending === 0);
  const document_ = useProject((s) => s.document);
  const strokes = useProject((s) => s.strokes);
  const detail = useShownDetail();
  useEffect(() => {
    if (!isReady || detail !== null) return;
    const timer = setTimeout(() => {
      if (shownLayer(useUi.getState().shown) !== null || useProject.getState().follows) return;
      void viewport.view
        ?.snapshot(320, 240)
        .then((picture) => store.projects.update(id, { picture }))
        .catch(() => undefined);
    }, PICTURE_AFTER_MS);
    return () => clearTimeout(timer);
  }, [isReady, document_, strokes, detail, id, viewport]);
}
