import { buildRayScene, castRay } from '../core/cues';
import { Engine } from '../core/engine';
import { freePlace, newDocument, type ProjectDocument, type Sheet } from '../core/document';
import { NODE_DEFAULTS } from '../core/layers';
import { smoothHandles, usualInk, type InkStyle, type InkWish, type OwnLines } from '../core/ink';
import { writeProjectFile } from '../core/project-file';
import type { NewLayer } from '../core/commands';
import { createWasmKernels } from '../core/kernels';
import { DEFAULT_LIGHT_PLAN, patchedPlan } from '../core/light';
import { boundsOf, diagonalOf, meshHash, type UvMesh } from '../core/mesh';
import type { ProjectRamps, RampAssignment } from '../core/ramps';
import { measureSurface } from '../core/surface';
import { cue, through } from './recipe-parts';
import { PALETTE, TONES } from './palette';
import { REFERENCE_LIGHT } from './references';

/** The two projects that aren't painted softly: one inked over flat tones, one on a sheet of ramps. */

const SHEET = 512;

interface Picture {
  readonly name: string;
  readonly width: number;
  readonly height: number;
  readonly png: Uint8Array;
}

/** A project with a reference on its easel and its parts' tones for a palette. */
function begun(title: string, mesh: UvMesh, sheets: readonly Sheet[], picture: Picture): Engine {
  const base = newDocument(title, sheets);
  const { name, width, height, png } = picture;
  const reference = {
    name,
    width,
    height,
    id: base.nextId,
    note: '',
    match: null,
    board: freePlace([], { width, height }),
  };
  let id = base.nextId + 1;
  const palette = mesh.parts.flatMap((part) => {
    const { local, light, shadow } = TONES[part]!;
    return [local, light, shadow].map((color, k) => ({
      id: id++,
      name: `${part}${['', ' in light', ' in shadow'][k]!}`,
      color,
      group: '',
    }));
  });
  const document: ProjectDocument = {
    ...base,
    model: meshHash(mesh),
    layers: [],
    references: [reference],
    palette,
    nextId: id,
  };
  const sizes = sheets.map((s) => s.size);
  return new Engine({
    surface: measureSurface(mesh, sizes),
    kernels: createWasmKernels(),
    document,
    files: new Map([[reference.id, png]]),
  });
}

const add = (engine: Engine, layer: NewLayer, into: number | null = null): number =>
  engine.apply({ do: 'add-layer', layer, into, at: 99 }).ids[0]!;

const localColors = (mesh: UvMesh): NewLayer => ({
  ...NODE_DEFAULTS,
  kind: 'local',
  name: 'Local colour',
  mask: [],
  colors: mesh.parts.map((part): [string, string] => [part, TONES[part]!.local]),
  regions: [],
  swatches: [],
  fallback: '#b6aca2',
});

const fileOf = (engine: Engine): Uint8Array =>
  writeProjectFile({ document: engine.document, mesh: engine.mesh, ...engine.everything() });

/** The paper lantern in three flat tones with drawn borders, inked, with a detail sheet for a toon shader. */
export function makeInkedLantern(mesh: UvMesh, reference: Uint8Array): Uint8Array {
  const picture = { name: 'The lantern, inked', width: 640, height: 520, png: reference };
  const engine = begun('Paper lantern, inked', mesh, [{ name: 'Sheet 1', size: SHEET }], picture);
  const diagonal = diagonalOf(boundsOf(mesh.positions));
  add(engine, localColors(mesh));
  const light = engine.document.lights[0]!.id;
  engine.apply({
    do: 'patch-light',
    light,
    patch: patchOfTones(mesh),
  });
  add(engine, { kind: 'light', name: 'Three tones', light });
  const ink = add(engine, { kind: 'ink', name: 'Ink' });
  const own = (from: OwnLines['from'], width: number, more: Partial<InkStyle> = {}): OwnLines => ({
    from,
    style: { ...usualInk(width * diagonal), color: PALETTE.ink, wobble: 0.25, ...more },
    shortest: 0.03,
    smooth: 0.4,
    width: { cue: cue('facing', { direction: [...REFERENCE_LIGHT] }), least: 0.45, invert: false },
  });
  engine.apply({
    do: 'patch-layer',
    layer: ink,
    patch: {
      own: own(
        {
          along: 'contours',
          views: [{ name: 'Front', eye: [0.9, 0.75, 3.6], flat: false }],
          inner: true,
        },
        0.011,
      ),
    },
  });
  engine.apply({ do: 'edit-ink', layer: ink, put: drawn(mesh, diagonal), remove: [] });
  const borders = add(engine, { kind: 'ink', name: 'Where parts meet' });
  engine.apply({
    do: 'patch-layer',
    layer: borders,
    patch: { own: own({ along: 'borders', of: ['parts'], regions: [] }, 0.008) },
  });
  const weight = engine.apply({ do: 'add-group', name: 'Line weight', detail: 'line', at: 99 }).ids[0]!;
  // The outline is thin toward the light, full underneath.
  add(
    engine,
    {
      kind: 'wash',
      name: 'Thin toward the light',
      color: '#4c4c4c',
      mask: [through(cue('facing', { direction: [...REFERENCE_LIGHT] }), 0.45, 0.95)],
    },
    weight,
  );
  const first = engine.apply({ do: 'add-group', name: 'Darkens first', detail: 'dark', at: 99 }).ids[0]!;
  add(
    engine,
    {
      kind: 'wash',
      name: 'Crevices darken first',
      color: '#202020',
      opacity: 0.7,
      mask: [through(cue('occlusion', { rays: 48 }), 0.2, 0.9, true)],
    },
    first,
  );
  return fileOf(engine);
}

/** Each part in its own three tones; what is in the shadow of another is plum. */
function patchOfTones(mesh: UvMesh) {
  const ramps = mesh.parts.map((part) => {
    const { shadow, local, light } = TONES[part]!;
    const stops = [shadow, local, light].map((color, k) => ({ at: k / 2, color }));
    return [part, { stops, mixing: 'oklab' as const, hardness: 0 }] as const;
  });
  const plan = patchedPlan(DEFAULT_LIGHT_PLAN, {
    key: { direction: [...REFERENCE_LIGHT], strength: 0.85, wrap: 0.3, size: 4 },
    sky: { strength: 0.16 },
    ground: { strength: 0.05 },
    steps: {
      count: 3,
      edge: 0,
      ramp: null,
      ramps: ramps.map(([part, ramp]) => [part, ramp] as [string, typeof ramp]),
      line: { waver: 0.14, scale: 0.09, width: 0.006, strength: 0.75, color: null, seed: 4 },
      shadow: '#7d3a44',
    },
  });
  const { key, sky, ground, steps } = plan;
  return { key, sky, ground, steps };
}

/** Lines that a hand drew on the front: rays of the fins, scales, the mouth. */
function drawn(mesh: UvMesh, diagonal: number): InkWish[] {
  const scene = buildRayScene(mesh.positions, mesh.indices);
  const line = (points: readonly (readonly [number, number])[], width: number, color: string): InkWish[] => {
    const at = points.flatMap(([x, y]): [number, number, number][] => {
      const t = castRay(scene, [x, y, 5], [0, 0, -1], 10);
      return Number.isFinite(t) ? [[x, y, 5 - t]] : [];
    });
    if (at.length < 2) return [];
    const none = at.flatMap(() => [0, 0, 0]);
    const style = { ...usualInk(width * diagonal), color, taper: [0.25, 0.5] as [number, number] };
    const shape = {
      id: 0,
      at: at.flat(),
      ahead: none,
      back: none,
      press: at.map(() => 1),
      closed: false,
      style,
    };
    return [{ ...smoothHandles(shape), id: null }];
  };
  const rays = [1, -1].flatMap((side) =>
    [14, 24, 34, 44].flatMap((degrees) => {
      const a = (side * degrees * Math.PI) / 180;
      const from = [0.42, 0.45 + side * 0.015] as const;
      return line(
        [0.12, 0.2, 0.3].map(
          (r, i) =>
            [
              from[0] + Math.cos(a + 0.05 * i * side) * r,
              from[1] + Math.sin(a + 0.05 * i * side) * r,
            ] as const,
        ),
        0.007,
        PALETTE.ink,
      );
    }),
  );
  const scales = [0, 1, 2, 3].flatMap((row) =>
    [0, 1, 2, 3].flatMap((k) => {
      const [x, y] = [-0.04 + k * 0.09 + (row % 2) * 0.045, 0.33 + row * 0.085];
      return line(
        [
          [x + 0.03, y + 0.038],
          [x - 0.008, y + 0.03],
          [x - 0.02, y],
          [x - 0.008, y - 0.03],
          [x + 0.03, y - 0.038],
        ],
        0.006,
        '#8f3b24',
      );
    }),
  );
  const mouth = line(
    [
      [-0.385, 0.425],
      [-0.32, 0.398],
      [-0.26, 0.415],
    ],
    0.011,
    PALETTE.ink,
  );
  return [...rays, ...scales, ...mouth];
}

/** The ramps of the stall's props, shared by them all. */
const RAMPS: readonly (readonly [name: string, colors: readonly string[]])[] = [
  ['Wood', ['#4a2f3a', '#6c4447', '#b57f49', '#dfae6c', '#f2cd8e']],
  ['Turnip', ['#8d7196', '#c9b4cc', '#f3e7e6', '#e7b6cc', '#b3547e']],
  ['Leaf', ['#24402f', '#39593f', '#6f9a4f', '#a8c972']],
  ['Iron', ['#211c2e', '#2c2739', '#4a4a5e', '#8590a3', '#c9d3df']],
  ['Copper', ['#54262e', '#6f3a3f', '#c9764a', '#f0ae7c']],
  ['Clay', ['#3f2030', '#5a3040', '#a4543c', '#d98a5e', '#ffb45c']],
];

/** What each part lies on, and how: mostly up, lit from the upper left where it is round. */
const ON: Readonly<
  Record<string, readonly [ramp: string, run: RampAssignment['run'], from: number, to: number]>
> = {
  Slats: ['Wood', { kind: 'straight', direction: [-0.3, 1, 0.5] }, 0.05, 0.95],
  Turnips: ['Turnip', { kind: 'straight', direction: [0, 1, 0.1] }, 0, 1.05],
  Leaves: ['Leaf', { kind: 'straight', direction: [-0.4, 1, 0.2] }, 0, 1],
  Kettle: ['Iron', { kind: 'straight', direction: [-0.5, 0.75, 0.6] }, 0.05, 1],
  Lid: ['Copper', { kind: 'straight', direction: [-0.6, 0.7, 0.5] }, 0.1, 1],
  Handle: ['Wood', { kind: 'straight', direction: [-0.2, 1, 0] }, 0.1, 0.9],
  Stove: ['Clay', { kind: 'straight', direction: [-0.35, 0.8, 0.7] }, 0.05, 0.82],
  Grate: ['Iron', { kind: 'straight', direction: [0, 0, 1] }, 0.1, 0.5],
};

/** Crate and kettle beside one another, all of them on one sheet of 64 texels. */
export function makeRampProps(crate: UvMesh, kettle: UvMesh, reference: Uint8Array): Uint8Array {
  const mesh = beside(crate, kettle);
  const picture = { name: 'The night-snack stall', width: 900, height: 700, png: reference };
  const sheets: Sheet[] = [
    { name: 'Crate', size: 128 },
    { name: 'Kettle', size: 128 },
  ];
  const engine = begun('Crate and kettle', mesh, sheets, picture);
  add(engine, localColors(mesh));
  const made = engine.apply({
    do: 'set-ramps',
    size: 64,
    shared: { id: 'night-snack-stall', name: 'Night-snack stall', state: 1 } satisfies ProjectRamps['shared'],
    ramps: RAMPS.map(([name, colors]) => ({ id: null, name, colors: [...colors] })),
  });
  const idOf = new Map(RAMPS.map(([name], i) => [name, made.ids[i]!]));
  for (const part of mesh.parts) {
    const [ramp, run, from, to] = ON[part]!;
    engine.apply({ do: 'seat', of: { part }, ramp: idOf.get(ramp)!, run, from, to, rings: [] });
  }
  return fileOf(engine);
}

/** Two models side by side, each on a sheet of its own. */
function beside(a: UvMesh, b: UvMesh): UvMesh {
  const moved = (mesh: UvMesh, x: number): Float32Array =>
    mesh.positions.map((p, i) => (i % 3 === 0 ? p + x : p));
  const joined = (p: Float32Array, q: Float32Array): Float32Array => {
    const out = new Float32Array(p.length + q.length);
    out.set(p);
    out.set(q, p.length);
    return out;
  };
  const first = a.positions.length / 3;
  return {
    positions: joined(moved(a, -0.6), moved(b, 0.5)),
    normals: joined(a.normals, b.normals),
    uvs: joined(a.uvs, b.uvs),
    indices: Uint32Array.from([...a.indices, ...Array.from(b.indices, (v) => v + first)]),
    faceParts: Uint16Array.from([...a.faceParts, ...Array.from(b.faceParts, (p) => p + a.parts.length)]),
    parts: [...a.parts, ...b.parts],
    partSheets: [...a.parts.map(() => 0), ...b.parts.map(() => 1)],
  };
}
