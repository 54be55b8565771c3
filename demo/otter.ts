import { smoothstep } from '../core/math';
import type { UvMesh } from '../core/mesh';
import {
  bothSides,
  ellipsoid,
  mirrored,
  ring,
  rod,
  roundBox,
  sphere,
  turned,
  union,
  without,
  type Sdf,
} from './sdf';
import { frontBack, leftRight, ModelMaker, planeThrough, upDown } from './solid';

/** The otter's build, shared by the parts that lie on one another. */
const head = union(
  0.16,
  ellipsoid([0, 1.47, 0], [0.5, 0.47, 0.44]),
  ellipsoid([0, 1.33, 0.02], [0.53, 0.3, 0.42]),
);
const torso = union(
  0.2,
  ellipsoid([0, 0.62, 0], [0.43, 0.5, 0.37]),
  ellipsoid([0, 0.42, 0.02], [0.47, 0.36, 0.4]),
  ellipsoid([0, 0.98, 0], [0.3, 0.24, 0.26]),
);
const legs = bothSides(
  union(
    0.1,
    rod([0.23, 0.24, 0.03], 0.16, [0.25, 0.1, 0.06], 0.13),
    ellipsoid([0.26, 0.06, 0.19], [0.14, 0.075, 0.2]),
  ),
);
const body = union(0.09, torso, legs);

/** The otter cook: about 2 units tall, standing on y = 0, looking along +z. */
export function makeOtter(): UvMesh {
  const maker = new ModelMaker();
  maker.solid(
    'Head',
    head,
    [
      [-0.62, 0.95, -0.55],
      [0.62, 2.05, 0.55],
    ],
    {
      triangles: 900,
      cell: 0.035,
      cuts: [frontBack(-0.06)],
      density: 1.25,
    },
  );
  const ear = without(
    0.05,
    ellipsoid([0.44, 1.78, -0.04], [0.14, 0.14, 0.085]),
    ellipsoid([0.46, 1.79, 0.07], [0.08, 0.08, 0.05]),
  );
  maker.solid(
    'Ears',
    bothSides(ear),
    [
      [-0.65, 1.58, -0.2],
      [0.65, 2.0, 0.15],
    ],
    {
      triangles: 360,
      cell: 0.02,
      cuts: [frontBack(-0.02), leftRight(0)],
    },
  );
  const muzzle = union(
    0.1,
    ellipsoid([0.15, 1.27, 0.36], [0.21, 0.17, 0.17]),
    ellipsoid([-0.15, 1.27, 0.36], [0.21, 0.17, 0.17]),
    ellipsoid([0, 1.2, 0.36], [0.15, 0.13, 0.13]),
  );
  maker.solid(
    'Muzzle',
    muzzle,
    [
      [-0.45, 1.0, 0.1],
      [0.45, 1.5, 0.6],
    ],
    {
      triangles: 620,
      cell: 0.025,
      cuts: [frontBack(0.3)],
      density: 1.4,
    },
  );
  const nose = union(
    0.07,
    ellipsoid([0.055, 1.405, 0.5], [0.075, 0.05, 0.06]),
    ellipsoid([-0.055, 1.405, 0.5], [0.075, 0.05, 0.06]),
    ellipsoid([0, 1.365, 0.51], [0.045, 0.05, 0.05]),
  );
  maker.solid(
    'Nose',
    nose,
    [
      [-0.2, 1.28, 0.36],
      [0.2, 1.5, 0.62],
    ],
    {
      triangles: 220,
      cell: 0.016,
      cuts: [frontBack(0.49)],
      density: 1.4,
    },
  );
  const eye = ellipsoid([0.215, 1.5, 0.362], [0.082, 0.102, 0.062]);
  maker.solid(
    'Eyes',
    bothSides(eye),
    [
      [-0.32, 1.38, 0.27],
      [0.32, 1.62, 0.46],
    ],
    {
      triangles: 360,
      cell: 0.016,
      cuts: [frontBack(0.355), leftRight(0)],
      density: 2,
    },
  );
  maker.solid(
    'Body',
    body,
    [
      [-0.6, -0.06, -0.5],
      [0.6, 1.3, 0.55],
    ],
    {
      triangles: 1250,
      cell: 0.04,
      cuts: [frontBack(0), upDown(0.3)],
    },
  );
  const arm = union(
    0.07,
    rod([0.3, 0.98, 0.04], 0.115, [0.47, 0.76, 0.13], 0.105),
    rod([0.47, 0.76, 0.13], 0.1, [0.5, 0.66, 0.34], 0.09),
    ellipsoid([0.5, 0.66, 0.4], [0.105, 0.095, 0.105]),
  );
  const otherArm = union(
    0.07,
    rod([0.3, 0.98, 0.04], 0.115, [0.52, 0.75, 0.06], 0.105),
    rod([0.52, 0.75, 0.06], 0.1, [0.5, 0.55, 0.22], 0.088),
    ellipsoid([0.47, 0.5, 0.27], [0.1, 0.105, 0.1]),
  );
  // Each arm is slit along the plane in which it bends, into an inner and an outer strip.
  maker.solid(
    'Arms',
    mirrored(arm),
    [
      [-0.72, 0.34, -0.15],
      [-0.1, 1.16, 0.58],
    ],
    {
      triangles: 480,
      cell: 0.028,
      cuts: [planeThrough([-0.3, 0.98, 0.04], [-0.47, 0.76, 0.13], [-0.5, 0.66, 0.4])],
    },
  );
  maker.solid(
    'Arms',
    otherArm,
    [
      [0.1, 0.34, -0.15],
      [0.72, 1.16, 0.48],
    ],
    {
      triangles: 480,
      cell: 0.028,
      cuts: [planeThrough([0.3, 0.98, 0.04], [0.52, 0.75, 0.06], [0.48, 0.52, 0.25])],
    },
  );
  const tail = union(
    0.12,
    rod([0.05, 0.26, -0.3], 0.16, [0.3, 0.14, -0.52], 0.13),
    rod([0.3, 0.14, -0.52], 0.13, [0.62, 0.13, -0.5], 0.11),
    rod([0.62, 0.13, -0.5], 0.11, [0.86, 0.24, -0.36], 0.075),
    rod([0.86, 0.24, -0.36], 0.075, [0.93, 0.42, -0.3], 0.05),
  );
  maker.solid(
    'Tail',
    tail,
    [
      [-0.2, -0.1, -0.75],
      [1.1, 0.55, -0.1],
    ],
    {
      triangles: 480,
      cell: 0.032,
      cuts: [(_x, y, z) => 0.8 * (y - 0.15) + 0.6 * (z + 0.48)],
    },
  );
  makeClothes(maker);
  makeSpoon(maker);
  makeWhiskers(maker);
  // 6 texels at 1024: room for the bleed on both sides.
  return maker.finish(6 / 1024);
}

/** Cloth that lies on a shape within an outline, `lift` off it, and tucks in at its hem. */
function cloth(under: Sdf, outline: Sdf, lift: number): Sdf {
  return (x, y, z) => under(x, y, z) - lift * smoothstep(-0.004, 0.035, -outline(x, y, z));
}

function makeClothes(maker: ModelMaker): void {
  // The apron hugs the belly and hangs a little off it below.
  const flared = union(0.2, torso, ellipsoid([0, 0.34, 0.06], [0.47, 0.3, 0.42]));
  const outline = union(
    0.1,
    roundBox([0, 0.42, 0.3], [0.4, 0.23, 0.4], 0.12),
    roundBox([0, 0.8, 0.3], [0.235, 0.2, 0.4], 0.09),
  );
  maker.solid(
    'Apron',
    cloth(flared, outline, 0.04),
    [
      [-0.6, 0.1, -0.15],
      [0.6, 1.1, 0.6],
    ],
    {
      triangles: 1500,
      cell: 0.028,
      cuts: [outline],
      keep: outline,
    },
  );
  const pocketOutline = roundBox([0, 0.4, 0.4], [0.17, 0.1, 0.3], 0.05);
  maker.solid(
    'Pocket',
    cloth(flared, pocketOutline, 0.068),
    [
      [-0.3, 0.2, 0.2],
      [0.3, 0.6, 0.6],
    ],
    {
      triangles: 500,
      cell: 0.022,
      cuts: [pocketOutline],
      keep: pocketOutline,
    },
  );
  const scarf = union(
    0.05,
    turned(ring([0, 1.07, 0.0], [0.29, 0.26], 0.085, 0.075), 'x', 8, [0, 1.07, 0]),
    ellipsoid([0.05, 1.02, 0.31], [0.075, 0.06, 0.06]),
    rod([0.06, 1.0, 0.34], 0.035, [0.16, 0.88, 0.39], 0.055),
    rod([0.03, 1.0, 0.34], 0.03, [0.0, 0.87, 0.4], 0.05),
  );
  maker.solid(
    'Scarf',
    scarf,
    [
      [-0.45, 0.78, -0.42],
      [0.45, 1.24, 0.52],
    ],
    {
      triangles: 700,
      cell: 0.024,
      cuts: [turned(upDown(1.07), 'x', 8, [0, 1.07, 0]), frontBack(0)],
    },
  );
  const band = union(
    0.03,
    turned(ring([0, 1.74, -0.02], [0.415, 0.365], 0.045, 0.075), 'x', -9, [0, 1.74, 0]),
    sphere([0.31, 1.79, 0.28], 0.085),
    ellipsoid([0.385, 1.865, 0.31], [0.075, 0.1, 0.05]),
    ellipsoid([0.42, 1.765, 0.375], [0.085, 0.06, 0.05]),
  );
  maker.solid(
    'Headband',
    band,
    [
      [-0.52, 1.58, -0.5],
      [0.62, 2.06, 0.52],
    ],
    {
      triangles: 760,
      cell: 0.022,
      cuts: [turned(upDown(1.74), 'x', -9, [0, 1.74, 0]), frontBack(-0.02)],
    },
  );
}

function makeSpoon(maker: ModelMaker): void {
  const handle = rod([-0.5, 0.42, 0.46], 0.03, [-0.53, 1.02, 0.4], 0.026);
  const bowl = without(
    0.03,
    ellipsoid([-0.54, 1.12, 0.39], [0.125, 0.145, 0.06]),
    ellipsoid([-0.54, 1.13, 0.495], [0.1, 0.115, 0.075]),
  );
  maker.solid(
    'Spoon',
    union(0.05, handle, bowl),
    [
      [-0.72, 0.34, 0.26],
      [-0.36, 1.32, 0.58],
    ],
    {
      triangles: 420,
      cell: 0.02,
      cuts: [(_x, y, z) => z - 0.46 + (y - 0.42) * 0.1],
    },
  );
}

function makeWhiskers(maker: ModelMaker): void {
  const hairs = [
    [
      [0.24, 1.3, 0.49],
      [0.62, 1.37, 0.44],
    ],
    [
      [0.25, 1.26, 0.49],
      [0.66, 1.26, 0.45],
    ],
    [
      [0.24, 1.22, 0.48],
      [0.61, 1.15, 0.45],
    ],
  ] as const;
  for (const side of [1, -1]) {
    for (const [from, to] of hairs) {
      const a = [from[0] * side, from[1], from[2]] as const;
      const b = [to[0] * side, to[1], to[2]] as const;
      maker.raw('Whiskers', needle(a, b, 0.011, 5), []);
    }
  }
}

/** A thin open cone with a slit, so that it lies flat as one strip. */
function needle(
  a: readonly [number, number, number],
  b: readonly [number, number, number],
  r: number,
  sides: number,
) {
  const d = [b[0] - a[0], b[1] - a[1], b[2] - a[2]] as const;
  const l = Math.hypot(...d);
  // Two directions square to the needle; it never points along z.
  const u = [d[1] / Math.hypot(d[0], d[1]), -d[0] / Math.hypot(d[0], d[1]), 0] as const;
  const w = [
    (d[1] * u[2] - d[2] * u[1]) / l,
    (d[2] * u[0] - d[0] * u[2]) / l,
    (d[0] * u[1] - d[1] * u[0]) / l,
  ] as const;
  const positions: number[] = [];
  const indices: number[] = [];
  for (const [t, radius] of [
    [0, r],
    [0.5, r * 0.8],
    [1, r * 0.3],
  ] as const) {
    for (let k = 0; k <= sides; k++) {
      const angle = (k / sides) * 2 * Math.PI;
      for (let axis = 0; axis < 3; axis++) {
        positions.push(
          a[axis]! + d[axis]! * t + (u[axis]! * Math.cos(angle) + w[axis]! * Math.sin(angle)) * radius,
        );
      }
    }
  }
  for (let row = 0; row < 2; row++) {
    for (let k = 0; k < sides; k++) {
      const i = row * (sides + 1) + k;
      indices.push(i, i + 1, i + sides + 2, i, i + sides + 2, i + sides + 1);
    }
  }
  return { positions, indices };
}
