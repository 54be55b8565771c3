import { toast } from 'sonner';
import type { CommandResult } from '../../core/engine';

/** A sentence for the artist; with an action, it stays long enough to take it. */
export function notify(message: string, action?: { label: string; run: () => void } | undefined): void {
  if (!action) toast(message, { duration: 6000 });
  else toast(message, { duration: 10_000, action: { label: action.label, onClick: action.run } });
}

/** Tells what a command has done, with the offer to take back that step and no other. */
export const undoable =
  (session: { undo(step: number): void }, message: string) =>
  (done: CommandResult | null): void => {
    if (done) notify(message, { label: 'Undo', run: () => session.undo(done.step) });
  };
