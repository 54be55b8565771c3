import { create } from 'zustand';
import type { Advice, MatchReport, Simplified, Span } from '../../core/match';
import type { Vec3 } from '../../core/math';
import { isShown } from '../shared/panes';
import { useUi } from '../shared/ui-store';
import { WHOLE_PICTURE, type PictureZoom } from '../viewport';

/** How the two pictures stand to one another. */
export const ARRANGED = ['beside', 'over', 'wipe', 'difference', 'flicker'] as const;
export type Arranged = (typeof ARRANGED)[number];

/** What the hand does in the picture. */
export type MatchTool = 'look' | 'pairs' | 'mask' | 'spans';

/** A change that was tried, to be kept or taken back. */
export interface Trial {
  readonly title: string;
  /** The step of the history that it is. */
  readonly step: number;
  readonly before: MatchReport['deltaE'];
  readonly after: MatchReport['deltaE'];
  /** ΔE of the area that it is about. */
  readonly area: { readonly name: string; readonly before: number; readonly after: number } | null;
}

export interface MatchUi {
  readonly arranged: Arranged;
  readonly how: Simplified;
  /** Of the painting over the reference. */
  readonly opacity: number;
  /** The wipe's line: where it crosses the picture, parts of its width and height, and its turn from upright, radians. */
  readonly wipe: { readonly x: number; readonly y: number; readonly angle: number };
  /** Changes a second. */
  readonly rate: number;
  /** Height at which both are seen, pixels; null: as large as there is room. */
  readonly gameSize: number | null;
  readonly mirrored: boolean;
  readonly upsideDown: boolean;
  readonly outlines: boolean;
  /** The reference lies over the model, so that the model can be moved until it fits; how much of it is seen. */
  readonly tracing: number | null;
  readonly zoom: PictureZoom;
  readonly tool: MatchTool;
  /** A place of the model or of the picture that waits for its other half. */
  readonly half: { readonly model: Vec3 } | { readonly picture: readonly [number, number] } | null;
  /** The pair that is chosen. */
  readonly pair: number | null;
  /** Ends of a length that is being set. */
  readonly span: Partial<Span> & { readonly from?: Vec3; readonly at?: readonly [number, number] };
  readonly maskAdds: boolean;
  /** Pixels of the picture across. */
  readonly maskSize: number;
  readonly maskPart: string | null;
  /** Arrows tell what a free drawing bends. */
  readonly bends: boolean;
  /** The part of that list that is pointed at. */
  readonly shownBend: string | null;
  /** A place of the picture that is pointed out. */
  readonly shownPlace: readonly [number, number] | null;
  readonly trial: Trial | null;
  /** A change is being tried. */
  readonly isTrying: boolean;
  readonly page: boolean;
  /** What is pointed out. */
  readonly shownAdvice: Advice | null;
  /** All that would help is listed. */
  readonly allAdvice: boolean;
  /** Values are summed up from dark to light. */
  readonly cumulative: boolean;
}

export const useMatch = create<MatchUi>(() => ({
  arranged: 'beside',
  how: { as: 'colors' },
  opacity: 0.5,
  wipe: { x: 0.5, y: 0.5, angle: 0.2 },
  rate: 2,
  gameSize: null,
  mirrored: false,
  upsideDown: false,
  outlines: false,
  tracing: null,
  zoom: WHOLE_PICTURE,
  tool: 'look',
  half: null,
  pair: null,
  span: {},
  maskAdds: true,
  maskSize: 24,
  maskPart: null,
  bends: true,
  shownBend: null,
  shownPlace: null,
  trial: null,
  isTrying: false,
  page: false,
  shownAdvice: null,
  allAdvice: false,
  cumulative: false,
}));

/** Whether the model is seen live beside the reference: pictures that are simplified or laid over one another come from the worker. */
export const isLive = ({ arranged, how, gameSize, mirrored, upsideDown, outlines }: MatchUi): boolean =>
  arranged === 'beside' && how.as === 'colors' && gameSize === null && !mirrored && !upsideDown && !outlines;

/** How both stand to one another. Beside one another they stand again, too, where the panes were arranged anew. */
export function arrange(arranged: Arranged): void {
  useMatch.setState({ arranged });
  useUi.setState(({ panes }) =>
    arranged === 'beside' && !isShown(panes, 'match')
      ? { panes: { ...panes, left: 'model', right: 'match' } }
      : {},
  );
}

/** Picks a tool up, or puts it down. The two stand beside one another for it. */
export const toggleTool = (tool: MatchTool): void =>
  useMatch.setState((s) => ({
    tool: s.tool === tool ? 'look' : tool,
    arranged: 'beside',
    how: { as: 'colors' },
    half: null,
  }));
