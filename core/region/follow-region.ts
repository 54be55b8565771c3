import type { Follower } from '../follow';
import { inverse } from '../math';
import type { FaceRuns } from '../mesh';
import { cutOver, movedCuts, type Cut } from './cut';
import type { Region } from './region';

/** Cuts when the model changes. */
export function followCuts(cuts: readonly Cut[], model: Follower): Cut[] {
  if (cuts.length === 0) return cuts as Cut[];
  const { identical, before, source } = model.faces;
  const over = identical
    ? (cuts as Cut[])
    : cuts.map((cut) => cutOver(cut, before, source.length, (f) => source[f]!));
  return model.placing ? movedCuts(over, inverse(model.placing)) : over;
}

/** A region when the model changes. */
export const followRegion = (region: Region, model: Follower): Region => ({
  ...region,
  faces: model.faceList(region.faces),
  cuts: followCuts(region.cuts, model),
});

/** What holds strokes, when the model changes: on other triangles no stroke is made again that needs it. */
export const followGuards = <G extends { readonly faces: FaceRuns; readonly cuts: readonly Cut[] }>(
  guards: readonly G[],
  model: Follower,
): G[] =>
  model.faces.exact
    ? guards.map((guard) => ({
        ...guard,
        faces: model.runs(guard.faces),
        cuts: followCuts(guard.cuts, model),
      }))
    : [];
