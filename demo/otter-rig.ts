import { WebIO, type Accessor, type Document, type Node, type Primitive } from '@gltf-transform/core';
import { KHRMaterialsUnlit } from '@gltf-transform/extensions';
import { importModel, writeUnlitGlb } from '../core/formats';
import { smoothstep, type Vec3 } from '../core/math';
import { requireUvs, type UvMesh } from '../core/mesh';

/** The otter with its file, which has a skeleton and two clips. */
export interface Rigged {
  readonly mesh: UvMesh;
  readonly file: Uint8Array;
}

const ELBOW = [-0.47, 0.76, 0.13] as const;
const OTHER_ELBOW = [0.52, 0.75, 0.06] as const;

/** Each joint with where it stands and what it hangs on, the first ones first. */
const JOINTS = [
  ['Hips', [0, 0.35, 0], null],
  ['Spine', [0, 0.7, 0], 'Hips'],
  ['Head', [0, 1.12, 0], 'Spine'],
  ['Spoon arm', [-0.3, 0.98, 0.04], 'Spine'],
  ['Spoon hand', ELBOW, 'Spoon arm'],
  ['Spoon', [-0.5, 0.66, 0.4], 'Spoon hand'],
  ['Other arm', [0.3, 0.98, 0.04], 'Spine'],
  ['Other hand', OTHER_ELBOW, 'Other arm'],
  ['Tail', [0.05, 0.26, -0.3], 'Hips'],
  ['Tail end', [0.62, 0.13, -0.5], 'Tail'],
] as const satisfies readonly (readonly [string, Vec3, string | null])[];

type Joint = (typeof JOINTS)[number][0];

const RIGID: Readonly<Record<string, Joint>> = {
  Head: 'Head',
  Ears: 'Head',
  Muzzle: 'Head',
  Nose: 'Head',
  Eyes: 'Head',
  Headband: 'Head',
  Whiskers: 'Head',
  Scarf: 'Spine',
  Spoon: 'Spoon',
};

type Share = readonly [Joint, number];

const between = (a: Joint, b: Joint, t: number): Share[] => [
  [a, 1 - t],
  [b, t],
];

const far = (p: Vec3, q: Vec3): number => Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);

/** What holds a vertex of a part. */
function heldBy(part: string, p: Vec3): Share[] {
  const rigid = RIGID[part];
  if (rigid) return [[rigid, 1]];
  if (part === 'Arms') {
    const isSpoon = p[0] < 0;
    const elbow = isSpoon ? ELBOW : OTHER_ELBOW;
    const [arm, hand]: readonly [Joint, Joint] = isSpoon
      ? ['Spoon arm', 'Spoon hand']
      : ['Other arm', 'Other hand'];
    const shoulder: Vec3 = [isSpoon ? -0.3 : 0.3, 0.98, 0.04];
    const end: Vec3 = isSpoon ? [-0.5, 0.66, 0.4] : [0.47, 0.5, 0.27];
    const past = smoothstep(-0.12, 0.12, far(p, shoulder) - far(p, end));
    return between(arm, hand, far(p, elbow) > 0.3 && past < 0.5 ? 0 : past);
  }
  if (part === 'Tail') {
    const out = smoothstep(0, 0.25, far(p, [0.05, 0.26, -0.3]) - 0.1);
    const end = smoothstep(0.3, 0.75, p[0]);
    return [
      ['Hips', 1 - out],
      ['Tail', out * (1 - end)],
      ['Tail end', out * end],
    ];
  }
  return between('Hips', 'Spine', smoothstep(0.3, 0.85, p[1]));
}

/** Puts a skeleton and two clips into the otter's file: breathing, and stirring the pot. */
export async function rigOtter(otter: UvMesh): Promise<Rigged> {
  const io = new WebIO().registerExtensions([KHRMaterialsUnlit]);
  const document = await io.readBinary(await writeUnlitGlb(otter, 'otter', []));
  const joints = addSkeleton(document);
  addClip(document, joints, 'Breathing', 3, BREATHING);
  addClip(document, joints, 'Stirring', 2, STIRRING);
  const file = await io.writeBinary(document);
  const { mesh, file: kept } = await importModel('otter.glb', file);
  return { mesh: requireUvs(mesh), file: kept! };
}

type Numbers = Float32Array<ArrayBuffer> | Uint8Array<ArrayBuffer>;

function accessor(document: Document, type: 'VEC4' | 'VEC3' | 'SCALAR' | 'MAT4', array: Numbers): Accessor {
  const [buffer] = document.getRoot().listBuffers();
  return document.createAccessor().setType(type).setArray(array).setBuffer(buffer!);
}

function addSkeleton(document: Document): ReadonlyMap<string, Node> {
  const root = document.getRoot();
  const [scene] = root.listScenes();
  const parts = root.listNodes();
  const nodes = new Map<string, Node>();
  const skin = document.createSkin('Otter');
  const binds: number[] = [];
  for (const [name, at, parent] of JOINTS) {
    const on = JOINTS.find(([other]) => other === parent)?.[1] ?? [0, 0, 0];
    const node = document.createNode(name).setTranslation([at[0] - on[0], at[1] - on[1], at[2] - on[2]]);
    nodes.set(name, node);
    if (parent) nodes.get(parent)!.addChild(node);
    else scene!.addChild(node);
    skin.addJoint(node);
    binds.push(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, -at[0], -at[1], -at[2], 1);
  }
  skin.setInverseBindMatrices(accessor(document, 'MAT4', Float32Array.from(binds)));
  for (const part of parts) {
    part.setSkin(skin);
    for (const primitive of part.getMesh()!.listPrimitives()) hold(document, primitive, part.getName());
  }
  return nodes;
}

function hold(document: Document, primitive: Primitive, part: string): void {
  const positions = primitive.getAttribute('POSITION')!.getArray()!;
  const held = Array.from({ length: positions.length / 3 }, (_, v) =>
    heldBy(part, [positions[v * 3]!, positions[v * 3 + 1]!, positions[v * 3 + 2]!]),
  );
  const four = (of: (share: Share) => number): number[] =>
    held.flatMap((shares) => [0, 1, 2, 3].map((k) => (shares[k] ? of(shares[k]) : 0)));
  const numberOf = ([joint, weight]: Share): number =>
    weight > 0 ? JOINTS.findIndex(([name]) => name === joint) : 0;
  primitive
    .setAttribute('JOINTS_0', accessor(document, 'VEC4', Uint8Array.from(four(numberOf))))
    .setAttribute('WEIGHTS_0', accessor(document, 'VEC4', Float32Array.from(four(([, weight]) => weight))));
}

/** How a joint turns: degrees about x, y and z at a part 0..1 of the clip. */
type Turn = (t: number) => Vec3;

const wave = (t: number, late = 0): number => Math.sin((t - late) * 2 * Math.PI);

const BREATHING: Partial<Record<Joint, Turn>> = {
  Spine: (t) => [-1.5 * (1 - wave(t, 0.25)) * 0.5, 0, 0],
  Head: (t) => [1.2 * wave(t, 0.35), 0, 1.5 * wave(t)],
  'Spoon arm': (t) => [0, 0, -2.5 * (1 + wave(t, 0.3))],
  'Other arm': (t) => [0, 0, 2.5 * (1 + wave(t, 0.3))],
  Tail: (t) => [0, 5 * wave(t, 0.1), 0],
  'Tail end': (t) => [0, 8 * wave(t, 0.25), 0],
};

const STIRRING: Partial<Record<Joint, Turn>> = {
  Hips: (t) => [0, 4 * wave(t), 0],
  Spine: (t) => [4, 5 * wave(t, 0.05), 0],
  Head: (t) => [6, -6 * wave(t, 0.1), 0],
  'Spoon arm': (t) => [-38 + 9 * wave(t), 0, -32 + 9 * wave(t, 0.25)],
  'Spoon hand': (t) => [30 + 10 * wave(t, 0.1), 0, 12 * wave(t, 0.35)],
  Spoon: (t) => [150 + 8 * wave(t, 0.2), 0, -40 + 12 * wave(t)],
  'Other arm': (t) => [0, 0, 6 + 3 * wave(t, 0.5)],
  Tail: (t) => [0, 9 * wave(t, 0.2), 0],
  'Tail end': (t) => [0, 14 * wave(t, 0.35), 0],
};

/** Keys of a clip. */
const KEYS = 16;

function addClip(
  document: Document,
  joints: ReadonlyMap<string, Node>,
  name: string,
  seconds: number,
  turns: Partial<Record<Joint, Turn>>,
): void {
  const clip = document.createAnimation(name);
  const parts = Array.from({ length: KEYS + 1 }, (_, k) => k / KEYS);
  const times = accessor(
    document,
    'SCALAR',
    Float32Array.from(parts, (t) => t * seconds),
  );
  for (const [joint, turn] of Object.entries(turns)) {
    const rotations = Float32Array.from(parts.flatMap((t) => quaternion(turn(t))));
    const sampler = document
      .createAnimationSampler()
      .setInput(times)
      .setOutput(accessor(document, 'VEC4', rotations));
    const channel = document
      .createAnimationChannel()
      .setTargetNode(joints.get(joint)!)
      .setTargetPath('rotation')
      .setSampler(sampler);
    clip.addSampler(sampler).addChannel(channel);
  }
}

/** A turn about z, then y, then x, degrees, as a unit quaternion xyzw. */
function quaternion(degrees: Vec3): number[] {
  const [a, b, c] = degrees.map((d) => (d * Math.PI) / 360) as [number, number, number];
  const [sx, cx, sy, cy, sz, cz] = [
    Math.sin(a),
    Math.cos(a),
    Math.sin(b),
    Math.cos(b),
    Math.sin(c),
    Math.cos(c),
  ];
  return [
    sx * cy * cz + cx * sy * sz,
    cx * sy * cz - sx * cy * sz,
    cx * cy * sz + sx * sy * cz,
    cx * cy * cz - sx * sy * sz,
  ];
}
