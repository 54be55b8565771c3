import { create } from 'zustand';
import { DEFAULT_MARGIN, type Arrange, type CutPlan, type WishedFaces } from '../../core/unwrap';
import { findIslands, groupByEdge, topologyOf, type Topology, type UvMesh } from '../../core/mesh';

export type LayoutTool = 'island' | 'seam' | 'loop' | 'edge' | 'slide' | 'wish';

/** What is wished for where seams are concerned. */
export type SeamWish = 'never' | 'gladly' | 'none';

/** A natural cut that was planned, and what it was planned for. */
export interface PlannedCut {
  readonly plan: CutPlan;
  readonly mesh: UvMesh;
  readonly sheet: number | null;
  readonly kept: readonly number[];
  readonly wishes: WishedFaces;
  /** What shared texels, and what was kept apart. */
  readonly shares: Pick<LayoutState, 'stacks' | 'apart'>;
}

/** What is in hand at the Unwrap stage. The layout itself belongs to the document. */
export interface LayoutState {
  readonly tool: LayoutTool;
  /** Triangles that are lit up in both views: chosen islands, or what a finding names. */
  readonly chosen: ReadonlySet<number>;
  /** The welded vertex from which the next piece of seam will be drawn. */
  readonly from: number | null;
  /** Edges that a click would mark. */
  readonly ahead: readonly number[];
  /** Seams are taken off instead of marked, in all the same ways. */
  readonly takeOff: boolean;
  /** Seams are drawn on both sides of x = 0. */
  readonly mirror: boolean;
  /** New seams are paint edges too; taking off leaves the seam and takes the paint edge. */
  readonly paintEdge: boolean;
  /** What the brush says of the triangles that it goes over, and how wide it is, CSS pixels. */
  readonly wish: SeamWish;
  readonly wishSize: number;
  /** Triangles that the stroke in hand has gone over. */
  readonly wishAhead: ReadonlySet<number>;
  /** Seams that were drawn or moved by hand stay when the model is laid out anew. */
  readonly keeps: boolean;
  /** Texels between islands when they are laid out or packed. */
  readonly margin: number;
  /** How islands are arranged when they are laid out or packed. */
  readonly arrange: Arrange;
  /** Mirrored halves and equal pieces share texels when the model is laid out. */
  readonly stacks: boolean;
  /** What has texels of its own all the same: parts by name, regions by id. */
  readonly apart: ReadonlySet<string | number>;
  readonly planned: PlannedCut | null;
  /** A layout that is looked at before it is taken. */
  readonly preview: {
    readonly mesh: UvMesh;
    readonly label: string;
    /** Its seams become seams of the project, on this sheet or on all. */
    readonly marks: { readonly sheet: number | null } | null;
    /** Places share texels in it because they are meant to. */
    readonly stacked: boolean;
  } | null;
}

export const NO_LAYOUT_STATE: LayoutState = {
  tool: 'island',
  chosen: new Set(),
  from: null,
  ahead: [],
  takeOff: false,
  mirror: false,
  paintEdge: false,
  wish: 'never',
  wishSize: 36,
  wishAhead: new Set(),
  keeps: true,
  margin: DEFAULT_MARGIN,
  arrange: 'upright',
  stacks: false,
  apart: new Set(),
  planned: null,
  preview: null,
};

export const useLayout = create<LayoutState>(() => NO_LAYOUT_STATE);

const topologies = new WeakMap<UvMesh, Topology>();
const islands = new WeakMap<UvMesh, ReturnType<typeof findIslands>>();

/** How a mesh hangs together; reckoned once. */
export function topologyFor(mesh: UvMesh): Topology {
  let known = topologies.get(mesh);
  if (!known) topologies.set(mesh, (known = topologyOf(mesh)));
  return known;
}

export function islandsFor(mesh: UvMesh): ReturnType<typeof findIslands> {
  let known = islands.get(mesh);
  if (!known) islands.set(mesh, (known = findIslands(mesh)));
  return known;
}

/** All triangles of the islands that some triangles hang together with on the model. */
export function wholeComponents(mesh: UvMesh, faces: Iterable<number>): Set<number> {
  const { ofFace } = groupByEdge(topologyFor(mesh).edges, mesh.faceParts.length);
  const wanted = new Set([...faces].map((f) => ofFace[f]));
  const out: number[] = [];
  ofFace.forEach((component, f) => {
    if (wanted.has(component)) out.push(f);
  });
  return wholeIslands(mesh, out);
}

/** All triangles of the islands that some triangles belong to. */
export function wholeIslands(mesh: UvMesh, faces: Iterable<number>): Set<number> {
  const { ofFace } = islandsFor(mesh);
  const wanted = new Set([...faces].map((f) => ofFace[f]));
  const out = new Set<number>();
  ofFace.forEach((island, f) => {
    if (wanted.has(island)) out.add(f);
  });
  return out;
}
