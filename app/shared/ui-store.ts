import { z } from 'zod';
import { create, type StoreApi, type UseBoundStore } from 'zustand';
import { persist } from 'zustand/middleware';
import type { Rgb } from '../../core/color';
import type { Channel } from '../../core/layers';
import type { CameraPose } from '../../core/document';
import type { BrushShape } from '../../core/paint';
import { BRUSHES, brushInTray, MOST_BRUSHES, type Brush } from './brush';
import type { Panes } from './panes';
import { lazyStorage } from './lazy-storage';
import {
  PAINT,
  PLAIN_LIGHTS,
  PLAIN_TOON,
  type CheckLights,
  type PaintLight,
  type Shown,
  type ToonLook,
} from './shown';

export const STAGES = ['model', 'unwrap', 'block-in', 'form', 'paint', 'match', 'deliver'] as const;
export type StageName = (typeof STAGES)[number];
export const isStage = (name: string | undefined): name is StageName =>
  (STAGES as readonly (string | undefined)[]).includes(name);

/** What the hand works on: a layer of the build-up, and its pixels or what is painted on its mask. */
export interface EditTarget {
  readonly layer: number;
  readonly channel: Channel;
}

/** What the hand has and sees, whatever project is open. It is remembered by the browser. */
export interface Habits {
  /** The brushes in the tray, and which of them is in hand. */
  readonly tray: readonly Brush[];
  readonly brush: number;
  /** The set of brushes that the tray shows; null: all. */
  readonly brushSet: string | null;
  readonly color: string;
  /** Colours that were painted with, the latest first. */
  readonly lastColors: readonly string[];
  /** Length of the string on which the pen follows the pointer, pixels; 0: it doesn't drag. */
  readonly steady: number;
  /** A finger turns and moves the view, and a pen or a mouse paints. */
  readonly fingerLooks: boolean;
  readonly guardPart: boolean;
  readonly guardNear: boolean;
  /** Strokes change what is painted already, and nothing else. */
  readonly guardPainted: boolean;
  /** Strokes change what was seen when they began, and nothing that was hidden by something else. */
  readonly guardSeen: boolean;
  /** Strokes change what was like the colour in their layer where they began. */
  readonly guardLike: boolean;
  /** How much colours may differ that count as alike, CIEDE2000. */
  readonly likeTolerance: number;
  /** Strokes on a mask hide instead of revealing. */
  readonly maskHides: boolean;
  readonly pickSize: 1 | 5 | 15;
  readonly panes: Panes;
  /** Value of the neutral ground, 0..1. */
  readonly ground: number;
  /** Texels are shown as they are stored, however near or far. */
  readonly exact: boolean;
  readonly checkLights: CheckLights;
  readonly toon: ToonLook;
  /** Height of the small second view, CSS pixels. */
  readonly pinnedHeight: number;
  /** The small board over the picture, CSS pixels of it; null for none. */
  readonly floating: {
    readonly x: number;
    readonly y: number;
    readonly width: number;
    readonly height: number;
  } | null;
  /** Widths of the outer columns, CSS pixels. */
  readonly columns: { readonly easel: number; readonly side: number };
}

/** Where a cue stands in a layer: which step of its mask, or which of what its tones are mixed from. */
export interface CuePlace {
  readonly layer: number;
  readonly mask?: number;
  readonly mix?: number;
}

/** What is in hand in the open project. */
export interface Hand {
  readonly target: EditTarget | null;
  /** Layers that are chosen beside that one. */
  readonly alsoChosen: ReadonlySet<number>;
  /** Groups whose layers aren't listed. */
  readonly folded: ReadonlySet<number>;
  readonly selectedPart: number | null;
  /** Parts that are chosen beside that one. */
  readonly alsoParts: ReadonlySet<number>;
  /** Parts that are not shown. */
  readonly hidden: ReadonlySet<number>;
  /** The backdrop that is painted on, by its part's name; null: the model is. */
  readonly backdrop: string | null;
  /** The sheet in the flat view. */
  readonly sheet: number;
  readonly shown: Shown;
  readonly light: PaintLight;
  /** The albedo is shown though the chosen layer goes into the detail sheet. */
  readonly seesAlbedo: boolean;
  readonly wires: boolean;
  /** The camera of the small second view. */
  readonly pinned: CameraPose | null;
  /** The next press picks a colour instead of painting. */
  readonly picking: boolean;
  /** The region that strokes stay within. */
  readonly guardRegion: number | null;
  /** Strokes lay the local colour of where they begin, thinly. */
  readonly glazing: boolean;
  /** What a drag on the model aims: the light plan's key, the lamp of the lit check, or a new ramp. */
  readonly aiming: 'plan' | 'check' | 'ramp' | null;
  /** A cue that a press on the model places. */
  readonly placing: CuePlace | null;
  /** A ramp that is drawn goes over the surface from where it begins, not straight along its line. */
  readonly rampAlongForm: boolean;
  /** The stand-in that is moved on the model: of which light plan, and its number there. */
  readonly standIn: { readonly light: number; readonly index: number } | null;
  /** The panes that are come back to when a stage that arranged them is left. */
  readonly panesBefore: Panes | null;
  /** Whose ramp of a tone ramp is seen; empty for that of the whole model. */
  readonly rampOf: string;
  readonly reference: number | null;
  /** The swatch that was clicked last. */
  readonly swatch: number | null;
  readonly referenceGrey: boolean;
  /** Pictures on the board are moved instead of picked from. */
  readonly arrangesBoard: boolean;
  /** A line drawn on the board tells whose colours come into the palette: how many are looked for; null: no line is drawn. */
  readonly lassoColors: number | null;
  readonly commandList: boolean;
  readonly keysPage: boolean;
  /** Outer columns that are folded away. */
  readonly foldedColumns: ReadonlySet<'easel' | 'side'>;
  /** Whose name is being typed: a layer, a part, a region or a sheet by its number. */
  readonly renaming: {
    readonly of: 'layer' | 'part' | 'region' | 'sheet' | 'project';
    readonly id: number;
  } | null;
}

export type UiState = Habits & Hand;

/** The longest string, pixels. */
export const MOST_STEADY = 150;

const HABITS: Habits = {
  tray: BRUSHES,
  brush: 1,
  brushSet: null,
  color: '#cf5a2e',
  lastColors: [],
  steady: 0,
  fingerLooks: false,
  guardPart: true,
  guardNear: true,
  guardPainted: false,
  guardSeen: false,
  guardLike: false,
  likeTolerance: 8,
  maskHides: true,
  pickSize: 5,
  panes: { left: 'model', right: 'sheet', split: 0.66 },
  ground: 0.5,
  exact: false,
  checkLights: PLAIN_LIGHTS,
  toon: PLAIN_TOON,
  pinnedHeight: 128,
  floating: null,
  columns: { easel: 244, side: 252 },
};

/** What a project begins with. */
export const EMPTY_HAND: Hand = {
  target: null,
  alsoChosen: new Set(),
  folded: new Set(),
  selectedPart: null,
  alsoParts: new Set(),
  hidden: new Set(),
  backdrop: null,
  sheet: 0,
  shown: PAINT,
  light: 'unlit',
  seesAlbedo: false,
  wires: false,
  pinned: null,
  picking: false,
  guardRegion: null,
  glazing: false,
  aiming: null,
  placing: null,
  standIn: null,
  rampAlongForm: false,
  panesBefore: null,
  rampOf: '',
  reference: null,
  swatch: null,
  referenceGrey: false,
  arrangesBoard: false,
  lassoColors: null,
  commandList: false,
  keysPage: false,
  foldedColumns: new Set(),
  renaming: null,
};

const hex = z.string().regex(/^#[0-9a-f]{6}$/);
const part = z.number().min(0).max(1);
const pane = z.enum(['model', 'sheet', 'reference']);

/** What the browser has remembered may be older than this program, or changed by hand. */
const habitsSchema = z
  .object({
    tray: z.array(brushInTray).min(1).max(MOST_BRUSHES),
    brush: z.int().min(0).max(MOST_BRUSHES),
    brushSet: z.string().max(40).nullable(),
    color: hex,
    lastColors: z.array(hex).max(12),
    steady: z.number().min(0).max(MOST_STEADY),
    guardPart: z.boolean(),
    guardNear: z.boolean(),
    guardPainted: z.boolean(),
    guardSeen: z.boolean(),
    guardLike: z.boolean(),
    likeTolerance: z.number().min(0).max(100),
    fingerLooks: z.boolean(),
    maskHides: z.boolean(),
    pickSize: z.literal([1, 5, 15]),
    panes: z.object({ left: pane, right: pane.nullable(), split: z.number().min(0.15).max(0.85) }),
    ground: part,
    exact: z.boolean(),
    checkLights: z.object({
      key: z.tuple([z.number(), z.number(), z.number()]),
      back: z.boolean(),
      sky: hex,
      ground: hex,
    }),
    toon: z.object({
      tones: z.int().min(2).max(6),
      edge: part,
      shade: hex,
      width: z.number().min(0).max(0.1),
      outline: hex,
      highlight: hex.default(PLAIN_TOON.highlight),
      standIns: z.boolean().default(true),
    }),
    pinnedHeight: z.number().int().min(32).max(512),
    floating: z
      .object({
        x: z.number().min(0).max(5000),
        y: z.number().min(0).max(5000),
        width: z.number().min(80).max(4000),
        height: z.number().min(80).max(4000),
      })
      .nullable(),
    columns: z.object({ easel: z.number().min(100).max(800), side: z.number().min(100).max(800) }),
  })
  .partial()
  .refine(({ tray = BRUSHES, brush = 0 }) => brush < tray.length);

const habitsOf = (s: UiState): Habits =>
  Object.fromEntries(Object.keys(HABITS).map((key) => [key, s[key as keyof Habits]])) as unknown as Habits;

export const useUi: UseBoundStore<StoreApi<UiState>> = create<UiState>()(
  persist((): UiState => ({ ...HABITS, ...EMPTY_HAND }), {
    name: 'zanahoria-habits',
    storage: lazyStorage<Habits>(),
    partialize: (s) => ({ ...habitsOf(s), panes: s.panesBefore ?? s.panes }),
    merge: (stored, fresh) => {
      const known = habitsSchema.safeParse(stored);
      return known.success ? { ...fresh, ...(known.data as Partial<Habits>) } : fresh;
    },
  }),
);

/** The colour under the pointer on the model or the sheet: it changes with every move, so nothing else is told of it. */
export const useHover = create<{ readonly under: Rgb | null }>(() => ({ under: null }));

export const brushInHand = (s: UiState): Brush => s.tray[s.brush]!;

/** Takes a brush of the tray in hand, if there is one at that place. */
export const takeBrush = (brush: number): void =>
  useUi.setState(({ tray }) => (brush < tray.length ? { brush } : {}));

export function changeBrush(patch: Partial<Brush>): void {
  useUi.setState((s) => ({ tray: s.tray.map((b, i) => (i === s.brush ? { ...b, ...patch } : b)) }));
}

/** Changes how the brush in hand touches. */
export const changeShape = (patch: Partial<BrushShape>): void =>
  changeBrush({ shape: { ...brushInHand(useUi.getState()).shape, ...patch } });

/** How many colours are remembered. */
const LAST_COLORS = 12;

/** A colour was painted with. */
export function rememberColor(color: string): void {
  const { lastColors } = useUi.getState();
  if (lastColors[0] === color) return;
  useUi.setState({ lastColors: [color, ...lastColors.filter((c) => c !== color)].slice(0, LAST_COLORS) });
}

/** Takes the colour that was in hand before. @returns false if there was none */
export function swapColors(): boolean {
  const { color, lastColors } = useUi.getState();
  const other = lastColors.find((c) => c !== color);
  if (!other) return false;
  rememberColor(color);
  useUi.setState({ color: other });
  return true;
}

/** Looks at one layer by itself, or at everything again if it is looked at already. */
export function toggleShown(of: 'layer' | 'mask', layer: number): void {
  useUi.setState(({ shown }) => ({
    shown: shown.of === of && shown.layer === layer ? PAINT : { of, layer },
  }));
}
