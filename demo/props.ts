import type { Vec3 } from '../core/math';
import type { UvMesh } from '../core/mesh';
import { bevelledBox } from './bevelled-box';
import { ellipsoid, ring, rod, roundBox, sphere, turned, union, without, type Sdf } from './sdf';
import { frontBack, leftRight, ModelMaker, upDown } from './solid';

const MARGIN = 6 / 512;

/** A paper lantern in the shape of a fish, about 0.9 long, hanging from a hook above. */
export function makeFishLantern(): UvMesh {
  const maker = new ModelMaker();
  const belly = ellipsoid([0, 0.45, 0], [0.4, 0.29, 0.25]);
  // Paper over hoops: the skin bulges between them.
  const ribbed: Sdf = (x, y, z) => belly(x, y, z) + 0.006 * Math.cos(x * 46);
  maker.solid(
    'Shell',
    ribbed,
    [
      [-0.5, 0.05, -0.36],
      [0.5, 0.85, 0.36],
    ],
    {
      triangles: 900,
      cell: 0.028,
      cuts: [frontBack(0)],
      density: 1.2,
    },
  );
  const tail = union(
    0.04,
    turned(ellipsoid([0.54, 0.53, 0], [0.18, 0.075, 0.03]), 'z', 32, [0.42, 0.47, 0]),
    turned(ellipsoid([0.54, 0.37, 0], [0.18, 0.075, 0.03]), 'z', -32, [0.42, 0.43, 0]),
    ellipsoid([0.42, 0.45, 0], [0.08, 0.1, 0.035]),
    turned(ellipsoid([0.02, 0.76, 0], [0.2, 0.08, 0.025]), 'z', -8, [0, 0.74, 0]),
  );
  maker.solid(
    'Fins',
    tail,
    [
      [-0.3, 0.1, -0.1],
      [0.85, 0.95, 0.1],
    ],
    {
      triangles: 420,
      cell: 0.018,
      cuts: [frontBack(0)],
    },
  );
  const eyes: Sdf = (x, y, z) => ellipsoid([-0.24, 0.5, 0.19], [0.05, 0.05, 0.03])(x, y, Math.abs(z));
  maker.solid(
    'Eyes',
    eyes,
    [
      [-0.33, 0.4, -0.26],
      [-0.15, 0.6, 0.26],
    ],
    {
      triangles: 180,
      cell: 0.014,
      cuts: [frontBack(0), (_x, _y, z) => Math.abs(z) - 0.186],
      density: 1.5,
    },
  );
  maker.solid(
    'Frame',
    ring([0, 0.17, 0], [0.14, 0.11], 0.024),
    [
      [-0.2, 0.1, -0.16],
      [0.2, 0.24, 0.16],
    ],
    {
      triangles: 260,
      cell: 0.014,
      cuts: [upDown(0.17), leftRight(0)],
    },
  );
  maker.solid(
    'Frame',
    turned(ring([0, 0.875, 0], [0.07, 0.07], 0.016), 'x', 90, [0, 0.875, 0]),
    [
      [-0.1, 0.77, -0.05],
      [0.1, 0.98, 0.05],
    ],
    {
      triangles: 180,
      cell: 0.011,
      cuts: [frontBack(0), leftRight(0)],
    },
  );
  return maker.finish(MARGIN);
}

/** An iron kettle on a little clay stove, about 1 tall. */
export function makeKettle(): UvMesh {
  const maker = new ModelMaker();
  const pot = union(
    0.1,
    ellipsoid([0, 0.62, 0], [0.33, 0.21, 0.33]),
    ellipsoid([0, 0.53, 0], [0.3, 0.1, 0.3]),
  );
  const spout = union(
    0.05,
    rod([0.26, 0.6, 0], 0.075, [0.43, 0.72, 0], 0.05),
    rod([0.43, 0.72, 0], 0.05, [0.5, 0.8, 0], 0.042),
  );
  maker.solid(
    'Kettle',
    union(0.06, pot, spout),
    [
      [-0.42, 0.36, -0.42],
      [0.6, 0.92, 0.42],
    ],
    {
      triangles: 900,
      cell: 0.026,
      cuts: [frontBack(0)],
      density: 1.2,
    },
  );
  const lid = union(0.03, ellipsoid([0, 0.8, 0], [0.19, 0.055, 0.19]), sphere([0, 0.885, 0], 0.042));
  maker.solid(
    'Lid',
    lid,
    [
      [-0.24, 0.72, -0.24],
      [0.24, 0.96, 0.24],
    ],
    {
      triangles: 320,
      cell: 0.018,
      cuts: [frontBack(0)],
    },
  );
  const arc: Vec3[] = [];
  for (let i = 0; i <= 8; i++) {
    const a = (i / 8) * Math.PI;
    arc.push([Math.cos(a) * 0.24, 0.76 + Math.sin(a) * 0.3, 0]);
  }
  const handle = union(0.02, ...arc.slice(1).map((b, i) => rod(arc[i]!, 0.027, b, 0.027)));
  maker.solid(
    'Handle',
    handle,
    [
      [-0.32, 0.7, -0.06],
      [0.32, 1.14, 0.06],
    ],
    {
      triangles: 320,
      cell: 0.015,
      cuts: [frontBack(0)],
    },
  );
  const drum = union(
    0.05,
    roundBox([0, 0.19, 0], [0.27, 0.17, 0.27], 0.09),
    ring([0, 0.36, 0], [0.26, 0.26], 0.045),
  );
  const stove = without(
    0.03,
    drum,
    ellipsoid([0, 0.18, 0.3], [0.13, 0.1, 0.14]),
    ellipsoid([0, 0.44, 0], [0.2, 0.12, 0.2]),
  );
  maker.solid(
    'Stove',
    stove,
    [
      [-0.4, -0.04, -0.4],
      [0.4, 0.46, 0.4],
    ],
    {
      triangles: 900,
      cell: 0.026,
      cuts: [frontBack(0)],
    },
  );
  for (const angle of [0, 90]) {
    const bar = turned(rod([-0.25, 0.415, 0], 0.022, [0.25, 0.415, 0], 0.022), 'y', angle, [0, 0.415, 0]);
    maker.solid(
      'Grate',
      bar,
      [
        [-0.3, 0.37, -0.3],
        [0.3, 0.46, 0.3],
      ],
      {
        triangles: 110,
        cell: 0.015,
        cuts: [upDown(0.415)],
      },
    );
  }
  return maker.finish(MARGIN);
}

/** A slatted crate full of turnips, about 0.9 wide. */
export function makeTurnipCrate(): UvMesh {
  const maker = new ModelMaker();
  const slat = (c: Vec3, h: Vec3): void => {
    maker.raw('Slats', bevelledBox(c, h, 0.012), [], 1);
  };
  for (const y of [0.09, 0.24, 0.39]) {
    slat([0, y, 0.3], [0.44, 0.055, 0.02]);
    slat([0, y, -0.3], [0.44, 0.055, 0.02]);
    slat([0.42, y, 0], [0.02, 0.055, 0.28]);
    slat([-0.42, y, 0], [0.02, 0.055, 0.28]);
  }
  for (const x of [-0.37, 0.37]) for (const z of [-0.255, 0.255]) slat([x, 0.225, z], [0.03, 0.225, 0.025]);
  slat([0, 0.03, 0], [0.4, 0.015, 0.27]);

  const turnips: readonly (readonly [Vec3, number, number])[] = [
    [[-0.22, 0.36, 0.1], 0.16, 12],
    [[0.15, 0.38, 0.12], 0.17, -14],
    [[-0.05, 0.42, -0.12], 0.165, 20],
    [[0.26, 0.36, -0.12], 0.14, -28],
    [[-0.29, 0.33, -0.15], 0.13, 30],
  ];
  for (const [at, r, lean] of turnips) {
    const root = union(
      0.06,
      ellipsoid(at, [r, r * 0.86, r]),
      rod([at[0], at[1] - r * 0.7, at[2]], 0.03, [at[0], at[1] - r * 1.25, at[2]], 0.008),
    );
    const box = [
      [at[0] - 0.24, at[1] - 0.3, at[2] - 0.24],
      [at[0] + 0.24, at[1] + 0.24, at[2] + 0.24],
    ] as const;
    maker.solid('Turnips', turned(root, 'z', lean, at), box, {
      triangles: 150,
      cell: 0.03,
      cuts: [frontBack(at[2])],
    });
    for (const angle of [20, 140, 260]) {
      const placed = (shape: Sdf): Sdf =>
        turned(
          turned(turned(shape, 'z', 48, [at[0], at[1] + r * 0.8, at[2]]), 'y', angle, at),
          'z',
          lean,
          at,
        );
      const middle: Vec3 = [at[0] + 0.1, at[1] + r * 0.95, at[2]];
      const leafBox = [
        [at[0] - 0.32, at[1] - 0.05, at[2] - 0.32],
        [at[0] + 0.32, at[1] + 0.42, at[2] + 0.32],
      ] as const;
      maker.solid('Leaves', placed(ellipsoid(middle, [0.12, 0.034, 0.055])), leafBox, {
        triangles: 64,
        cell: 0.018,
        cuts: [placed(upDown(middle[1]))],
      });
    }
  }
  return maker.finish(MARGIN);
}
