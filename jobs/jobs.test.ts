import { mkdtempSync, symlinkSync, writeFileSync, mkdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { run } from '../cli/run';
import { readModelFile } from '../cli/read-model-file';
import { readBytes } from '../cli/local-files';
import { engineOn, LOCAL, PAINT } from '../tests/engines';
import { plate } from '../tests/shapes';
import { PLAIN_STROKE, sampleAt } from '../tests/strokes';
import {
  deliverySettings,
  engineSource,
  ExportMaker,
  PARCELS,
  workHere,
  type NamedFile,
} from '../core/delivery';
import { writeProjectFile } from '../core/project-file';
import type { Engine } from '../core/engine';
import { encodePng } from '../core/formats';
import { runJob } from '../server/jobs/run-job';
import { doJob, FileSet, jobSchema, ProcessPool } from '.';

/** Twelve bytes that read as a triangle's corner. */
const SECRET = new Uint8Array(Float32Array.from({ length: 9 }, (_, i) => (i % 4) + 7).buffer);

/** A triangle whose positions lie in another file. */
const gltf = (uri: string): string =>
  JSON.stringify({
    asset: { version: '2.0' },
    scene: 0,
    scenes: [{ nodes: [0] }],
    nodes: [{ mesh: 0, name: 'Thief' }],
    meshes: [{ primitives: [{ attributes: { POSITION: 0, TEXCOORD_0: 1 } }] }],
    buffers: [{ uri, byteLength: 36 }],
    bufferViews: [{ buffer: 0, byteOffset: 0, byteLength: 36 }],
    accessors: [
      { bufferView: 0, componentType: 5126, count: 3, type: 'VEC3', min: [7, 7, 7], max: [10, 10, 10] },
      { bufferView: 0, componentType: 5126, count: 3, type: 'VEC2' },
    ],
  });

const folder = mkdtempSync(join(tmpdir(), 'zanahoria-files-'));
const inside = join(folder, 'model');
mkdirSync(join(inside, 'buffers'), { recursive: true });
writeFileSync(join(folder, 'secret.txt'), SECRET);
writeFileSync(join(inside, 'buffers', 'mesh.bin'), SECRET);
symlinkSync(join(folder, 'secret.txt'), join(inside, 'link.bin'));

describe('a model takes nothing along but what was handed over', () => {
  it.each([
    '../secret.txt',
    join(folder, 'secret.txt'),
    'file:///etc/passwd',
    'link.bin',
    '%2e%2e/secret.txt',
  ])('a glTF that speaks of %s', async (uri) => {
    const file = join(inside, 'model.gltf');
    writeFileSync(file, gltf(uri));
    await expect(readModelFile(file)).rejects.toThrow(expect.objectContaining({ code: 'file-truncated' }));
  });

  it('but what lies beside it in its own folder is read', async () => {
    const file = join(inside, 'whole.gltf');
    writeFileSync(file, gltf('buffers/mesh.bin'));
    expect((await readModelFile(file)).positions[0]).toBe(7);
  });

  it('a job’s glTF gets what the zip holds, and no file of the server', async () => {
    const zip = zipSync({
      'job.json': strToU8('{"do":"check"}'),
      'model.gltf': strToU8(gltf(join(folder, 'secret.txt'))),
      'albedo.png': encodePng({ width: 64, height: 64, rgba: new Uint8Array(64 * 64 * 4) }),
    });
    await expect(runJob(zip)).rejects.toThrow(expect.objectContaining({ code: 'file-truncated' }));
  });

  it('what is no plain file isn’t read at all', async () => {
    await expect(readBytes('/dev/zero')).rejects.toThrow(/no plain file/);
  });
});

/** A project with all that can be delivered: a detail sheet whose lines are thin in places, an outline, two lights. */
function project(): Engine {
  const engine = engineOn(plate(0.3, 'Under'), 64);
  engine.apply({
    do: 'stroke',
    layer: PAINT,
    stroke: { ...PLAIN_STROKE, runs: [sampleAt([0, 0, 0], [0, 1, 0], 0.5)] },
  });
  const [group] = engine.apply({ do: 'add-group', name: 'Line', detail: 'line', at: 2 }).ids;
  engine.apply({ do: 'add-layer', layer: { kind: 'paint', name: 'Thin' }, into: group!, at: 0 });
  engine.apply({ do: 'fill', layer: engine.document.nextId - 1, color: '#303030' });
  engine.apply({ do: 'add-swatches', swatches: [{ name: 'Clay', color: '#a06040', group: '' }] });
  engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { colors: [['Plate', '#406080']] } });
  const ramp = (name: string) => ({ id: null, name, colors: ['#101010', '#f0f0f0'] });
  const { ids } = engine.apply({ do: 'set-ramps', ramps: [ramp('A'), ramp('B')] });
  const run = { kind: 'straight', direction: [1, 0, 0] } as const;
  engine.apply({
    do: 'seat',
    of: { part: 'Under' },
    ramp: ids[0]!,
    from: 0,
    to: 1,
    rings: [],
    run: { ...run, direction: [...run.direction] },
  });
  return engine;
}

describe('what the application delivers the command line delivers', () => {
  const settings = deliverySettings.parse({
    size: null,
    format: 'png-dithered',
    parcels: PARCELS.filter((p) => p !== 'report' && p !== 'project'),
    outline: { width: 0.02, color: '#201008' },
    channels: { r: null, g: 'line', b: null, a: 'dark' },
  });

  it('file for file, with the same settings, hull widths and channels among them', async () => {
    const engine = project();
    const file = writeProjectFile({ document: engine.document, mesh: engine.mesh, ...engine.everything() });
    const maker = new ExportMaker(engineSource(engine), settings, workHere);
    const wanted: NamedFile[] = [];
    for (const exportItem of settings.parcels) wanted.push(...(await maker.exportItem(exportItem)));
    const made = await doJob(
      jobSchema.parse({ do: 'deliver', project: 'p.zip', settings: 's.json' }),
      new FileSet([
        ['p.zip', file],
        ['s.json', strToU8(JSON.stringify({ settings }))],
      ]),
    );
    const names = [...made.files.keys()].filter((name) => !name.endsWith('report.json'));
    expect(names.sort()).toEqual([...new Set(wanted.map(([name]) => name))].sort());
    for (const [name, bytes] of wanted) expect([name, made.files.get(name)]).toEqual([name, bytes]);
    // What suits a sheet of 64 is 512, wherever it is delivered.
    expect((made.report as { settings: { size: number } }).settings.size).toBe(512);
  });

  it('thin lines make a thin hull', async () => {
    const engine = project();
    const thin = await new ExportMaker(engineSource(engine), settings, workHere).model(true);
    engine.apply({ do: 'remove-layers', layers: [engine.document.layers.at(-1)!.id] });
    const full = await new ExportMaker(engineSource(engine), settings, workHere).model(true);
    expect(reach(thin)).toBeLessThan(reach(full) / 4);
  });
});

/** How far up a GLB's positions reach, read from its JSON here. */
function reach(glb: Uint8Array): number {
  const length = new DataView(glb.buffer, glb.byteOffset).getUint32(12, true);
  const json = JSON.parse(new TextDecoder().decode(glb.subarray(20, 20 + length))) as {
    accessors: { type: string; max?: number[] }[];
  };
  return Math.max(...json.accessors.flatMap((a) => (a.type === 'VEC3' && a.max ? [a.max[1]!] : [])));
}

describe('many on one machine', () => {
  const words: string[] = [];
  const terminal = { out: () => undefined, error: (text: string) => void words.push(text) };

  it('goes on, and ends, where something can’t be remembered', async () => {
    const models = join(folder, 'many');
    mkdirSync(models);
    for (const name of ['a', 'b'])
      writeFileSync(
        join(models, `${name}.obj`),
        'v 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\nf 1/1 2/2 3/3\n',
      );
    const out = join(folder, 'built');
    mkdirSync(out);
    // A file stands where the first model's folder would be.
    writeFileSync(join(out, 'a'), '');
    const code = await run(
      ['build', models, '--recipe', 'demo/otter.recipe.json', '--out', out, '--size', '64', '--jobs', '1'],
      terminal,
    );
    expect(code).toBe(1);
    expect(words.join('')).toMatch(/1 of 2: .*a\.obj: .*file of that name is there/);
    expect(words.join('')).toMatch(/2 of 2: .*b\.obj, [\d.]+ s/);
  }, 120_000);
});

it('a process that dies takes its own work with it only', async () => {
  const pool = new ProcessPool<object, unknown>(new URL('../tests/dying-process.ts', import.meta.url), 1);
  await expect(pool.ask({ die: true })).rejects.toThrow(/The process ended/);
  expect(await pool.ask({ die: false })).toBe('alive');
  pool.close();
});
