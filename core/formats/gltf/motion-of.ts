import type { Accessor, Document, Primitive } from '@gltf-transform/core';
import {
  CHANNEL_PATHS,
  type Motion,
  type MotionChannel,
  type MotionClip,
  type MotionPiece,
} from '../../motion';
import type { Slot } from './slot';
import { uniqueNames } from '../model-builder';

/** How a glTF stands and moves, in numbers. */
export function motionOf(document: Document, slots: readonly Slot[]): Motion {
  const root = document.getRoot();
  // A pose names its clip, and the nodes whose morph targets it sets.
  const nameOf = uniqueNames();
  const nodeNameOf = uniqueNames();
  const nodes = root.listNodes();
  const numberOf = new Map([...nodes.entries()].map(([i, node]) => [node, i]));
  const skins = root.listSkins();
  return {
    nodes: nodes.map((node) => {
      const mesh = node.getMesh();
      const count = Math.max(0, ...(mesh?.listPrimitives().map((p) => p.listTargets().length) ?? []));
      const own = node.getWeights().length > 0 ? node.getWeights() : (mesh?.getWeights() ?? []);
      const parent = node.getParentNode();
      return {
        name: nodeNameOf(String(node.getName()) || 'Node'),
        parent: parent ? (numberOf.get(parent) ?? -1) : -1,
        translation: node.getTranslation(),
        rotation: node.getRotation(),
        scale: node.getScale(),
        matrix: null,
        weights: Array.from({ length: count }, (_, t) => own[t] ?? 0),
        targets: namesOf(mesh?.getExtras()['targetNames']),
      };
    }),
    skins: skins.map((skin) => {
      const binds = skin.getInverseBindMatrices();
      const joints = skin.listJoints();
      return {
        joints: joints.map((joint) => numberOf.get(joint)!),
        binds: joints.flatMap((_, j) => (binds && j < binds.getCount() ? [binds.getElement(j, [])] : [])),
      };
    }),
    clips: root.listAnimations().map((animation, i): MotionClip => {
      const channels = animation.listChannels().flatMap((channel): MotionChannel[] => {
        const [node, sampler] = [channel.getTargetNode(), channel.getSampler()];
        const path = CHANNEL_PATHS.find((p) => p === channel.getTargetPath());
        const [input, output] = [sampler?.getInput(), sampler?.getOutput()];
        // A channel without keys says nothing.
        if (!node || !sampler || !path || !input || !output || input.getCount() === 0) return [];
        const how = sampler.getInterpolation();
        const [times, values] = [numbersOf(input), numbersOf(output)];
        const each = path === 'weights' ? 1 : path === 'rotation' ? 4 : 3;
        if (values.length < times.length * each * (how === 'CUBICSPLINE' ? 3 : 1)) return [];
        return [{ node: numberOf.get(node)!, path, how, times, values }];
      });
      const seconds = channels.reduce((most, c) => Math.max(most, c.times.at(-1)!), 0);
      return { name: nameOf(String(animation.getName()) || `Clip ${i + 1}`), seconds, channels };
    }),
    pieces: slots.map(({ at, node, primitive }) => {
      const skin = node.getSkin();
      return pieceOf(primitive, at.node, skin ? skins.indexOf(skin) : -1, skin?.listJoints().length ?? 0);
    }),
  };
}

const namesOf = (given: unknown): string[] =>
  Array.isArray(given) ? given.map((name) => (typeof name === 'string' ? name : '')) : [];

function pieceOf(primitive: Primitive, node: number, skin: number, joints: number): MotionPiece {
  const position = primitive.getAttribute('POSITION')!;
  const count = position.getCount();
  const fitting = (accessor: Accessor | null): Float32Array | null =>
    // A target of other vertices than the piece has moves nothing.
    accessor?.getCount() === count ? numbersOf(accessor) : null;
  return {
    node,
    skin,
    positions: numbersOf(position),
    normals: fitting(primitive.getAttribute('NORMAL')),
    ...influencesOf(primitive, count, skin < 0 ? 0 : joints),
    targets: primitive.listTargets().map((target) => ({
      positions: fitting(target.getAttribute('POSITION')),
      normals: fitting(target.getAttribute('NORMAL')),
    })),
  };
}

/** Which joints move each vertex, and by how much; shares of what the weights sum to, whatever that is. */
function influencesOf(
  primitive: Primitive,
  count: number,
  joints: number,
): Pick<MotionPiece, 'joints' | 'weights' | 'influences'> {
  const sets = [0, 1].flatMap((n) => {
    const [of, by] = [primitive.getAttribute(`JOINTS_${n}`), primitive.getAttribute(`WEIGHTS_${n}`)];
    return of && by && of.getCount() === count && by.getCount() === count ? [{ of, by }] : [];
  });
  if (sets.length === 0 || joints === 0) return { joints: null, weights: null, influences: 0 };
  const influences = sets.length * 4;
  const out = { joints: new Uint16Array(count * influences), weights: new Float32Array(count * influences) };
  const [of, by]: [number[], number[]] = [[], []];
  for (let v = 0; v < count; v++) {
    const first = v * influences;
    let whole = 0;
    sets.forEach((set, s) => {
      set.of.getElement(v, of);
      set.by.getElement(v, by);
      for (let k = 0; k < 4; k++) {
        // A joint that the skin hasn't got holds nothing.
        const weight = of[k]! < joints && by[k]! > 0 ? by[k]! : 0;
        out.joints[first + s * 4 + k] = weight > 0 ? of[k]! : 0;
        out.weights[first + s * 4 + k] = weight;
        whole += weight;
      }
    });
    if (whole > 0) for (let k = first; k < first + influences; k++) out.weights[k]! /= whole;
  }
  return { ...out, influences };
}

/** An accessor as 32-bit floats, whatever it is packed as. */
function numbersOf(accessor: Accessor): Float32Array {
  const stride = accessor.getElementSize();
  const array = accessor.getArray();
  if (array instanceof Float32Array) return array.slice();
  const out = new Float32Array(accessor.getCount() * stride);
  const e: number[] = [];
  for (let i = 0; i < accessor.getCount(); i++) {
    accessor.getElement(i, e);
    for (let k = 0; k < stride; k++) out[i * stride + k] = e[k]!;
  }
  return out;
}
