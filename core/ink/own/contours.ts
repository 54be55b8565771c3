import { buildRayScene, castRay, type RayScene } from '../../cues';
import { add, dot, normalize, scale, sub, type Vec3 } from '../../math';
import { boundsOf, diagonalOf, nextCorner } from '../../mesh';
import type { InkSurface } from '../ink-surface';
import { chainsOf, partsOfChain, type Chain, type Piece } from './chains';
import type { InkView, OwnSource } from './own-spec';

type Contours = Extract<OwnSource, { along: 'contours' }>;

/** Normals of one place that lie further apart than this (their cosine) stand on a hard edge. */
const HARD = 0.94;

/** A ray begins so far over the surface, parts of the diagonal: it must not meet what it begins on. */
const OVER = 4e-3;

const scenes = new WeakMap<InkSurface, RayScene>();

function sceneOf(ground: InkSurface): RayScene {
  let scene = scenes.get(ground);
  if (!scene) scenes.set(ground, (scene = buildRayScene(ground.mesh.positions, ground.mesh.indices)));
  return scene;
}

/**
 * Lines where the surface turns away from an eye: over smooth triangles where its normal stands square to the way to the eye (A. Hertzmann
 * and D. Zorin, "Illustrating smooth surfaces", 2000), along hard edges between a side that is seen and one that isn't, and along open
 * borders. What lies behind something is left out.
 */
export function contourLines({ views, inner }: Contours, ground: InkSurface): Chain[] {
  return views.flatMap((view) => contoursFrom(view, inner, ground));
}

function contoursFrom(view: InkView, inner: boolean, ground: InkSurface): Chain[] {
  const { mesh, topology } = ground;
  const { positions: p, normals: n, indices } = mesh;
  const { ofCorner, ends } = topology.edges;
  const edgeCount = topology.edges.uses.length;
  const point = (v: number): Vec3 => [p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!];
  const normal = (v: number): Vec3 => [n[v * 3]!, n[v * 3 + 1]!, n[v * 3 + 2]!];
  const eye = view.eye as Vec3;
  const toEye = (from: Vec3): Vec3 => normalize(view.flat ? eye : sub(eye, from));
  /** How much the surface looks at the eye at each vertex, as split by hard edges. */
  const facing = new Float64Array(p.length / 3);
  for (let v = 0; v < facing.length; v++) facing[v] = dot(normal(v), toEye(point(v))) || 1e-12;
  const places = new Map<number, Vec3>();
  const outward = new Map<number, Vec3>();
  const pieces: Piece[] = [];
  /** Numbers of places: vertices, then crossings of smooth edges, then those of hard ones, a corner each. */
  const vertices = p.length / 3;
  const isHard = (c: number): boolean => {
    const beyond = topology.across[c]!;
    if (beyond < 0) return true;
    const [a, b] = [indices[c]!, indices[nextCorner(c)]!];
    const [d, e] = [indices[beyond]!, indices[nextCorner(beyond)]!];
    return dot(normal(a), normal(e)) < HARD || dot(normal(b), normal(d)) < HARD;
  };
  const crossing = (c: number): number => {
    const [a, b] = [indices[c]!, indices[nextCorner(c)]!];
    const id = vertices + (isHard(c) ? edgeCount + c : ofCorner[c]!);
    const t = facing[a]! / (facing[a]! - facing[b]!);
    places.set(id, add(point(a), scale(sub(point(b), point(a)), t)));
    outward.set(id, normalize(add(scale(normal(a), 1 - t), scale(normal(b), t))));
    return id;
  };
  const faceLooks = (face: number): number => dot(ground.normalOf(face), toEye(ground.corner(face, 0)));
  for (let f = 0; f < indices.length / 3; f++) {
    const crossed = [0, 1, 2]
      .map((k) => f * 3 + k)
      .filter((c) => facing[indices[c]!]! > 0 !== facing[indices[nextCorner(c)]!]! > 0);
    if (crossed.length === 2) pieces.push([crossing(crossed[0]!), crossing(crossed[1]!)]);
  }
  for (let c = 0; c < indices.length; c++) {
    const beyond = topology.across[c]!;
    if (beyond > c || !isHard(c)) continue;
    const face = Math.floor(c / 3);
    const isEdge = beyond < 0 || faceLooks(face) > 0 !== faceLooks(Math.floor(beyond / 3)) > 0;
    if (!isEdge) continue;
    const e = ofCorner[c]!;
    const [a, b] = [ends[e * 2]!, ends[e * 2 + 1]!];
    const out =
      beyond < 0
        ? ground.normalOf(face)
        : normalize(add(ground.normalOf(face), ground.normalOf(Math.floor(beyond / 3))));
    for (const v of [a, b]) {
      places.set(v, point(v));
      outward.set(v, out);
    }
    pieces.push([a, b]);
  }
  const diagonal = diagonalOf(boundsOf(p));
  const scene = sceneOf(ground);
  const far = diagonal * 4;
  const isSeen = (piece: number): boolean => {
    const [a, b] = pieces[piece]!;
    const middle = scale(add(places.get(a)!, places.get(b)!), 0.5);
    const way = toEye(middle);
    const out = normalize(add(outward.get(a)!, outward.get(b)!));
    // An open border seen from behind has its normal on the far side.
    const over = add(add(middle, scale(out, OVER * diagonal)), scale(way, OVER * diagonal));
    if (castRay(scene, over, way, far, true) < Infinity) return false;
    if (inner) return true;
    const beyond = add(middle, scale(out, OVER * diagonal));
    return castRay(scene, beyond, scale(way, -1), far, true) === Infinity;
  };
  return chainsOf(pieces, (id) => places.get(id)!, 0.2).flatMap((chain) => partsOfChain(chain, isSeen));
}
