import { projection } from '../camera/camera';
import type { MatchCamera, Span } from '../camera/on-picture';

/** How long something is on the model beside the picture. */
export interface SpanMatch {
  readonly name: string;
  /** Pixels of the picture. */
  readonly model: number;
  readonly picture: number;
  /** By how many percent the model's is longer; negative: shorter. */
  readonly percent: number;
}

/** Compares lengths that were marked in both, as the picture's camera sees them; the worst first. */
export function compareSpans(spans: readonly Span[], camera: MatchCamera): SpanMatch[] {
  const see = projection(camera);
  return spans
    .flatMap(({ name, model, picture }): SpanMatch[] => {
      const [a, b] = [see(model[0]), see(model[1])];
      const wanted = Math.hypot(picture[0][0] - picture[1][0], picture[0][1] - picture[1][1]);
      if (!(a.depth > 0) || !(b.depth > 0) || !(wanted > 0)) return [];
      const is = Math.hypot(a.x - b.x, a.y - b.y);
      return [{ name, model: is, picture: wanted, percent: (is / wanted - 1) * 100 }];
    })
    .sort((p, q) => Math.abs(q.percent) - Math.abs(p.percent));
}
