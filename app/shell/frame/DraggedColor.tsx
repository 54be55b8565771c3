import { useEffect } from 'react';
import { colorChoice, colorPart } from '../../block-in';
import { useFaceChoice } from '../../shared/face-choice';
import type { Session } from '../../project';
import { useColorDrag } from '../../shared/color-drag';
import { choosePart, chosenParts, useViewport, type Hit } from '../../viewport';

/** A colour on its way from the easel to a part of the model, or of the sheet. */
export function DraggedColor({ session }: { readonly session: Session }) {
  const viewport = useViewport();
  const dragged = useColorDrag((s) => s.dragged);
  useEffect(() => {
    const hitAt = ({ x, y }: { readonly x: number; readonly y: number }): Hit | null => {
      const at = viewport.view?.fromWindow(x, y);
      return at ? viewport.view!.pick(at) : null;
    };
    useColorDrag.setState({
      receiver: {
        over: (at) => viewport.view?.outline((at && hitAt(at)?.part) ?? -1),
        drop: (color, at) => {
          const hit = hitAt(at);
          if (!hit) return;
          if (useFaceChoice.getState().faces.has(hit.face)) {
            void colorChoice(session, color);
            return;
          }
          if (!chosenParts().includes(hit.part)) choosePart(hit.part);
          void colorPart(session, color);
        },
      },
    });
    return () => useColorDrag.setState({ receiver: null, dragged: null });
  }, [viewport, session]);
  if (!dragged) return null;
  const { color, x, y } = dragged;
  return <i className="dragged-color" style={{ background: color, left: x, top: y }} aria-hidden />;
}
