import { toast } from 'sonner';

/** A sentence for the artist; with an action, it stays long enough to take it. */
export function notify(message: string, action?: { label: string; run: () => void }): void {
  if (!action) toast(message, { duration: 6000 });
  else toast(message, { duration: 10_000, action: { label: action.label, onClick: action.run } });
}
