/** The things that a layer consists of, and the tiles on which each lies. */
export type Pieces = readonly (readonly [piece: object, tiles: readonly number[]])[];

/** Tiles of pieces that two lists don't have in common; of all of them where the common ones stand in another order. */
export function differingTiles(was: Pieces, is: Pieces): ReadonlySet<number> {
  const [old, now] = [new Set(was.map(([piece]) => piece)), new Set(is.map(([piece]) => piece))];
  const stayed = (list: Pieces): object[] =>
    list.map(([piece]) => piece).filter((piece) => old.has(piece) && now.has(piece));
  const order = stayed(is);
  const isReordered = stayed(was).some((piece, i) => piece !== order[i]);
  const out = new Set<number>();
  for (const [list, others] of [
    [was, now],
    [is, old],
  ] as const) {
    for (const [piece, tiles] of list) {
      if (isReordered || !others.has(piece)) for (const tile of tiles) out.add(tile);
    }
  }
  return out;
}
