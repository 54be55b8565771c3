import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, type RefObject } from 'react';

/** So many rows are simply listed. */
const FEW = 60;

export interface RowsInSight<E extends HTMLElement> {
  /** The element that scrolls. */
  readonly host: RefObject<E | null>;
  /** Numbers of the rows to be made. */
  readonly rows: readonly number[];
  /** Room for those above and below that aren't, pixels. */
  readonly before: number;
  readonly after: number;
  /** Whether rows are left out: then the list has to scroll by itself. */
  readonly isLong: boolean;
}

/**
 * Which rows of a long list are made: those in sight and some around.
 *
 * @param height of a row, pixels
 * @param wanted a row that is brought into sight when it becomes another one; -1 for none
 */
export function useRowsInSight<E extends HTMLElement>(
  count: number,
  height: number,
  wanted = -1,
): RowsInSight<E> {
  const host = useRef<E>(null);
  const isLong = count > FEW;
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => host.current,
    estimateSize: () => height,
    overscan: 10,
    enabled: isLong,
  });
  useEffect(() => {
    if (isLong && wanted >= 0) virtual.scrollToIndex(wanted);
  }, [isLong, wanted, virtual]);
  if (!isLong) return { host, rows: Array.from({ length: count }, (_, i) => i), before: 0, after: 0, isLong };
  const made = virtual.getVirtualItems();
  return {
    host,
    rows: made.map((item) => item.index),
    before: made[0]?.start ?? 0,
    after: virtual.getTotalSize() - (made.at(-1)?.end ?? 0),
    isLong,
  };
}
