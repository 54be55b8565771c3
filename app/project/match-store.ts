import { create } from 'zustand';
import type { MatchReport } from '../../core/match';
import type { ReferenceRead } from '../../workers';
import type { SheetCopy } from './sheet-copy';

/** What is known of the distance between the paint and the chosen reference. */
export interface MatchView {
  /** Which reference it is about; null: there is none. */
  readonly reference: number | null;
  readonly read: ReferenceRead | null;
  readonly report: MatchReport | null;
  /** The paint has changed since the report was made. */
  readonly isStale: boolean;
  /** Why nothing can be told; empty where it can, or where it is being reckoned. */
  readonly problem: string;
  /** Calls under way. */
  readonly busy: number;
  /** Differences on the picture, RGBA rows, while they are looked at. */
  readonly heat: { readonly width: number; readonly height: number; readonly picture: Uint8Array } | null;
  /** The same on the sheets. */
  readonly heatSheet: SheetCopy | null;
  /** Counts states of paint and reference that pictures may have been made of. */
  readonly revision: number;
}

export const NO_MATCH_VIEW: MatchView = {
  reference: null,
  read: null,
  report: null,
  isStale: false,
  problem: '',
  busy: 0,
  heat: null,
  heatSheet: null,
  revision: 0,
};

export const useMatchView = create<MatchView>(() => NO_MATCH_VIEW);
