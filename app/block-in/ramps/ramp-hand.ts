import { create } from 'zustand';
import { useEffect } from 'react';
import type { ProjectRamps, RampAssignment } from '../../../core/ramps';
import { useProject } from '../../project';
import { useUi } from '../../shared/ui-store';

/** What of the ramp sheet is in hand. */
interface RampHand {
  /** The seat that is changed; null: that of the chosen part. */
  readonly seat: number | null;
  /** The next drag on the model tells the direction of its run. */
  readonly aims: boolean;
  /** The albedo's fit to the ramps is looked at. */
  readonly fitting: boolean;
}

export const useRampHand = create<RampHand>(() => ({ seat: null, aims: false, fitting: false }));

/** The seat that is in hand. */
export function seatInHand(
  ramps: ProjectRamps | null | undefined,
  seat: number | null,
  part: string | null,
): RampAssignment | null {
  const named = ramps?.seats.find((s) => s.id === seat);
  const ofPart = ramps?.seats.find(({ of }) => 'part' in of && of.part === part);
  return named ?? ofPart ?? null;
}

export function useSeatInHand(): RampAssignment | null {
  const ramps = useProject((s) => s.document?.ramps);
  const mesh = useProject((s) => s.mesh);
  const seat = useRampHand((s) => s.seat);
  const part = useUi((s) => s.selectedPart);
  return seatInHand(ramps, seat, part === null ? null : (mesh?.parts[part] ?? null));
}

/** The same outside of components. */
export function seatNow(): RampAssignment | null {
  const { document, mesh } = useProject.getState();
  const { selectedPart } = useUi.getState();
  const part = selectedPart === null ? null : (mesh?.parts[selectedPart] ?? null);
  return seatInHand(document?.ramps, useRampHand.getState().seat, part);
}

/** A part that is chosen has its own seat in hand. */
export function useFollowPart(): void {
  const part = useUi((s) => s.selectedPart);
  useEffect(() => useRampHand.setState({ seat: null, aims: false }), [part]);
}
