import { followCue } from '../cues';
import { followNames, followTargets, type Follower } from '../follow';
import { kindOf, type MaskStep } from '../layers';
import { followPlan } from '../light';
import { isMirror, placedTurn } from '../math';
import { followMatch } from '../match';
import { followSeat } from '../ramps';
import { followGuards, followRegion } from '../region';
import { changeNodes, isGroup } from './layer-tree';
import type { LayerNode, ProjectDocument } from './schema';

/** What a field of the document says of the model, after the model has changed; `stays`: it says nothing of it. */
type Follow<V> = ((value: V, model: Follower) => V) | 'stays';

/**
 * How each field of the document follows the model. The compiler asks for every one, so that what comes to the document later isn't forgotten.
 *
 * Places, lengths, parts and triangles go with the model. Directions of light, and of cues that tell where up or a light is, are the world's: a
 * model that is stood upright is lit from above as before.
 */
const FOLLOW: { readonly [K in keyof ProjectDocument]: Follow<ProjectDocument[K]> } = {
  version: 'stays',
  name: 'stays',
  // Whoever changes the model says what becomes of its sheets, its own hash, and what planes lie on.
  sheets: 'stays',
  model: 'stays',
  bases: 'stays',
  twins: 'stays',
  palette: 'stays',
  looks: 'stays',
  patterns: 'stays',
  nextId: 'stays',
  layers: (layers, model) => [...changeNodes(layers, (node) => followNode(node, model))],
  lights: (lights, model) => lights.map((light) => ({ ...light, plan: followPlan(light.plan, model) })),
  ramps: (ramps, model) =>
    ramps && {
      ...ramps,
      seats: followTargets(ramps.seats, model.names).map((seat) => followSeat(seat, model)),
    },
  references: (references, model) =>
    references.map((r) => (r.match ? { ...r, match: followMatch(r.match, model) } : r)),
  cameras: (cameras, model) => cameras.map((camera) => ({ ...camera, pose: followPose(camera.pose, model) })),
  dense: (dense, model) => dense && { ...dense, placing: model.filePlacing(dense.placing) },
  modelFile: (file, model) => file && { ...file, placing: model.filePlacing(file.placing) },
  seams: (corners, model) => model.corners(corners),
  paintEdges: (corners, model) => model.corners(corners),
  foundSeams: (corners, model) => model.corners(corners),
  seamPoints: (corners, model) => model.corners(corners),
  seamWishes: ({ never, gladly }, model) => ({ never: model.runs(never), gladly: model.runs(gladly) }),
  weights: (weights, { names }) => followNames(weights, names),
  // An island of other triangles is another one.
  pins: (faces, model) => (model.faces.exact ? model.faceList(faces) : []),
  regions: (regions, model) => regions.map((region) => followRegion(region, model)),
  guards: (guards, model) => followGuards(guards, model),
  frames: (frames, model) => model.frames(frames),
};

/** A document when the model changes: all that refers to it follows. */
export function followModel(document: ProjectDocument, model: Follower): ProjectDocument {
  const out: Record<string, unknown> = { ...document };
  for (const [key, follow] of Object.entries(FOLLOW) as [keyof ProjectDocument, Follow<unknown>][])
    if (follow !== 'stays') out[key] = follow(document[key], model);
  return out as ProjectDocument;
}

function followNode(node: LayerNode, model: Follower): LayerNode {
  const mask = node.mask.map((step) => followStep(step, model));
  const isSame = mask.every((step, i) => step === node.mask[i]);
  const masked = isSame ? node : { ...node, mask };
  if (isGroup(masked)) return masked;
  const kind = kindOf(masked);
  return kind.form === 'derived' && kind.follow ? kind.follow(masked, model) : masked;
}

function followStep(step: MaskStep, model: Follower): MaskStep {
  switch (step.from) {
    case 'cue': {
      const cue = followCue(step.cue, model);
      return cue === step.cue ? step : { ...step, cue };
    }
    case 'parts': {
      if (model.names.size === 0) return step;
      return { ...step, parts: [...new Set(step.parts.map((name) => model.names.get(name) ?? name))] };
    }
    case 'region':
    case 'pattern':
    case 'layer':
    case 'painted':
      return step;
  }
}

/** A kept camera shows the same of the model. A mirrored model is seen from the same side. */
function followPose(
  pose: ProjectDocument['cameras'][number]['pose'],
  model: Follower,
): ProjectDocument['cameras'][number]['pose'] {
  const { placing } = model;
  if (!placing) return pose;
  return {
    ...pose,
    target: [...model.point(pose.target)],
    turn: isMirror(placing) ? pose.turn : placedTurn(pose.turn, placing),
    distance: pose.distance * model.times,
  };
}
