import type { z } from 'zod';
import type { ColorChannels, TileSource } from '../composite';
import type { CueSpec } from '../cues';
import type { Follower } from '../follow';
import type { Picture } from '../formats';
import type { LightPlan } from '../light';
import type { RegionShape } from '../region';
import type { PlaceReader, SurfaceMap } from '../surface';
import type { InkLine } from '../ink';
import type { MaskStep } from './mask-steps';
import type { Players } from './players';

/** What layers are made from, besides their own settings. */
export interface LayerInputs {
  readonly surface: SurfaceMap;
  readonly places: PlaceReader;
  /**
   * 0..65535 a texel in the order of the surface's codes; null while it isn't measured.
   *
   * @param role what it is wanted for: until it is measured, what was given for the same role before
   */
  cue(spec: CueSpec, role?: string): Uint16Array | null;
  /** Name of the local colours on the model, those of the lowest layer that holds any; null: there is none. */
  localColors(): string | null;
  light(id: number): LightPlan | null;
  /** Null if it isn't there, or can't be read. */
  pattern(id: number): Picture | null;
  /** Null if it isn't there. */
  region(id: number): RegionShape | null;
  /** The mask of another layer; empty if it has none or isn't there. */
  maskOf(layer: number): readonly MaskStep[];
  /** A tile of a plane; undefined where it is empty. */
  pixels(plane: number, tile: number): Uint8Array | undefined;
  /** Names of what is read here. */
  readonly names: InputNames;
  /** Lines that the form draws by itself for an ink layer of that id, where they are at hand already; null: they have to be drawn here. */
  readonly ownLines: ((layer: number) => readonly InkLine[]) | null;
  /** Something reckoned from the model alone, kept under a name as long as the model is in hand. */
  kept<T>(name: string, make: () => T): T;
  /** Whether that is at hand under a name. */
  isKept(name: string): boolean;
}

/** Names for the present state of inputs: equal names, equal contents. */
export interface InputNames {
  readonly surface: string;
  /** Of a thing that never changes: the same for the same thing. */
  of(thing: object): string;
  cue(spec: CueSpec): string;
  light(id: number): string;
  region(id: number): string;
  pattern(id: number): string;
  maskOf(layer: number): readonly MaskStep[];
}

/** What a texel shows that several places of the model share: the mean of what each has, what the first has, or what covers it most. */
export type SharedBy = 'mean' | 'first' | 'most';

interface KindBase<L> {
  /** The value of `kind`. */
  readonly kind: string;
  /** As it stands in a document. */
  readonly schema: z.ZodType<L>;
  /** Whether it stands in recipes: what is painted by hand doesn't. */
  readonly inRecipes: boolean;
  /** Names all that its tiles are made from: as long as this is the same, so are they. */
  inputs(layer: L, names: InputNames): string;
}

/** Made from measured form, tile by tile, and made again whenever an input changes. */
export interface DerivedKind<L> extends KindBase<L> {
  readonly form: 'derived';
  /** Whether its colour is everywhere: it is nothing but its mask, by which the compositor keeps it to the surface. */
  readonly boundless: boolean;
  /** Whether it lies on flat backdrops too; left out: no, as what is made from form has nothing to go by there. */
  readonly onBackdrops?: boolean;
  /** What texels show that several places share, where those are to be alike; left out: the mean. */
  readonly shared?: SharedBy;
  /** Cues that it is made from, besides those of its mask. */
  cues?(layer: L, inputs: Pick<LayerInputs, 'light' | 'localColors'>): readonly CueSpec[];
  /** Regions that it names, besides those of its mask. */
  regions?(layer: L): readonly number[];
  /** Light plans that it names. */
  lights?(layer: L): readonly number[];
  /** The layer when light plans have other numbers. */
  withLights?(layer: L, numbers: ReadonlyMap<number, number>): L;
  /** Patterns that it names, besides those of its mask. */
  patterns?(layer: L): readonly number[];
  /** The layer when patterns have other numbers. */
  withPatterns?(layer: L, numbers: ReadonlyMap<number, number>): L;
  /** The layer when a swatch of the palette has become another colour. */
  withSwatch?(layer: L, swatch: number, color: string): L;
  /** Parts that it names, besides those of its mask: in a recipe they are roles. */
  parts?(layer: L): readonly string[];
  /** The layer when other parts play a role. */
  withPlayers?(layer: L, players: Players): L;
  /** The layer without what names a region. */
  withoutRegion?(layer: L, region: number): L;
  /** The layer when the model changes: what it says of parts, places and lengths goes with it. Left out: it says nothing of them. */
  follow?(layer: L, model: Follower): L;
  /**
   * What it consists of, and the tiles on which each of it lies: where two states of a layer have the same piece, they look the same.
   * Left out, or null as long as telling it would take long: it may be anywhere.
   */
  pieces?(
    layer: L,
    inputs: LayerInputs,
  ): readonly (readonly [piece: object, tiles: readonly number[]])[] | null;
  /** The painter is asked for tiles of any layer of places. */
  painter(layer: L, inputs: LayerInputs): (tile: number) => TileSource | null;
}

/** Changes the colours that lie below it. */
export interface ChangeKind<L> extends KindBase<L> {
  readonly form: 'change';
  adjuster(layer: L): (colors: ColorChannels) => void;
}

/** Pixels that are kept, painted by hand. */
export interface PixelKind<L> extends KindBase<L> {
  readonly form: 'pixels';
}

export type LayerKindOf<L> = DerivedKind<L> | ChangeKind<L> | PixelKind<L>;
