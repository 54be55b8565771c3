import { useCallback, useEffect, useRef } from 'react';
import type { LayerNode } from '../../../core/document';
import type { MaskStep } from '../../../core/layers';
import type { Session } from '../../project';

/** What the pointer only passes over isn't measured: it rests on an entry for so long. */
const REST_MS = 250;

/** Shows alone, on model and sheet, what a step would cover, before it is put into a mask. */
export function useStepTrial(
  session: Session,
  node: LayerNode,
): { begin(step: MaskStep): void; end(): void } {
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null);
  const isOn = useRef(false);
  const { id } = node;
  const end = useCallback((): void => {
    if (timer.current) clearTimeout(timer.current);
    timer.current = null;
    if (!isOn.current) return;
    isOn.current = false;
    session.preview(id, null);
    session.endTrial();
  }, [session, id]);
  useEffect(() => end, [end]);
  return {
    begin: (step) => {
      if (timer.current) clearTimeout(timer.current);
      timer.current = setTimeout(() => {
        isOn.current = true;
        session.tryMask(id, step);
      }, REST_MS);
    },
    end,
  };
}
