import type { Detail } from '../document';

/** What the picture shows instead of the whole build-up. */
export interface BuildUpView {
  /** Only this node, at full opacity. */
  readonly alone: number | null;
  /** This node's mask as grey; its alpha where it has none. */
  readonly maskOf: number | null;
  /** A mask of the detail sheet, as grey; null: the albedo. */
  readonly detail: Detail | null;
}

export const WHOLE_BUILD_UP: BuildUpView = { alone: null, maskOf: null, detail: null };
