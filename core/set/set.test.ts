import { readFileSync } from 'node:fs';
import { unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { converter, differenceCiede2000 } from 'culori';
import { JSDOM } from 'jsdom';
import { engineOn, LOCAL } from '../../tests/engines';
import { ball, plate } from '../../tests/shapes';
import { newDocument, parseRecipe, type ProjectDocument, type Recipe } from '../document';
import { CoreError } from '../errors';
import { encodePng, type Picture } from '../formats';
import { DEFAULT_LIGHT_PLAN, patchedPlan } from '../light';
import { normalize, type Vec3 } from '../math';
import type { UvMesh } from '../mesh';
import { ownersOf } from '../delivery';
import {
  ArchiveWriter,
  assetFacts,
  atScale,
  consistencyOf,
  followSet,
  inValues,
  isArchive,
  NOTHING_SHARED,
  parseSet,
  readArchive,
  scaleIn,
  SET_VERSION,
  SHARED_KINDS,
  styleGuide,
  withScale,
  type AssetFacts,
  type AssetSet,
  type SetShared,
} from '.';

const ALL = new Set(SHARED_KINDS);
const NONE: ReadonlySet<string> = new Set();

/** A project with two swatches and layers in their colours. */
function project(): ProjectDocument {
  const engine = engineOn(plate(0.2), 128);
  const [fur] = engine.apply({
    do: 'add-swatches',
    swatches: [
      { name: 'Fur', color: '#8a5a3c', group: '' },
      { name: 'Ink', color: '#2a2030', group: '' },
    ],
  }).ids;
  engine.apply({
    do: 'color-faces',
    layer: LOCAL,
    region: { name: 'Top', faces: [0, 2], cuts: [] },
    color: '#8a5a3c',
    swatch: fur!,
  });
  engine.apply({
    do: 'add-layer',
    layer: { kind: 'wash', name: 'Shade', color: '#2a2030' },
    into: null,
    at: 9,
  });
  return engine.document;
}

/** What a project becomes when it follows. */
function followed(shared: Partial<SetShared>): { document: ProjectDocument; says: readonly string[] } {
  const before = project();
  const fresh = engineOn(plate(0.2), 128, before);
  const { command, says } = followSet(before, { ...NOTHING_SHARED, ...shared }, ALL, NONE);
  if (command) fresh.apply(command);
  return { document: fresh.document, says };
}

describe('a project that follows its set', () => {
  it('gets the set’s colours wherever its own of that name stood, and those that it lacks', () => {
    const { document, says } = followed({
      palette: [
        { name: 'Fur', color: '#a06a44', group: '' },
        { name: 'Ink', color: '#1a1020', group: '' },
        { name: 'Glow', color: '#ffcc66', group: 'Light' },
      ],
    });
    expect(document.palette.map((s) => [s.name, s.color])).toEqual([
      ['Fur', '#a06a44'],
      ['Ink', '#1a1020'],
      ['Glow', '#ffcc66'],
    ]);
    const local = document.layers.find((l) => l.kind === 'local');
    expect(local?.kind === 'local' && local.regions[0]![1]).toBe('#a06a44');
    const wash = document.layers.find((l) => l.kind === 'wash');
    expect(wash?.kind === 'wash' && wash.color).toBe('#1a1020');
    expect(says).toEqual(['2 swatches get another colour, 1 swatch is added']);
  });

  it('leaves alone what stands in a colour of two swatches that part', () => {
    const engine = engineOn(plate(0.2), 128);
    engine.apply({
      do: 'add-swatches',
      swatches: ['Fur', 'Bark'].map((name) => ({ name, color: '#8a5a3c', group: '' })),
    });
    engine.apply({
      do: 'add-layer',
      layer: { kind: 'wash', name: 'Shade', color: '#8a5a3c' },
      into: null,
      at: 9,
    });
    const palette = [
      { name: 'Fur', color: '#a06a44', group: '' },
      { name: 'Bark', color: '#403020', group: '' },
    ];
    engine.apply(followSet(engine.document, { ...NOTHING_SHARED, palette }, ALL, NONE).command!);
    expect(engine.document.palette.map((s) => s.color)).toEqual(['#a06a44', '#403020']);
    const wash = engine.document.layers.find((l) => l.kind === 'wash');
    expect(wash?.kind === 'wash' && wash.color).toBe('#8a5a3c');
  });

  it('has nothing to do a second time', () => {
    const shared = { palette: [{ name: 'Fur', color: '#a06a44', group: '' }] };
    const { document } = followed(shared);
    expect(followSet(document, { ...NOTHING_SHARED, ...shared }, ALL, NONE)).toEqual({
      command: null,
      references: [],
      says: [],
    });
  });

  it('takes over the light, but keeps what belongs to its own parts', () => {
    const before = project();
    const own = patchedPlan(DEFAULT_LIGHT_PLAN, { parts: [['Plate', 0.4]] });
    const document = { ...before, lights: [{ ...before.lights[0]!, plan: own }] };
    const plan = patchedPlan(DEFAULT_LIGHT_PLAN, {
      key: { direction: [1, 0, 0], color: '#ff0000' },
      parts: [['Lantern', 2]],
    });
    const engine = engineOn(plate(0.2), 128, document);
    engine.apply(
      followSet(document, { ...NOTHING_SHARED, light: { name: 'Lamp', plan } }, ALL, NONE).command!,
    );
    const got = engine.document.lights[0]!.plan;
    expect(got.key.direction).toEqual([1, 0, 0]);
    expect(got.key.color).toBe('#ff0000');
    expect(got.parts).toEqual([['Plate', 0.4]]);
  });

  it('lays a recipe once, and anew in its place when that has changed', () => {
    const recipe = (color: string): Recipe =>
      parseRecipe({
        format: 'zanahoria-recipe',
        version: 7,
        name: 'Dusk',
        lights: [{ id: 0, name: 'Light', plan: DEFAULT_LIGHT_PLAN }],
        layers: [{ kind: 'wash', id: 1, name: 'Veil', color }],
      });
    const engine = engineOn(plate(0.2), 128);
    const follow = (color: string) =>
      followSet(engine.document, { ...NOTHING_SHARED, recipes: [recipe(color)] }, ALL, NONE);
    engine.apply(follow('#402040').command!);
    expect(follow('#402040').command).toBeNull();
    engine.apply({ do: 'add-layer', layer: { kind: 'paint', name: 'On top' }, into: null, at: 9 });
    engine.apply(follow('#204060').command!);
    const names = engine.document.layers.map((l) => l.name);
    expect(names.filter((n) => n === 'Dusk')).toHaveLength(1);
    expect(names.at(-1)).toBe('On top');
    const group = engine.document.layers.find((l) => l.kind === 'group' && l.name === 'Dusk');
    expect(JSON.stringify(group)).toContain('#204060');
    // One step each: undone, the former recipe lies there.
    engine.undo();
    expect(JSON.stringify(engine.document.layers)).toContain('#402040');
  });

  it('gets only the pictures that its easel lacks', () => {
    const references = ['a', 'b'].map((hash) => ({ name: hash, width: 4, height: 4, hash }));
    const found = followSet(
      newDocument('Floor', 128),
      { ...NOTHING_SHARED, references },
      ALL,
      new Set(['a']),
    );
    expect(found.references.map((r) => r.hash)).toEqual(['b']);
    expect(found.command).toBeNull();
  });
});

const SIDE = 128;

/** A ball painted by a function of its normal: grey 0..1. */
function paintedBall(
  grey: (normal: Vec3) => number,
  mesh = ball(48, 24, 1),
): { mesh: UvMesh; sheets: Picture[] } {
  const { face } = ownersOf(mesh, SIDE);
  const rgba = new Uint8Array(SIDE * SIDE * 4);
  face.forEach((f, i) => {
    if (f < 0) return;
    const v = mesh.indices[f * 3]! * 3;
    const normal = normalize([mesh.positions[v]!, mesh.positions[v + 1]!, mesh.positions[v + 2]!]);
    const level = Math.round(Math.min(1, Math.max(0, grey(normal))) * 255);
    rgba.set([level, level, level, 255], i * 4);
  });
  return { mesh, sheets: [{ width: SIDE, height: SIDE, rgba }] };
}

const factsOf = (
  { mesh, sheets }: { mesh: UvMesh; sheets: Picture[] },
  swatches: string[] = [],
): AssetFacts => assetFacts(mesh, sheets, swatches);

describe('what is told of an asset', () => {
  it('finds the light from which a ball was painted', () => {
    const toward = normalize([-0.5, 0.7, 0.5]);
    const lit = (n: Vec3): number =>
      0.3 + 0.4 * Math.max(0, n[0] * toward[0] + n[1] * toward[1] + n[2] * toward[2]);
    const { light } = factsOf(paintedBall(lit));
    const angle = Math.acos(light!.direction.reduce((sum, v, k) => sum + v * toward[k]!, 0));
    expect((angle * 180) / Math.PI).toBeLessThan(6);
    expect(light!.certainty).toBeGreaterThan(0.5);
  });

  it('measures the distance from a palette as an independent library does', () => {
    const { paletteDistance } = factsOf(
      paintedBall(() => 0.5),
      ['#a08060', '#203040'],
    );
    const delta = differenceCiede2000();
    const grey = converter('lab65')('#808080')!;
    const nearest = Math.min(delta(grey, '#a08060'), delta(grey, '#203040'));
    expect(paletteDistance!).toBeCloseTo(nearest, 0);
  });

  it('tells lightness as CIELAB has it, and texels by the model’s own length', () => {
    const one = factsOf(paintedBall(() => 0.5));
    // L* of sRGB 128: 53.585 (IEC 61966-2-1 and CIE 15, worked through).
    expect(one.values[1]).toBeCloseTo(53.585, 1);
    const large = factsOf(paintedBall(() => 0.5, ball(48, 24, 2)));
    expect(one.density / large.density).toBeCloseTo(2, 1);
    expect(large.size[1] / one.size[1]).toBeCloseTo(2, 5);
  });
});

describe('whether a set goes together', () => {
  const base = factsOf(
    paintedBall((n) => 0.4 + 0.25 * n[1]),
    ['#666666'],
  );

  it('tells the second of two beside the first, and only that', () => {
    const dense = { ...base, density: base.density * 3 };
    const dark = { ...base, values: [2, 5, 9] as const };
    expect(consistencyOf([base, dense]).outliers).toEqual([
      { asset: 1, of: 'density', says: 'It has 3.0 times as many texels a length that the other has.' },
    ]);
    expect(consistencyOf([base, dark]).outliers.map((o) => [o.asset, o.of])).toEqual([[1, 'values']]);
    expect(consistencyOf([dense, dense]).outliers).toEqual([]);
  });

  it('finds nothing among equals', () => {
    expect(consistencyOf([base, base, base]).outliers).toEqual([]);
  });

  it('names who is otherwise, and in what', () => {
    const dense = { ...base, density: base.density * 3 };
    const bright = { ...base, values: [60, 80, 95] as const };
    const turned = factsOf(
      paintedBall((n) => 0.4 - 0.25 * n[1]),
      ['#666666'],
    );
    const gaudy = { ...base, paletteDistance: 25 };
    const { outliers } = consistencyOf([base, base, base, base, dense, bright, turned, gaudy]);
    expect(outliers.map((o) => [o.asset, o.of])).toEqual([
      [4, 'density'],
      [5, 'values'],
      [6, 'light'],
      [7, 'palette'],
    ]);
    expect(outliers[0]!.says).toContain('3.0 times');
    expect(outliers[2]!.says).toMatch(/1[78]\d°/);
  });

  it('says nothing of one alone but how far it is from its palette', () => {
    const far = { ...base, paletteDistance: 30 };
    expect(consistencyOf([far]).outliers.map((o) => o.of)).toEqual([]);
    expect(consistencyOf([]).outliers).toEqual([]);
  });
});

describe('values', () => {
  it('are greys of the same luminance', () => {
    const { rgba } = inValues({ width: 2, height: 1, rgba: Uint8Array.of(255, 0, 0, 255, 128, 128, 128, 7) });
    // sRGB red has the luminance 0.2126 (IEC 61966-2-1), which is the grey 127 of 255.
    expect([...rgba]).toEqual([127, 127, 127, 255, 128, 128, 128, 7]);
  });
});

const set = (patch: Partial<AssetSet> = {}): AssetSet => ({
  version: SET_VERSION,
  id: 'stall',
  name: 'Stall <&> "friends"',
  projects: ['a', 'b'],
  scales: [['b', 0.01]],
  shared: { ...NOTHING_SHARED, palette: [{ name: 'Fur', color: '#8a5a3c', group: '' }] },
  ...patch,
});

describe('a set that is stored', () => {
  it('of the first form opens: nothing was known of scales', () => {
    const first: unknown = JSON.parse(readFileSync('tests/fixtures/sets/v1.json', 'utf8'));
    const opened = parseSet(first);
    expect(first).toMatchObject({ version: 1 });
    expect(opened).toMatchObject({ version: SET_VERSION, name: 'Night-snack stall', scales: [] });
    expect(opened.projects).toHaveLength(4);
    expect(opened.shared.palette.length).toBeGreaterThan(8);
    expect(parseSet(JSON.parse(JSON.stringify(opened)))).toEqual(opened);
  });

  it('knows how large each stands among the others', () => {
    expect([scaleIn(set(), 'a'), scaleIn(set(), 'b')]).toEqual([1, 0.01]);
    expect(withScale(set(), 'b', 1).scales).toEqual([]);
    expect(withScale(withScale(set(), 'a', 2), 'a', 3).scales).toEqual([
      ['b', 0.01],
      ['a', 3],
    ]);
    // Ten units of a model in millimetres are a hundredth of a metre; its hundred texels a unit are a hundred thousand a metre.
    const facts = { ...factsOf(paintedBall(() => 0.5)), size: [10, 0, 0] as const, density: 100 };
    expect(atScale(facts, 0.001)).toMatchObject({ size: [0.01, 0, 0], density: 100_000 });
  });

  it('comes back as it was', () => {
    expect(parseSet(JSON.parse(JSON.stringify(set())))).toEqual(set());
  });

  it('is refused where it is newer, or contradicts itself', () => {
    const code = (data: unknown): string => {
      try {
        parseSet(data);
      } catch (error) {
        return error instanceof CoreError ? error.code : 'other';
      }
      return 'none';
    };
    expect(code({ ...set(), version: 99 })).toBe('document-newer');
    expect(
      code({ ...set(), shared: { ...NOTHING_SHARED, palette: [{ name: 'x', color: 'red', group: '' }] } }),
    ).toBe('document-invalid');
    expect(code(null)).toBe('document-invalid');
    expect(code({ ...set(), shared: { ...NOTHING_SHARED, recipes: [{ format: 'cake' }] } })).toBe(
      'document-invalid',
    );
  });
});

describe('an archive', () => {
  function written(): Uint8Array {
    const pieces: Uint8Array[] = [];
    const writer = new ArchiveWriter((piece) => pieces.push(piece));
    writer.project('a', 'Otter / cook', Uint8Array.of(1, 2, 3));
    writer.project('b', 'Otter / cook', Uint8Array.of(4));
    writer.picture('abc', Uint8Array.of(9, 9));
    writer.picture('abc', Uint8Array.of(9, 9));
    writer.end({ sets: [set()], recipes: [{ any: 1 }], rampSheets: [] });
    return Buffer.concat(pieces);
  }

  it('is a zip that any program opens, and gives back what went in', () => {
    const bytes = written();
    expect(Object.keys(unzipSync(bytes))).toEqual([
      'projects/001-otter-cook.zip',
      'projects/002-otter-cook.zip',
      'pictures/abc',
      'archive.json',
    ]);
    expect(isArchive(bytes)).toBe(true);
    const archive = readArchive(bytes);
    expect(archive.projects.map((p) => [p.id, p.name, [...archive.file(p)!]])).toEqual([
      ['a', 'Otter / cook', [1, 2, 3]],
      ['b', 'Otter / cook', [4]],
    ]);
    expect(archive.sets).toEqual([set()]);
    expect([...archive.picture('abc')!]).toEqual([9, 9]);
    expect(written()).toEqual(bytes);
  });

  it('is told from a project file, and refused where it is cut off', () => {
    expect(isArchive(Uint8Array.of(80, 75, 5, 6))).toBe(false);
    const bytes = written();
    expect(() => readArchive(bytes.subarray(0, bytes.length - 30))).toThrow(
      expect.objectContaining({ code: 'file-not-a-project' }),
    );
    expect(() => readArchive(new Uint8Array())).toThrow(expect.objectContaining({ code: 'file-empty' }));
  });

  it('tells of a set that can’t be read, and gives the rest', () => {
    const pieces: Uint8Array[] = [];
    const writer = new ArchiveWriter((piece) => pieces.push(piece));
    writer.project('a', 'Otter', Uint8Array.of(1));
    writer.end({ sets: [{ ...set(), version: 99 } as never, set()], recipes: [], rampSheets: [] });
    const archive = readArchive(Buffer.concat(pieces));
    expect(archive.sets).toHaveLength(1);
    expect(archive.problems[0]).toContain('newer version');
  });
});

describe('the style guide', () => {
  const facts = factsOf(
    paintedBall((n) => 0.4 + 0.25 * n[1]),
    ['#8a5a3c'],
  );
  const png = encodePng({ width: 1, height: 1, rgba: Uint8Array.of(1, 2, 3, 255) });
  const page = styleGuide(
    set(),
    [{ name: 'Otter <img src=x onerror=alert(1)>', picture: png, values: png, facts }],
    consistencyOf([facts]),
    [{ name: 'Stall', type: 'image/png', bytes: png }],
  );
  const { document } = new JSDOM(page, { contentType: 'text/html' }).window;

  it('shows swatches, assets and references, and needs nothing from elsewhere', () => {
    expect(document.querySelector('h1')!.textContent).toBe('Stall <&> "friends"');
    expect(document.querySelector('.swatch')!.textContent).toContain('#8a5a3c');
    expect(document.querySelectorAll('.asset img')).toHaveLength(2);
    expect(document.querySelectorAll('.reference img')).toHaveLength(1);
    for (const image of document.querySelectorAll('img'))
      expect(image.getAttribute('src')).toMatch(/^data:image\/png;base64,/);
    expect(document.querySelectorAll('script, link')).toHaveLength(0);
  });

  it('takes names for text', () => {
    expect(document.querySelector('.asset h3')!.textContent).toBe('Otter <img src=x onerror=alert(1)>');
    expect(document.querySelector('[onerror]')).toBeNull();
  });
});
