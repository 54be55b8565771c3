import { useEffect } from 'react';
import { useCommandBook } from '../shared/commands';
import { usePaint, type PaintState } from './paint-store';

/** Tools that are taken for a moment: while their key is held. */
const HELD = ['tool-soften', 'erase'] as const;

/** A key that is held longer than this is let go to go back; a shorter press changes the tool, ms. */
const TAP = 280;

/** Goes back to what was in hand before when the key of a tool that is taken for a moment is let go. */
export function useHeldTools(): void {
  const { commands } = useCommandBook();
  useEffect(() => {
    const keys = new Set(
      commands
        .filter((c) => (HELD as readonly string[]).includes(c.id))
        .flatMap((c) => c.keys.split(', '))
        .filter((key) => /^[a-z]$/.test(key)),
    );
    let down: { readonly code: string; readonly at: number; readonly before: Partial<PaintState> } | null =
      null;
    const codeOf = (e: KeyboardEvent): string => e.code.replace(/^Key/, '').toLowerCase();
    const press = (e: KeyboardEvent): void => {
      if (e.repeat || e.ctrlKey || e.metaKey || e.altKey || !keys.has(codeOf(e))) return;
      const { tool, erasing } = usePaint.getState();
      down = { code: codeOf(e), at: e.timeStamp, before: { tool, erasing } };
    };
    const letGo = (e: KeyboardEvent): void => {
      if (down?.code !== codeOf(e)) return;
      if (e.timeStamp - down.at > TAP) usePaint.setState(down.before);
      down = null;
    };
    // Before the command itself changes the tool.
    window.addEventListener('keydown', press, { capture: true });
    window.addEventListener('keyup', letGo);
    return () => {
      window.removeEventListener('keydown', press, { capture: true });
      window.removeEventListener('keyup', letGo);
    };
  }, [commands]);
}
