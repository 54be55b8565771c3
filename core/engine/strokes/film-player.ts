import { CoreError } from '../../errors';
import type { Channel } from '../../layers';
import { StrokeReplayer } from '../../model';
import type { Stroke } from '../../paint';
import { paintedChannel } from '../../commands';
import type { ProjectState } from '../project-state';

/** What was painted is kept after every so many strokes, so that going back needs few of them. */
const KEEP_EVERY = 8;

/** States that are kept at the most. */
const MOST_KEPT = 48;

type Tiles = Map<number, Uint8Array>;

interface Film {
  readonly plane: number;
  readonly strokes: readonly Stroke[];
  readonly replayer: StrokeReplayer;
  /** The plane as it is. */
  readonly present: ReadonlyMap<number, Uint8Array>;
  /** What was painted after so many strokes; always after none. */
  readonly kept: Map<number, ReadonlyMap<number, Uint8Array>>;
  tiles: Tiles;
  at: number;
}

/** Shows a layer as it was after some of its strokes. Nothing is changed by that. */
export class FilmPlayer {
  private readonly state: ProjectState;
  private film: Film | null = null;

  constructor(state: ProjectState) {
    this.state = state;
  }

  /**
   * Shows a layer as it was after so many of the strokes that lie on its base.
   *
   * @throws CoreError `layer-missing`, or `bad-argument` if it holds no such strokes
   */
  show(layer: number, channel: Channel, count: number): void {
    const { document } = this.state;
    const plane = paintedChannel(document, layer, channel);
    if (this.film?.plane !== plane) this.film = this.begun(plane);
    const { film } = this;
    if (count > film.strokes.length) {
      throw new CoreError('bad-argument', `The layer has only ${film.strokes.length} strokes to be shown.`);
    }
    const before = new Map(film.tiles);
    if (count < film.at) this.goBack(film, count);
    while (film.at < count) {
      film.replayer.replay([film.strokes[film.at]!], film.tiles);
      film.at++;
      if (film.at % KEEP_EVERY === 0 && film.kept.size < MOST_KEPT) {
        film.kept.set(film.at, new Map(film.tiles));
      }
    }
    this.put(plane, before, film.tiles);
  }

  /** Shows the layer as it is. @returns whether it was shown otherwise */
  end(): boolean {
    const { film } = this;
    if (!film) return false;
    this.film = null;
    this.put(film.plane, film.tiles, film.present);
    return true;
  }

  private begun(plane: number): Film {
    this.end();
    const { document, planes, surface, kernels, files, motions, pixels } = this.state;
    const under = document.bases.find((b) => b.plane === plane)?.strokes ?? 0;
    const present = new Map([...pixels.states(plane)].map(({ tile, bytes }) => [tile, bytes]));
    const base = new Map(planes.paintOf(document, plane).base);
    const film: Film = {
      plane,
      strokes: planes.strokesOf(plane).slice(under),
      replayer: new StrokeReplayer(surface, kernels, { ...document, files, motions }),
      present,
      kept: new Map([[0, new Map(base)]]),
      tiles: new Map(base),
      at: 0,
    };
    this.put(plane, present, film.tiles);
    return film;
  }

  private goBack(film: Film, count: number): void {
    const from = Math.max(...[...film.kept.keys()].filter((n) => n <= count));
    film.tiles = new Map(film.kept.get(from));
    film.at = from;
  }

  /** Puts one state of a plane where another is. */
  private put(
    plane: number,
    from: ReadonlyMap<number, Uint8Array>,
    to: ReadonlyMap<number, Uint8Array>,
  ): void {
    for (const tile of new Set([...from.keys(), ...to.keys()])) {
      if (from.get(tile) === to.get(tile)) continue;
      this.state.put({ plane, tile, bytes: to.get(tile) ?? null });
    }
  }
}
