import { spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { PNG } from 'pngjs';
import { describe, expect, it } from 'vitest';
import { run } from '../../cli/run';
import { writeOut } from '../../cli/write-out';
import { writeProjectFile } from '../../core/project-file';
import { transcodedLevels } from '../basis';
import { engineOn, PAINT } from '../engines';
import { plainRecipe } from '../recipes';
import { seamedFloor } from '../shapes';
import { HARD, line, SOFT_STROKE } from '../strokes';

const folder = mkdtempSync(join(tmpdir(), 'zanahoria-many-'));
const at = (...path: string[]): string => join(folder, ...path);

async function zanahoria(...args: string[]): Promise<{ code: number; out: string; err: string }> {
  let [out, err] = ['', ''];
  const code = await run(args, {
    out: (text) => void (out += text),
    error: (text) => void (err += text),
  });
  return { code, out, err };
}

/** A plate with UVs, its sides so long. */
const plate = (side: number): string =>
  `o Plate\nv 0 0 0\nv ${side} 0 0\nv ${side} 0 -1\nv 0 0 -1\nvt 0.25 0.25\nvt 0.75 0.25\nvt 0.75 0.75\nvt 0.25 0.75\nvn 0 1 0\nf 1/1/1 2/2/1 3/3/1 4/4/1\n`;

describe('many models', () => {
  mkdirSync(at('models'));
  for (const side of [1, 2, 3, 4]) writeFileSync(at('models', `${side}.obj`), plate(side));
  writeFileSync(at('recipe.json'), plainRecipe('#b06030'));
  const build = (...more: string[]) =>
    zanahoria(
      'build',
      at('models'),
      '--recipe',
      at('recipe.json'),
      '--size',
      '64',
      '--out',
      at('built'),
      '--json',
      // Starting a process takes longer than what it does here.
      '--jobs',
      '1',
      ...more,
    );

  it('are checked together: one that may not leave is named with its reason', async () => {
    await build();
    const clean = await zanahoria('check', at('built'));
    expect([clean.code, clean.out]).toEqual([0, expect.stringMatching(/^4 of 4 may leave/)]);
    // A hole in the paint of one of them.
    const file = at('built', '3', 'albedo.png');
    const png = PNG.sync.read(readFileSync(file));
    for (let i = 0; i < 5; i++) png.data[(32 * 64 + 30 + i) * 4 + 3] = 0;
    writeFileSync(file, PNG.sync.write(png));
    const { code, out, err } = await zanahoria('check', at('built'), '--json');
    expect(code).toBe(1);
    const rows = JSON.parse(out) as { model: string; ok: boolean; unchanged?: true; findings: string[] }[];
    expect(rows.map((row) => [row.ok, row.unchanged === true])).toEqual([
      [true, true],
      [true, true],
      [false, false],
      [true, true],
    ]);
    expect(rows[2]!.findings).toEqual([expect.stringMatching(/5 texels have no full colour/)]);
    expect(err).toContain('5 texels have no full colour');
    expect(JSON.parse(readFileSync(at('built', 'check.json'), 'utf8'))).toEqual(rows);
  }, 180_000);

  it('in an empty folder are told', async () => {
    mkdirSync(at('empty'));
    expect(await zanahoria('check', at('empty'))).toMatchObject({
      code: 2,
      err: expect.stringMatching(/no folder with model\.glb/) as string,
    });
    expect((await zanahoria('deliver', at('empty'), '--out', at('x'))).err).toMatch(/no project file/);
  });
});

describe('check of one model', () => {
  it('prints what it found, and exits with 1 if it may not leave', async () => {
    await zanahoria(
      'build',
      at('models', '2.obj'),
      '--recipe',
      at('recipe.json'),
      '--size',
      '64',
      '--out',
      at('one'),
    );
    const args = ['check', at('one', 'model.glb'), '--albedo', at('one', 'albedo.png')];
    const fine = await zanahoria(...args);
    expect(fine.code).toBe(0);
    expect(JSON.parse(fine.out)).toMatchObject({ seams: [], unpainted: 0, bleed: null, gap: null, ok: true });
    const png = PNG.sync.read(readFileSync(at('one', 'albedo.png')));
    png.data[(32 * 64 + 32) * 4 + 3] = 9;
    writeFileSync(at('one', 'albedo.png'), PNG.sync.write(png));
    const bad = await zanahoria(...args);
    expect([bad.code, bad.err]).toEqual([1, expect.stringMatching(/^wrong: 1 texels/)]);
    for (const [option, value] of [
      ['--mips', '9'],
      ['--range', '90,10'],
      ['--game', 'x'],
    ] as const)
      expect((await zanahoria(...args, option, value)).code, option).toBe(2);
    expect((await zanahoria('check', at('one', 'model.glb'))).err).toMatch(/--albedo is missing/);
  });
});

describe('deliver by settings', () => {
  const engine = engineOn(seamedFloor(), 128);
  engine.apply({
    do: 'stroke',
    layer: PAINT,
    stroke: { ...SOFT_STROKE, brush: HARD, color: '#c06030', runs: [line([-0.7, 0, 0], [0.7, 0, 0], 0.3)] },
  });
  const { document, mesh } = engine;
  const project = writeProjectFile({ document, mesh, ...engine.everything(), files: new Map() });
  mkdirSync(at('projects'));
  for (const name of ['a', 'b']) writeFileSync(at('projects', `${name}.zip`), project);

  it('makes what the application would, of several projects, by the report that it wrote', async () => {
    const settings = {
      format: 'ktx2',
      names: '{what}_{size}',
      size: 64,
      parcels: ['albedo', 'toon-model', 'obj', 'layers', 'layer-pictures', 'layout', 'recipe'],
      outline: { width: 0.01, color: '#302020' },
    };
    writeFileSync(at('report.json'), JSON.stringify({ project: 'Floor', settings }));
    const { code, out } = await zanahoria(
      'deliver',
      at('projects'),
      '--settings',
      at('report.json'),
      '--out',
      at('out'),
      '--json',
    );
    expect(code, out).toBe(0);
    const [largest, ...smaller] = await transcodedLevels(readFileSync(at('out', 'a', 'albedo_64.ktx2')));
    expect([largest!.width, smaller.length]).toEqual([64, 6]);
    for (const file of [
      'toon.glb',
      'project.obj',
      'project.mtl',
      'albedo_64.png',
      'layout_64.png',
      'recipe.json',
      'report.json',
    ])
      expect(existsSync(at('out', 'b', file)), file).toBe(true);
    expect(Object.keys(unzipSync(readFileSync(at('out', 'a', '64.ora'))))).toContain('stack.xml');
    expect(JSON.parse(readFileSync(at('out', 'a', 'report.json'), 'utf8'))).toMatchObject({ settings });
    const webp = { ...settings, format: 'webp', parcels: ['albedo'] };
    writeFileSync(at('webp.json'), JSON.stringify(webp));
    await zanahoria('deliver', at('projects', 'a.zip'), '--settings', at('webp.json'), '--out', at('webp'));
    expect(readFileSync(at('webp', 'albedo_64.webp')).subarray(8, 12).toString()).toBe('WEBP');
  }, 180_000);

  it('refuses settings that can’t be', async () => {
    for (const [text, words] of [
      ['{"format":"tga"}', /at “format”/],
      ['{', /no JSON/],
    ] as const) {
      writeFileSync(at('bad.json'), text);
      const { code, err } = await zanahoria(
        'deliver',
        at('projects', 'a.zip'),
        '--settings',
        at('bad.json'),
        '--out',
        at('bad'),
      );
      expect([code, err]).toEqual([2, expect.stringMatching(words)]);
    }
    expect(existsSync(at('bad'))).toBe(false);
  });
});

describe('atlas', () => {
  it('packs projects and what was built onto one sheet, and what it writes may leave', async () => {
    await zanahoria(
      'build',
      at('models', '2.obj'),
      at('models', '4.obj'),
      '--recipe',
      at('recipe.json'),
      '--size',
      '64',
      '--out',
      at('parts'),
    );
    const args = [
      'atlas',
      at('projects', 'a.zip'),
      at('parts'),
      '--size',
      '256',
      '--margin',
      '12',
      '--out',
      at('atlas'),
    ];
    const { code, out, err } = await zanahoria(...args, '--weight', '2=2');
    expect([code, err]).toEqual([0, '']);
    const report = JSON.parse(out) as { members: { name: string; fill: number }[] };
    expect(report.members).toHaveLength(3);
    expect(report.members.slice(1).map((m) => m.name)).toEqual(['2', '4']);
    // The second has half the area of the fourth, and four times the texels a square unit.
    expect(report.members[1]!.fill / report.members[2]!.fill).toBeCloseTo(2, 1);
    const checked = await zanahoria(
      'check',
      at('atlas', 'model.glb'),
      '--albedo',
      at('atlas', 'albedo.png'),
      '--mips',
      '2',
    );
    expect(JSON.parse(checked.out)).toMatchObject({ seams: [], unpainted: 0, ok: true });
  }, 180_000);

  it('says what can’t be', async () => {
    for (const [more, words] of [
      [['--weight', 'Kettle=2'], /none is called so/],
      [['--weight', 'x'], /not a name and a number/],
      [['--margin', '300'], /0 to 128/],
      [['--arrange', 'loose'], /--arrange loose can't be used/],
    ] as const) {
      const { code, err } = await zanahoria('atlas', at('projects', 'a.zip'), '--out', at('no'), ...more);
      expect([code, err]).toEqual([2, expect.stringMatching(words)]);
    }
    expect(existsSync(at('no'))).toBe(false);
  });
});

it('match goes over a folder, each with the reference beside it', async () => {
  const done = spawnSync('./script/zanahoria', ['match', at('empty'), '--out', at('m')], {
    encoding: 'utf8',
  });
  expect([done.status, done.stderr]).toEqual([2, expect.stringMatching(/no folder with model\.glb/)]);
  mkdirSync(at('alone'));
  cpSync(at('one'), at('alone', 'one'), { recursive: true });
  expect((await zanahoria('match', at('alone'), '--out', at('m'))).err).toMatch(/has no reference\.png/);
});

it('files that are written at the same time don’t take one another’s pieces away', async () => {
  const big = new Uint8Array(3_000_000);
  await Promise.all(
    Array.from({ length: 12 }, (_, i) => writeOut(new Map([[at(`${i}.bin`), i % 2 ? big : `small ${i}`]]))),
  );
  expect(readFileSync(at('4.bin'), 'utf8')).toBe('small 4');
  expect(statSync(at('11.bin')).size).toBe(big.length);
});
