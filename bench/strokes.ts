import { setStrokes, strokePainter, USUAL_BRUSHWORK } from '../core/brushwork';
import { filledTiles, measureSurface, PlaceReader } from '../core/surface';
import { limitRow, type Row } from './clock';
import { bumpyBall } from './models';

/** Chosen so that about 20,000 strokes lie on the ball. */
const SIZE = 0.0135;
const LIMIT_MS = 4000;

/** A layer of 20,000 strokes at 2048, within 4 s. */
export function benchStrokes(): Row[] {
  const surface = measureSurface(bumpyBall(96, 48), 2048);
  const how = { ...USUAL_BRUSHWORK, size: SIZE };
  const start = performance.now();
  const strokes = setStrokes(surface, how);
  const source = { form: 'color', color: [0.6, 0.4, 0.3] } as const;
  const places = new PlaceReader(surface);
  const paint = strokePainter(strokes, how, { surface, places, source: () => source, mask: () => null });
  for (const tile of filledTiles(surface)) paint(tile);
  return [limitRow(`${strokes.scatter.count} strokes at 2048`, performance.now() - start, LIMIT_MS)];
}
