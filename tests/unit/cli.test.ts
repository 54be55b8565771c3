import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PNG } from 'pngjs';
import { beforeAll, describe, expect, it } from 'vitest';
import { run as runCli } from '../../cli/run';
import { writeOut } from '../../cli/write-out';
import { contentHash } from '../../core/math';

const folder = mkdtempSync(join(tmpdir(), 'zanahoria-'));
const at = (name: string): string => join(folder, name);

interface Ran {
  readonly code: number | null;
  readonly out: string;
  readonly err: string;
}

async function run(...args: string[]): Promise<Ran> {
  let out = '';
  let err = '';
  const code = await runCli(args, { out: (text) => void (out += text), error: (text) => void (err += text) });
  return { code, out, err };
}

/** As a person calls it, in a process of its own. */
function call(...args: string[]): Ran {
  const { status, stdout, stderr } = spawnSync('./script/zanahoria', args, { encoding: 'utf8' });
  return { code: status, out: stdout, err: stderr };
}

// A floor of 2 x 2 before a wall of height 1 along its right edge, each on its half of the sheet.
const ROOM = `o Floor
v -1 0 1
v 1 0 1
v 1 0 -1
v -1 0 -1
o Wall
v 1 0 1
v 1 1 1
v 1 1 -1
v 1 0 -1
vt 0.02 0.02
vt 0.48 0.02
vt 0.48 0.98
vt 0.02 0.98
vt 0.52 0.02
vt 0.98 0.02
vt 0.98 0.98
vt 0.52 0.98
o Floor
f 1/1 2/2 3/3 4/4
o Wall
f 5/5 8/8 7/7 6/6
`;

const BOX = `v 0 0 0
v 1 0 0
v 0 1 0
v 1 1 0
v 0 0 1
v 1 0 1
v 0 1 1
v 1 1 1
f 1 3 4 2
f 5 6 8 7
f 1 2 6 5
f 3 7 8 4
f 1 5 7 3
f 2 4 8 6
`;

beforeAll(() => {
  writeFileSync(at('room.obj'), ROOM);
  writeFileSync(at('bare.obj'), 'v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n');
  writeFileSync(at('box.obj'), BOX);
  writeFileSync(at('empty.glb'), '');
});

describe('inspect', () => {
  it('tells counts, parts, bounds, UVs and edges as JSON', async () => {
    const { code, out } = await run('inspect', at('room.obj'), '--size', '256', '--json');
    expect(code).toBe(0);
    const report = JSON.parse(out);
    expect(report).toMatchObject({
      vertices: 8,
      triangles: 4,
      parts: [
        { name: 'Floor', triangles: 2 },
        { name: 'Wall', triangles: 2 },
      ],
      bounds: { min: [-1, 0, -1], max: [1, 1, 1] },
      uv: { present: true, islands: 2, overlappedTexels: 0, outOfRange: 0 },
      // The wall stands on the floor's edge: that one is shared.
      edges: { open: 6, nonManifold: 0 },
      sheets: [['Floor', 'Wall']],
    });
    expect(report.uv.coveredTexels).toBe(2 * 118 * 246);
  });

  it('takes a model without UVs and says so', async () => {
    expect(JSON.parse((await run('inspect', at('bare.obj'), '--json')).out).uv.present).toBe(false);
  });
});

describe('cue', () => {
  it('writes occlusion as 16-bit grey, top row first, darker toward the wall', async () => {
    const { code } = await run(
      'cue',
      at('room.obj'),
      '--cue',
      'occlusion',
      '--size',
      '128',
      '--rays',
      '128',
      '--out',
      at('o.png'),
    );
    expect(code).toBe(0);
    const png = PNG.sync.read(readFileSync(at('o.png')), { skipRescale: true });
    const value = (x: number, y: number): number =>
      (png.data as unknown as Uint16Array)[(y * 128 + x) * 4]! / 65535;
    expect(value(4, 64)).toBeGreaterThan(0.9);
    expect(value(59, 64)).toBeLessThan(0.62);
    expect(value(30, 64)).toBeGreaterThan(value(50, 64));
  });

  it('writes height and facing', async () => {
    expect(
      (
        await run(
          'cue',
          at('room.obj'),
          '--cue',
          'height',
          '--axis',
          'x',
          '--size',
          '64',
          '--out',
          at('h.png'),
        )
      ).code,
    ).toBe(0);
    const png = PNG.sync.read(readFileSync(at('h.png')), { skipRescale: true });
    const row = (x: number): number => (png.data as unknown as Uint16Array)[(32 * 64 + x) * 4]! / 65535;
    expect(row(16)).toBeCloseTo((16.5 / 64 - 0.02) / 0.46, 2);
    const facing = await run(
      'cue',
      at('room.obj'),
      '--cue',
      'facing',
      '--direction',
      '0,1,0',
      '--size',
      '64',
      '--out',
      at('f.png'),
      '--json',
    );
    expect(JSON.parse(facing.out)).toMatchObject({ size: 64, cue: { cue: 'facing', direction: [0, 1, 0] } });
  });
});

describe('cue: curvature and nearness', () => {
  /** Values of a cue of the room at 64, 0..1, by texel. */
  const values = async (name: string, ...args: string[]): Promise<(x: number, y: number) => number> => {
    const out = at(`${name}.png`);
    const { code } = await run('cue', at('room.obj'), '--cue', name, ...args, '--size', '64', '--out', out);
    expect(code).toBe(0);
    const png = PNG.sync.read(readFileSync(out), { skipRescale: true });
    return (x, y) => (png.data as unknown as Uint16Array)[(y * 64 + x) * 4]! / 65535;
  };

  it('nearness is max(0, 1 - d/R) in model units, the point off the surface too', async () => {
    // Above the floor's middle: the floor goes from x = -1 at u = 0.02 to x = 1 at u = 0.48.
    const value = await values('nearness', '--point', '0,0.5,0', '--radius', '2');
    const x = -1 + 2 * ((16.5 / 64 - 0.02) / 0.46);
    const z = 1 - 2 * ((1 - 32.5 / 64 - 0.02) / 0.96);
    expect(value(16, 32)).toBeCloseTo(1 - Math.hypot(x, 0.5, z) / 2, 3);
    expect((await values('nearness', '--point', '50,0,0', '--radius', '1'))(16, 32)).toBe(0);
  });

  it('a flat floor before a wall is neither ridge nor crease but where they meet', async () => {
    expect((await values('ridge', '--scale', '1'))(4, 32)).toBe(0);
    expect((await values('crease', '--scale', '0.5'))(4, 32)).toBe(0);
  });
});

describe('build', () => {
  it('applies a recipe and writes albedo, model and report; twice the same', async () => {
    const recipe = {
      format: 'zanahoria-recipe',
      version: 1,
      name: 'Room',
      light: JSON.parse(readFileSync('tests/fixtures/v1/otter.recipe.json', 'utf8')).light,
      layers: [
        {
          kind: 'local',
          name: 'Local',
          visible: true,
          opacity: 1,
          blend: 'normal',
          fallback: '#808080',
          colors: { Floor: '#3366cc' },
        },
      ],
    };
    writeFileSync(at('recipe.json'), JSON.stringify(recipe));
    const first = await run(
      'build',
      at('room.obj'),
      '--recipe',
      at('recipe.json'),
      '--size',
      '128',
      '--out',
      at('out'),
      '--json',
    );
    expect(first.code).toBe(0);
    const png = PNG.sync.read(readFileSync(join(at('out'), 'albedo.png')));
    expect([...png.data.subarray(0, 4)]).toEqual([0x33, 0x66, 0xcc, 255]);
    const report = JSON.parse(readFileSync(join(at('out'), 'report.json'), 'utf8'));
    expect(report.texelHash).toBe(contentHash(new Uint8Array(png.data)));
    expect(
      readFileSync(join(at('out'), 'model.glb'))
        .subarray(0, 4)
        .toString(),
    ).toBe('glTF');
    const again = await run(
      'build',
      at('room.obj'),
      '--recipe',
      at('recipe.json'),
      '--size',
      '128',
      '--out',
      at('out2'),
      '--json',
    );
    expect(JSON.parse(again.out)).toEqual(JSON.parse(first.out));
  });
});

describe('cue: rays, grain and a denser model', () => {
  const grey = (file: string): number[] => [
    ...new Uint16Array(PNG.sync.read(readFileSync(file), { skipRescale: true }).data),
  ];

  it('cast shadow, thickness, ways and grain are written; a light overhead reaches the floor but what the wall hides', async () => {
    for (const args of [
      ['cast', '--direction', '1,0.5,0', '--light', '10'],
      ['thickness', '--distance', '0.5'],
      ['along', '--point', '0,0,0', '--distance', '1'],
      ['grain', '--kind', 'ridged', '--scale', '12', '--seed', '3'],
    ]) {
      const [name, ...more] = args as [string, ...string[]];
      const { code, out } = await run(
        'cue',
        at('room.obj'),
        '--cue',
        name,
        ...more,
        '--out',
        at(`${name}.png`),
        '--size',
        '64',
        '--json',
      );
      expect(code).toBe(0);
      expect(JSON.parse(out)).toMatchObject({ cue: { cue: name }, size: 64 });
      const values = grey(at(`${name}.png`));
      const shown = values.filter((_, i) => i % 4 === 0);
      // No ray leaves what has no back: it counts as thick.
      if (name === 'thickness') expect(Math.min(...shown)).toBe(65535);
      else expect(Math.max(...shown)).toBeGreaterThan(Math.min(...shown));
    }
    // Light comes from the right and from above, over the wall of height 1: the floor lies in its shadow up to 2 before it.
    const shadow = new Uint16Array(PNG.sync.read(readFileSync(at('cast.png')), { skipRescale: true }).data);
    expect(shadow[(32 * 64 + 28) * 4]).toBe(0);
  });

  it('--from measures on a denser model, and tells what it missed', async () => {
    const rings = 24;
    const dome = (n: number): string => {
      const v: string[] = [];
      const vt: string[] = [];
      const f: string[] = [];
      for (let j = 0; j <= n; j++) {
        for (let i = 0; i <= n; i++) {
          const [x, z] = [(i / n) * 2 - 1, (j / n) * 2 - 1];
          v.push(`v ${x} ${0.4 * Math.cos((x * Math.PI) / 2) * Math.cos((z * Math.PI) / 2)} ${-z}`);
          vt.push(`vt ${0.02 + (0.96 * i) / n} ${0.02 + (0.96 * j) / n}`);
        }
      }
      for (let j = 0; j < n; j++) {
        for (let i = 0; i < n; i++) {
          const [a, b, c, d] = [
            j * (n + 1) + i + 1,
            j * (n + 1) + i + 2,
            (j + 1) * (n + 1) + i + 2,
            (j + 1) * (n + 1) + i + 1,
          ];
          f.push(`f ${a}/${a} ${b}/${b} ${c}/${c} ${d}/${d}`);
        }
      }
      return [...v, ...vt, ...f].join('\n');
    };
    writeFileSync(at('dome.obj'), dome(3));
    writeFileSync(at('dense.obj'), dome(rings));
    const { code, out } = await run(
      'cue',
      at('dome.obj'),
      '--cue',
      'height',
      '--out',
      at('dome.png'),
      '--size',
      '64',
      '--from',
      at('dense.obj'),
      '--within',
      '0.3',
      '--json',
    );
    expect(code).toBe(0);
    expect(JSON.parse(out)).toMatchObject({ missedTexels: 0 });
    writeFileSync(at('high.obj'), ROOM.replaceAll(/^v (\S+) (\S+)/gm, 'v $1 5$2'));
    const far = await run(
      'cue',
      at('high.obj'),
      '--cue',
      'height',
      '--out',
      at('x.png'),
      '--from',
      at('dense.obj'),
      '--within',
      '0.0001',
    );
    expect(far.code).toBe(2);
    expect(far.err).toMatch(/same shape, place and size/);
  });

  it('refuses what no cue can be', async () => {
    for (const args of [
      ['cast', '--direction', '0,0,0'],
      ['cast', '--light', '500'],
      ['grain', '--kind', 'moss'],
      ['thickness', '--distance', '-1'],
      ['height', '--axis', 'w'],
    ]) {
      const { code, err } = await run('cue', at('room.obj'), '--cue', ...args, '--out', at('x.png'));
      expect([code, err.trim().split('\n').length]).toEqual([2, 1]);
    }
  });
});

describe('build: roles and many models', () => {
  const recipe = {
    format: 'zanahoria-recipe',
    version: 3,
    name: 'Two tones',
    says: '',
    lights: [
      {
        id: 0,
        name: 'Light',
        plan: {
          key: { direction: [0, 1, 0], color: '#ffffff', strength: 1, wrap: 0 },
          sky: { color: '#000000', strength: 0 },
          ground: { color: '#000000', strength: 0 },
        },
      },
    ],
    layers: [{ kind: 'local', id: 1, name: 'Colours', colors: [['trim', '#ff0000']], fallback: '#0000ff' }],
  };

  it('a role is played by the part that --map names', async () => {
    writeFileSync(at('roles.json'), JSON.stringify(recipe));
    const base = ['build', at('room.obj'), '--recipe', at('roles.json'), '--size', '64', '--json'];
    const plain = JSON.parse((await run(...base, '--out', at('r1'))).out) as {
      parts: { name: string; color: string }[];
      unplayed: string[];
    };
    expect(plain.unplayed).toEqual(['trim']);
    const mapped = JSON.parse(
      (await run(...base, '--out', at('r2'), '--map', 'trim=Wall')).out,
    ) as typeof plain;
    expect(mapped.parts.find((p) => p.name === 'Wall')?.color).toBe('#ff0000');
    expect(mapped.unplayed).toEqual([]);
    const both = JSON.parse(
      (await run(...base, '--out', at('r3'), '--map', 'trim=Wall', '--map', 'trim=Floor')).out,
    ) as typeof plain;
    expect(both.parts.map((p) => p.color)).toEqual(['#ff0000', '#ff0000']);
    for (const [map, words] of [
      ['trim=Roof', /no part “Roof”/],
      ['hat=Wall', /no role “hat”/],
      ['trim', /a role and a part/],
    ] as const) {
      const { code, err } = await run(...base, '--out', at('r4'), '--map', map);
      expect(code).toBe(2);
      expect(err).toMatch(words);
    }
  });

  it('builds a folder on several processes, goes on after a bad one, and exits with 1', () => {
    mkdirSync(at('many'), { recursive: true });
    writeFileSync(join(at('many'), 'a.obj'), ROOM);
    writeFileSync(join(at('many'), 'b.obj'), 'v 0 0\nnonsense');
    writeFileSync(join(at('many'), 'c.obj'), ROOM);
    writeFileSync(join(at('many'), 'note.txt'), 'not a model');
    writeFileSync(at('roles.json'), JSON.stringify(recipe));
    const { code, out, err } = call(
      'build',
      at('many'),
      '--recipe',
      at('roles.json'),
      '--size',
      '64',
      '--out',
      at('built'),
      '--jobs',
      '2',
      '--json',
    );
    expect(code).toBe(1);
    expect(err).toMatch(/3 of 3/);
    const summary = JSON.parse(readFileSync(join(at('built'), 'summary.json'), 'utf8')) as {
      model: string;
      texelHash?: string;
      error?: string;
      seconds?: number;
    }[];
    expect(JSON.parse(out)).toEqual(summary);
    expect(summary.map((row) => row.model)).toEqual(
      ['a', 'b', 'c'].map((name) => join(at('many'), `${name}.obj`)),
    );
    expect(summary[0]!.texelHash).toBe(summary[2]!.texelHash);
    expect(summary[0]!.seconds).toBeGreaterThan(0);
    expect(summary[1]!.error).toMatch(/\w/);
    expect(readdirSync(join(at('built'), 'c')).sort()).toEqual([
      '.made-build.json',
      'albedo.png',
      'model.glb',
      'report.json',
    ]);
  }, 60_000);

  it('an empty folder and a recipe that can’t be read are told before anything is built', async () => {
    mkdirSync(at('none'), { recursive: true });
    const empty = await run('build', at('none'), '--recipe', at('roles.json'), '--out', at('x'));
    expect([empty.code, empty.err]).toEqual([2, expect.stringMatching(/no GLB, glTF, OBJ, PLY or STL/)]);
    writeFileSync(at('newer.json'), JSON.stringify({ ...recipe, version: 99 }));
    const newer = await run('build', at('many'), '--recipe', at('newer.json'), '--out', at('x'));
    expect([newer.code, newer.err]).toEqual([2, expect.stringMatching(/newer version/)]);
  });
});

describe('palette', () => {
  it('prints the colours of a picture and their shares', async () => {
    const png = new PNG({ width: 10, height: 10 });
    for (let i = 0; i < 100; i++)
      png.data.set(i < 70 ? [0x2f, 0x74, 0x75, 255] : [0xcf, 0x5a, 0x2e, 255], i * 4);
    writeFileSync(at('two.png'), PNG.sync.write(png));
    const { code, out } = await run('palette', at('two.png'), '--colors', '6');
    expect(code).toBe(0);
    expect(JSON.parse(out)).toEqual({
      colors: [
        { hex: '#2f7475', share: 0.7 },
        { hex: '#cf5a2e', share: 0.3 },
      ],
    });
    expect((await run('palette', at('two.png'), '--colors', '1')).code).toBe(2);
    expect((await run('palette', at('room.obj'))).code).toBe(2);
  });
});

describe('unwrap', () => {
  it('lays out a model without UVs, writes it and prints the measures of what it wrote', async () => {
    const ran = await run(
      'unwrap',
      at('box.obj'),
      '--out',
      at('box.glb'),
      '--size',
      '512',
      '--margin',
      '8',
      '--json',
    );
    expect(ran.code).toBe(0);
    const report = JSON.parse(ran.out) as Record<string, number>;
    expect(Object.keys(report)).toEqual([
      'islands',
      'stretchL2',
      'stretchLinf',
      'angleDistortion',
      'areaDistortion',
      'flipped',
      'overlappedTexels',
      'fill',
      'seamLength',
      'seamSight',
      'seconds',
    ]);
    expect(report).toMatchObject({ flipped: 0, overlappedTexels: 0 });
    // A cube cut open along its edges lies flat (developable): no stretch.
    expect(report['stretchL2']).toBeCloseTo(1, 3);
    // The file is what the figures are of.
    const inspected = JSON.parse((await run('inspect', at('box.glb'), '--size', '512', '--json')).out) as {
      triangles: number;
      uv: Record<string, number>;
    };
    expect(inspected.triangles).toBe(12);
    const natural = JSON.parse(
      (
        await run(
          'unwrap',
          at('box.obj'),
          '--out',
          at('cross.glb'),
          '--size',
          '512',
          '--cut',
          'natural',
          '--json',
        )
      ).out,
    ) as Record<string, number>;
    expect(natural).toMatchObject({ islands: 1, flipped: 0, overlappedTexels: 0 });
    expect(natural['stretchL2']).toBeCloseTo(1, 3);
    for (const key of ['islands', 'flipped', 'overlappedTexels']) expect(inspected.uv[key]).toBe(report[key]);
    for (const key of ['stretchL2', 'fill', 'seamLength', 'angleDistortion'])
      expect(inspected.uv[key]).toBeCloseTo(report[key]!, 2);
  });

  it('says where a seam runs that nobody wants, and refuses parts that aren’t there', async () => {
    const parts = (option: string, names: string) =>
      run('unwrap', at('box.obj'), '--out', at('wish.glb'), '--size', '256', option, names, '--json');
    const part = (
      JSON.parse((await run('inspect', at('box.obj'), '--json')).out) as { parts: { name: string }[] }
    ).parts[0]!.name;
    const never = JSON.parse((await parts('--never', part)).out) as Record<string, unknown>;
    expect(never['note']).toMatch(/can’t lie flat without one.*, \d edges/);
    expect(never['islands']).toBe(1);
    expect(JSON.parse((await parts('--gladly', part)).out)).not.toHaveProperty('note');
    expect((await parts('--never', 'Tail')).err).toMatch(/names “Tail”; the model's parts are/);
  });

  it('cuts seams straight through triangles only when that is allowed', async () => {
    // A ball whose rings are turned against one another: along its edges there are only stairs.
    const [columns, rows] = [16, 12];
    const lines: string[] = [];
    for (let j = 0; j <= rows; j++)
      for (let i = 0; i < columns; i++) {
        const [a, b] = [((i + j / 2) / columns) * 2 * Math.PI, ((0.3 + j) / (rows + 0.6)) * Math.PI];
        lines.push(`v ${Math.sin(b) * Math.cos(a)} ${-Math.cos(b)} ${-Math.sin(b) * Math.sin(a) * 0.7}`);
      }
    const vertex = (i: number, j: number): number => 1 + j * columns + (i % columns);
    for (let j = 0; j < rows; j++)
      for (let i = 0; i < columns; i++)
        lines.push(
          `f ${vertex(i, j)} ${vertex(i + 1, j)} ${vertex(i, j + 1)}`,
          `f ${vertex(i + 1, j)} ${vertex(i + 1, j + 1)} ${vertex(i, j + 1)}`,
        );
    writeFileSync(at('twisted.obj'), lines.join('\n'));
    const cut = async (...more: string[]) =>
      JSON.parse(
        (
          await run(
            'unwrap',
            at('twisted.obj'),
            '--out',
            at('twisted.glb'),
            '--size',
            '256',
            '--json',
            ...more,
          )
        ).out,
      ) as Record<string, number>;
    const triangles = async (): Promise<number> =>
      (JSON.parse((await run('inspect', at('twisted.glb'), '--json')).out) as { triangles: number })
        .triangles;
    const along = await cut();
    expect(await triangles()).toBe(2 * columns * rows);
    expect(along).not.toHaveProperty('trianglesAdded');
    const straight = await cut('--cut-triangles');
    expect(straight['trianglesAdded']).toBeGreaterThan(0);
    expect(await triangles()).toBe(2 * columns * rows + straight['trianglesAdded']!);
    expect(straight).toMatchObject({ islands: along['islands'], flipped: 0, overlappedTexels: 0 });
    expect(straight['seamLength']).toBeLessThan(along['seamLength']!);
  });

  it('cuts along creases when told, and keeps the present islands when told', async () => {
    const along = async (model: string, seams: string): Promise<Record<string, number>> =>
      JSON.parse(
        (await run('unwrap', at(model), '--out', at('cut.glb'), '--size', '256', '--seams', seams)).out,
      ) as Record<string, number>;
    expect((await along('box.obj', 'creases'))['islands']).toBe(6);
    expect((await along('room.obj', 'existing'))['islands']).toBe(2);
  });
});

describe('layout', () => {
  it('draws the layout as SVG and as PNG of the same size', async () => {
    expect((await run('layout', at('room.obj'), '--out', at('room.svg'), '--size', '256')).code).toBe(0);
    const svg = readFileSync(at('room.svg'), 'utf8');
    expect(svg).toContain('viewBox="0 0 256 256"');
    expect(svg.match(/<path id="(Floor|Wall)"/g)).toHaveLength(2);
    expect((await run('layout', at('room.obj'), '--out', at('room.png'), '--size', '256')).code).toBe(0);
    const png = PNG.sync.read(readFileSync(at('room.png')));
    expect([png.width, png.height]).toEqual([256, 256]);
    // The floor lies from 0.02 to 0.48; between the two nothing does.
    const alpha = (u: number, v: number): number =>
      png.data[(Math.floor((1 - v) * 256) * 256 + Math.floor(u * 256)) * 4 + 3]!;
    expect([alpha(0.25, 0.5), alpha(0.75, 0.5), alpha(0.5, 0.5)]).toEqual([255, 255, 0]);
  });
});

describe('bad use and bad input: exit 2 and one clear line', () => {
  it.each([
    [['inspect', 'nowhere.glb'], /no file/],
    [['inspect'], /Name the model/],
    [['paint', 'x.glb'], /no command “paint”/],
    [['inspect', '@empty.glb'], /empty/],
    [['inspect', '@room.obj', '--size', '1000'], /--size 1000/],
    [['inspect', '@room.obj', '--wat'], /wat/],
    [['cue', '@bare.obj', '--cue', 'height', '--out', '@x.png'], /no UVs/],
    [['cue', '@room.obj', '--cue', 'magic', '--out', '@x.png'], /no cue “magic”/],
    [['cue', '@room.obj', '--cue', 'occlusion', '--rays', '0', '--out', '@x.png'], /--rays/],
    [['cue', '@room.obj', '--cue', 'occlusion', '--distance', '-1', '--out', '@x.png'], /--distance/],
    [['cue', '@room.obj', '--cue', 'facing', '--direction', '1,2', '--out', '@x.png'], /--direction/],
    [['cue', '@room.obj', '--cue', 'nearness', '--point', '1,2', '--out', '@x.png'], /--point/],
    [['cue', '@room.obj', '--cue', 'nearness', '--radius', '0', '--out', '@x.png'], /--radius/],
    [['cue', '@room.obj', '--cue', 'ridge', '--scale', '-1', '--out', '@x.png'], /--scale/],
    [['cue', '@room.obj', '--cue', 'height'], /--out is missing/],
    [['unwrap', '@box.obj', '--out', '@x.obj'], /should end in \.glb/],
    [['unwrap', '@box.obj', '--out', '@x.glb', '--seams', 'some'], /--seams some/],
    [['unwrap', '@box.obj', '--out', '@x.glb', '--margin', '999'], /--margin 999/],
    [['unwrap', '@box.obj', '--out', '@x.glb', '--cut', 'some'], /--cut some/],
    [['unwrap', '@box.obj', '--out', '@x.glb', '--weight', 'Nose=2'], /--weight Nose=2/],
    [['unwrap', '@box.obj', '--out', '@x.glb', '--stack', '--apart', 'Nose'], /--apart names “Nose”/],
    [['unwrap', '@box.obj', '--out', '@x.glb', '--arrange', 'some'], /--arrange some/],
    [['unwrap', '@box.obj', '--out', '@x.glb', '--stretch', '0.5'], /--stretch 0.5 is not between/],
    [['unwrap', '@box.obj', '--out', '@x.glb', '--seams', 'existing'], /no UVs/],
    [['layout', '@bare.obj', '--out', '@x.svg'], /no UVs/],
    [['layout', '@room.obj', '--out', '@x.gif'], /\.svg or \.png/],
    [['build', '@room.obj', '--recipe', '@room.obj', '--out', '@x'], /is no JSON/],
  ])('%j', async (args, words) => {
    const { code, out, err } = await run(...args.map((a) => (a.startsWith('@') ? at(a.slice(1)) : a)));
    expect(code).toBe(2);
    expect(out).toBe('');
    expect(err).toMatch(words);
    expect(err.trim().split('\n')).toHaveLength(1);
  });

  it('a job that fails for another reason exits with 1', async () => {
    expect(
      (
        await run(
          'cue',
          at('room.obj'),
          '--cue',
          'height',
          '--size',
          '64',
          '--out',
          join(folder, 'no', 'such', 'x.png'),
        )
      ).code,
    ).toBe(1);
  });
});

describe('as a program', () => {
  it('hands its exit codes and words on', () => {
    const fine = call('inspect', at('room.obj'), '--json');
    expect([fine.code, JSON.parse(fine.out).triangles, fine.err]).toEqual([0, 4, '']);
    const bad = call('inspect', at('empty.glb'));
    expect([bad.code, bad.out]).toEqual([2, '']);
    expect(bad.err).toMatch(/^zanahoria: .*empty/);
  });
});

describe('what is written', () => {
  it('takes the place of the old file only when it is whole', async () => {
    const file = at('kept.txt');
    writeFileSync(file, 'old');
    await expect(
      writeOut(
        new Map([
          [file, 'new'],
          [at('no/such/folder/x.txt'), 'x'],
        ]),
      ),
    ).rejects.toThrow(/its folder isn't there/);
    expect(readFileSync(file, 'utf8')).toBe('old');
    await writeOut(new Map([[file, 'new']]));
    expect(readFileSync(file, 'utf8')).toBe('new');
    expect(readdirSync(at('.')).filter((name) => name.endsWith('.part'))).toEqual([]);
  });

  it('is told in a sentence where it can’t be', async () => {
    const layout = (out: string) => run('layout', at('box.glb'), '--out', out);
    const missing = await layout(at('nowhere/a.svg'));
    expect([missing.code, missing.err]).toEqual([
      1,
      expect.stringMatching(/folder isn't there\. Make it first\.\n$/),
    ]);
    mkdirSync(at('folder.svg'));
    const folder = await layout(at('folder.svg'));
    expect([folder.code, folder.err]).toEqual([1, expect.stringMatching(/is a folder\. Name a file/)]);
    expect((await run('inspect', at('.'))).err).toMatch(/is a folder\. Name a file in it/);
  });
});
