import { cueKey, type CueSpec } from '../cues';
import type { ProjectDocument } from '../document';
import type { Kernels } from '../kernels';
import { TILE_BYTES, TILE_TEXELS, type CoarseSurface } from '../surface';
import { LayerTiles, type ChannelPixels } from './layer-tiles';
import { Picture } from './picture';
import type { BuildUpView } from './build-up-view';

/** What a coarse picture is taken from. */
export interface CoarseSource {
  readonly kernels: Kernels;
  readonly surface: CoarseSurface;
  readonly document: ProjectDocument;
  readonly pixels: ChannelPixels;
  readonly files: ReadonlyMap<number, Uint8Array>;
  /** What the full picture's layers are made of: its cues are looked at here too. */
  readonly tiles: LayerTiles;
  readonly view: BuildUpView;
}

/**
 * The build-up on every fourth texel of every fourth row: a sixteenth of the work, for a picture that follows the hand while a control
 * is dragged. Its texels are right, only rare. The layers and the compositor are those of the full picture, on another surface.
 */
export class CoarsePicture {
  /** Texels of the full picture a texel of this one, each way. */
  readonly stride: number;
  private readonly surface: CoarseSurface;
  private readonly full: LayerTiles;
  private readonly tiles: LayerTiles;
  private readonly pixels: CoarsePixels;
  private readonly picture: Picture;
  /** Which version of each cue was taken, by its key. */
  private readonly taken = new Map<string, number>();

  constructor({ kernels, surface, document, pixels, files, tiles, view }: CoarseSource) {
    this.surface = surface;
    this.stride = surface.stride;
    this.full = tiles;
    this.pixels = new CoarsePixels(surface, pixels);
    this.tiles = new LayerTiles(surface.map, document, this.pixels, files, tiles);
    this.picture = new Picture(kernels, this.tiles, this.pixels, surface.map, document);
    this.picture.setView(view);
  }

  useDocument(document: ProjectDocument): void {
    this.tiles.useDocument(document);
    this.picture.useDocument(document);
  }

  setView(view: BuildUpView): void {
    this.picture.setView(view);
  }

  /** Pixels of a plane have changed. @param tile of the full surface */
  touch(plane: number, tile: number): void {
    const coarse = this.surface.coarseTile(tile);
    this.pixels.drop(plane, coarse);
    this.picture.touch(plane, coarse);
  }

  /** A cue has become finer in places: it is taken anew. */
  forgetCue(spec: CueSpec): void {
    this.taken.delete(cueKey(spec));
  }

  /** Tiles of the coarse surface whose picture is out of date. */
  dirty(): readonly number[] {
    this.takeCues();
    return this.picture.dirty();
  }

  /** See `Picture.render`. */
  render(tile: number, out: Uint8Array): void {
    this.picture.render(tile, out);
  }

  private takeCues(): void {
    let isNew = false;
    for (const spec of this.tiles.wantedCues()) {
      const cue = this.full.cue(spec);
      if (!cue || this.taken.get(cueKey(spec)) === cue.version) continue;
      this.taken.set(cueKey(spec), cue.version);
      this.tiles.setCue(spec, this.coarseValues(cue.values));
      isNew = true;
    }
    if (isNew) this.picture.refresh();
  }

  private coarseValues(values: Uint16Array): Uint16Array {
    const { map, gather } = this.surface;
    const out = new Uint16Array(map.codes.length);
    map.slotOfTile.forEach((slot, tile) => {
      if (slot < 0) return;
      gather(
        tile,
        (fine) => {
          const at = this.surface.full.slotOfTile[fine]!;
          return at < 0 ? null : values.subarray(at * TILE_TEXELS, (at + 1) * TILE_TEXELS);
        },
        out.subarray(slot * TILE_TEXELS, (slot + 1) * TILE_TEXELS),
      );
    });
    return out;
  }
}

/** Pixels of the planes on a coarse surface; taken out of the full ones when they are asked for. */
class CoarsePixels implements ChannelPixels {
  private readonly surface: CoarseSurface;
  private readonly full: ChannelPixels;
  private readonly kept = new Map<number, Map<number, Uint8Array | undefined>>();

  constructor(surface: CoarseSurface, full: ChannelPixels) {
    this.surface = surface;
    this.full = full;
  }

  get(plane: number, tile: number): Uint8Array | undefined {
    const known = this.kept.get(plane);
    if (known?.has(tile)) return known.get(tile);
    const words = new Uint32Array(TILE_TEXELS);
    const any = this.surface.gather(tile, (fine) => wordsOf(this.full.get(plane, fine)), words);
    const bytes = any ? new Uint8Array(words.buffer) : undefined;
    if (known) known.set(tile, bytes);
    else this.kept.set(plane, new Map([[tile, bytes]]));
    return bytes;
  }

  tiles(plane: number): readonly number[] {
    return [...new Set(this.full.tiles(plane).map((tile) => this.surface.coarseTile(tile)))];
  }

  drop(plane: number, tile: number): void {
    this.kept.get(plane)?.delete(tile);
  }
}

function wordsOf(bytes: Uint8Array | undefined): Uint32Array | null {
  if (!bytes) return null;
  const aligned = bytes.byteOffset % 4 === 0 ? bytes : bytes.slice();
  return new Uint32Array(aligned.buffer, aligned.byteOffset, TILE_BYTES / 4);
}
