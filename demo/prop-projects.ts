import { buildRayScene } from '../core/cues';
import { documentFromRecipe, freePlace } from '../core/document';
import { Engine } from '../core/engine';
import { NODE_DEFAULTS } from '../core/layers';
import { usualDecal } from '../core/decal';
import { writeProjectFile } from '../core/project-file';
import type { Command, NewLayer } from '../core/commands';
import { encodePng } from '../core/formats';
import { createWasmKernels } from '../core/kernels';
import { boundsOf, centreOf, diagonalOf, type UvMesh } from '../core/mesh';
import { NO_DRIVES, PLAIN_BRUSH, STRAIGHT, type StyleOf, type Symmetry } from '../core/paint';
import { measureSurface } from '../core/surface';
import { along, drawOnFront } from './aim';
import { pictureOfLetters } from './letters';
import { PALETTE, TONES } from './palette';
import { makeFishLantern, makeKettle, makeTurnipCrate } from './props';
import { cue, LIGHT, recipe, shade, SOFT_SHADOW, through } from './recipe-parts';

/** A prop of the stall as a project: its build-up, and what was painted on it by hand. */
export interface PropProject {
  readonly title: string;
  readonly make: () => UvMesh;
  /** Strokes on the paint layer on top, and what else is set. */
  paint(hand: Hand): void;
}

/** What paints on a prop. */
interface Hand {
  readonly mesh: UvMesh;
  /** Draws on the front of a part, along points x, y. */
  line(part: string, how: LineHow, path: readonly (readonly [number, number])[]): void;
  /** Lays one dab on a part. */
  dab(part: string, how: LineHow, at: readonly [number, number]): void;
  do(command: Command): number | undefined;
  picture(name: string, png: Uint8Array, width: number, height: number): number;
}

interface LineHow {
  readonly color: string;
  readonly radius: number;
  readonly opacity?: number;
  readonly edge?: number;
  readonly symmetry?: Symmetry;
  /** Thin at its ends. */
  readonly tapers?: boolean;
}

const SHEET = 512;

/** Front and back alike. */
const BOTH_SIDES: Symmetry = { planes: [{ point: [0, 0, 0], normal: [0, 0, 1] }], axis: null };

/** Round the upright axis, so many. */
const round = (count: number): Symmetry => ({
  planes: [],
  axis: { point: [0, 0, 0], direction: [0, 1, 0], count, span: 360 },
});

const fan = (
  [x, y]: readonly [number, number],
  degrees: number,
  from: number,
  to: number,
): [number, number][] => {
  const a = (degrees * Math.PI) / 180;
  return [from, (from + to) / 2, to].map((r, i) => {
    // Rays of a fin bend a little toward its tip.
    const bend = a + 0.06 * i * Math.sign(degrees || 1);
    return [x + Math.cos(bend) * r, y + Math.sin(bend) * r];
  });
};

export const PROPS: Readonly<Record<string, PropProject>> = {
  lantern: {
    title: 'Fish lantern',
    make: makeFishLantern,
    paint: ({ line, dab }) => {
      const fin = { color: '#fbc27a', radius: 0.011, opacity: 0.9, symmetry: BOTH_SIDES, tapers: true };
      const root = { ...fin, color: '#8f2f3c', radius: 0.05, edge: 1, opacity: 0.55, tapers: false };
      line('Fins', root, [
        [0.4, 0.5],
        [0.4, 0.4],
      ]);
      line('Fins', { ...root, radius: 0.04 }, [
        [-0.14, 0.72],
        [0.16, 0.72],
      ]);
      for (const side of [1, -1]) {
        for (const degrees of [14, 24, 34, 44]) {
          line('Fins', fin, fan([0.42, 0.45 + side * 0.015], side * degrees, 0.1, 0.33));
        }
      }
      for (let i = 0; i < 6; i++) {
        const x = -0.12 + i * 0.055;
        line('Fins', fin, [
          [x, 0.735],
          [x + 0.012, 0.775],
          [x + 0.03, 0.81],
        ]);
      }
      // Scales in rows on the paper, and a glow in its belly.
      const scale = { color: '#c95a2c', radius: 0.009, opacity: 0.75, symmetry: BOTH_SIDES, tapers: true };
      for (let row = 0; row < 4; row++) {
        for (let k = 0; k < 4; k++) {
          const [x, y] = [-0.04 + k * 0.09 + (row % 2) * 0.045, 0.33 + row * 0.085];
          line('Shell', scale, [
            [x + 0.028, y + 0.036],
            [x - 0.008, y + 0.03],
            [x - 0.018, y],
            [x - 0.008, y - 0.03],
            [x + 0.028, y - 0.036],
          ]);
        }
      }
      line('Shell', { color: '#fff0b4', radius: 0.14, edge: 1, opacity: 0.5, symmetry: BOTH_SIDES }, [
        [-0.12, 0.42],
        [0.14, 0.42],
      ]);
      line('Shell', { ...scale, color: '#8f2f3c', radius: 0.012 }, [
        [-0.375, 0.42],
        [-0.32, 0.4],
        [-0.27, 0.415],
      ]);
      dab('Eyes', { color: '#fffaf0', radius: 0.016, edge: 0.3, symmetry: BOTH_SIDES }, [-0.255, 0.515]);
    },
  },
  kettle: {
    title: 'Kettle on its stove',
    make: makeKettle,
    paint: ({ line, dab }) => {
      // A ring of rivets: one by hand, the others round the axis.
      const rivets = round(18);
      dab('Kettle', { color: '#211c2e', radius: 0.026, edge: 0.5, symmetry: rivets }, [0, 0.7]);
      dab('Kettle', { color: '#7d8498', radius: 0.017, edge: 0.35, symmetry: rivets }, [0, 0.702]);
      dab('Kettle', { color: '#dfe6ee', radius: 0.007, edge: 0.5, symmetry: rivets }, [-0.005, 0.708]);
      line('Kettle', { color: '#a9b4c6', radius: 0.05, edge: 1, opacity: 0.5 }, [
        [-0.2, 0.62],
        [-0.16, 0.72],
        [-0.08, 0.77],
      ]);
      line('Stove', { color: '#ffb45c', radius: 0.07, edge: 1, opacity: 0.7 }, [
        [-0.08, 0.15],
        [0.08, 0.15],
      ]);
      line('Stove', { color: '#fff0b4', radius: 0.03, edge: 1, opacity: 0.8 }, [
        [-0.04, 0.12],
        [0.04, 0.12],
      ]);
      line('Lid', { color: '#ffd0a0', radius: 0.012, edge: 0.6, opacity: 0.8, tapers: true }, [
        [-0.13, 0.815],
        [-0.06, 0.835],
        [0.02, 0.84],
      ]);
    },
  },
  crate: {
    title: 'Crate of turnips',
    make: makeTurnipCrate,
    paint: ({ mesh, line, picture, do: act }) => {
      const letters = pictureOfLetters('TURNIPS', '#5a2430');
      const id = picture('“TURNIPS”', encodePng(letters), letters.width, letters.height);
      const { centre, diagonal } = placeOf(mesh);
      const at = ([0, 0.24, 0.32] as const).map((v, k) => (v - centre[k]!) / diagonal);
      const decal = {
        ...usualDecal(id, {
          at: at as [number, number, number],
          normal: [0, 0, 1],
          up: [0, 1, 0],
        }),
        lies: 'straight',
        width: 0.62 / diagonal,
        turn: 0.02,
        stretch: 1.25,
      } as const;
      act({
        do: 'add-layer',
        layer: { ...NODE_DEFAULTS, mask: [], kind: 'decal', name: 'TURNIPS', opacity: 0.85, decal },
        into: null,
        at: 99,
      });
      // Each turnip blushes at its shoulder.
      for (const [x, y, r] of [
        [-0.22, 0.46, 0.09],
        [0.15, 0.49, 0.1],
      ] as const) {
        line('Turnips', { color: PALETTE.turnipTop, radius: r, edge: 1, opacity: 0.65 }, [
          [x - 0.07, y],
          [x + 0.07, y],
        ]);
      }
      for (const y of [0.06, 0.11, 0.21, 0.26, 0.36, 0.41]) {
        line('Slats', { color: '#7a4f35', radius: 0.006, opacity: 0.55, tapers: true }, [
          [-0.38 + y * 0.3, y],
          [-0.05, y + 0.006],
          [0.3 + y * 0.2, y],
        ]);
      }
    },
  },
};

function placeOf(mesh: UvMesh) {
  const bounds = boundsOf(mesh.positions);
  return { centre: centreOf(bounds), diagonal: diagonalOf(bounds) };
}

/** Local colours, a ground, crevices and a light, as the stall's props have them all. */
function buildUp(mesh: UvMesh): NewLayer[] {
  return [
    {
      ...NODE_DEFAULTS,
      kind: 'local',
      name: 'Local colour',
      mask: [],
      colors: mesh.parts.map((part): [string, string] => [part, TONES[part]!.local]),
      regions: [],
      swatches: [],
      fallback: '#b6aca2',
    },
    {
      kind: 'wash',
      name: 'Toward the ground',
      color: '#43304f',
      opacity: 0.5,
      mask: [through(cue('height'), 0.05, 0.75, true)],
    },
    shade('#4a2c4e', 0.85),
    { kind: 'light', name: 'Stall lamp', light: LIGHT, blend: 'soft-light', opacity: 0.85 },
  ];
}

/** A prop as a project file. @param reference picture that stands on its easel, as a PNG */
export function makePropProject({ title, make, paint }: PropProject, reference: Uint8Array): Uint8Array {
  const mesh = make();
  const base = documentFromRecipe(recipe(title, '', SOFT_SHADOW, buildUp(mesh)), SHEET);
  const layer = base.nextId;
  const picture = { name: 'The night-snack stall', width: 900, height: 700 };
  const engine = new Engine({
    surface: measureSurface(mesh, SHEET),
    kernels: createWasmKernels(),
    document: {
      ...base,
      name: title,
      layers: [...base.layers, { ...NODE_DEFAULTS, mask: [], kind: 'paint', id: layer, name: 'By hand' }],
      references: [{ ...picture, id: layer + 1, board: freePlace([], picture), note: '', match: null }],
      palette: mesh.parts.flatMap((part, i) => {
        const { local, light, shadow } = TONES[part]!;
        return [local, light, shadow].map((color, k) => ({
          id: layer + 2 + i * 3 + k,
          name: `${part}${['', ' in light', ' in shadow'][k]!}`,
          color,
          group: '',
        }));
      }),
      nextId: layer + 2 + mesh.parts.length * 3,
    },
  });
  const scene = buildRayScene(mesh.positions, mesh.indices);
  const lay = (part: string, how: LineHow, path: readonly (readonly [number, number])[]): void => {
    const { color, radius, opacity = 1, edge = 0.25, symmetry, tapers = false } = how;
    const style: StyleOf<'brush'> = {
      tool: 'brush',
      erase: false,
      color,
      opacity,
      brush: { ...PLAIN_BRUSH, edge, spacing: 0.1, pressure: { ...NO_DRIVES, size: STRAIGHT } },
      seed: 1,
      up: [0, 1, 0],
      eye: [0, 0, 1],
      nearSide: true,
      ...(symmetry && { symmetry }),
    };
    const pressure = (t: number): number => (tapers ? 0.4 + 0.6 * Math.sin(Math.PI * (0.12 + 0.82 * t)) : 1);
    const run = drawOnFront(
      mesh,
      scene,
      path.length > 1 ? along(path, radius * 0.4) : path,
      radius,
      pressure,
    );
    if (run.length > 0)
      engine.apply({ do: 'stroke', layer, guard: { part }, stroke: { ...style, runs: [run] } });
  };
  paint({
    mesh,
    line: lay,
    dab: (part, how, at) => lay(part, how, [at]),
    do: (command) => engine.apply(command).ids[0],
    picture: (name, png, width, height) =>
      engine.attach({ do: 'add-pattern', pattern: { name, width, height, listed: false } }, png).ids[0]!,
  });
  const files = new Map(engine.everything().files).set(layer + 1, reference);
  return writeProjectFile({ document: engine.document, mesh, ...engine.everything(), files });
}
