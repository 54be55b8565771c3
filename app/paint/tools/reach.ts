import { useEffect } from 'react';
import type { StrokeBegin } from '../../../workers';
import type { Session } from '../../project';
import type { Hit, PanePoint, PointerAt, StageView } from '../../viewport';
import { usePaint } from '../paint-store';

/** The pointer must rest for so long before what it can reach is asked for, ms. */
const REST = 140;

type At = PanePoint & { readonly screenX: number; readonly screenY: number };

/** Shows what a stroke could reach that would begin where the pointer rests. */
export class ReachWatch {
  private readonly session: Session;
  private readonly view: StageView;
  private readonly strokeAt: (at: PointerAt, hit: Hit) => StrokeBegin | null;
  private timer: ReturnType<typeof setTimeout> | 0 = 0;
  private asked = 0;

  constructor(session: Session, view: StageView, strokeAt: (at: PointerAt, hit: Hit) => StrokeBegin | null) {
    this.session = session;
    this.view = view;
    this.strokeAt = strokeAt;
  }

  hover(at: At | null, hit: Hit | null): void {
    clearTimeout(this.timer);
    if (!usePaint.getState().showsReach || !at || !hit) return this.clear();
    this.timer = setTimeout(() => void this.look(at, hit), REST);
  }

  clear(): void {
    clearTimeout(this.timer);
    this.asked++;
    this.view.setReach(null);
  }

  private async look(at: At, hit: Hit): Promise<void> {
    const mine = ++this.asked;
    const pen = { pressure: 1, tilt: 0, azimuth: 0, time: 0, shift: false, eraser: false };
    const stroke = this.strokeAt({ ...at, ...pen }, hit);
    const reach = stroke && (await this.session.reach(stroke, hit.normal.toArray()));
    if (mine === this.asked && usePaint.getState().showsReach) this.view.setReach(reach);
  }
}

/** Takes off what is shown when it is switched off, and when the tool is laid down. */
export function ReachShown({ watch }: { readonly watch: ReachWatch }) {
  const isOn = usePaint((s) => s.showsReach);
  useEffect(() => {
    if (!isOn) watch.clear();
  }, [watch, isOn]);
  useEffect(() => () => watch.clear(), [watch]);
  return null;
}
