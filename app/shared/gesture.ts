import { useRef } from 'react';

const page = crypto.randomUUID().slice(0, 8);
let count = 0;

/** A name for one drag, that no other drag has, not even one of an earlier visit. */
export const newGesture = (): string => `${page} ${count++}`;

const RUN_MS = 800;

/** Keys pressed soon after each other build on what the last one asked for, and are one step of the history. */
export function useKeyRun<T>(
  value: T,
): (at: number, next: (from: T) => T, put: (value: T, gesture: string) => void) => void {
  const run = useRef<{ at: number; asked: T; gesture: string } | null>(null);
  return (at, next, put) => {
    const last = run.current && at - run.current.at < RUN_MS ? run.current : null;
    const gesture = last?.gesture ?? newGesture();
    const asked = next(last ? last.asked : value);
    run.current = { at, asked, gesture };
    put(asked, gesture);
  };
}
