import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import validator from 'gltf-validator';
import { PNG } from 'pngjs';
import { describe, expect, it } from 'vitest';
import { run as runCli } from '../../cli/run';
import { contentHash } from '../../core/math';

const folder = mkdtempSync(join(tmpdir(), 'zanahoria-ramp-'));
const at = (name: string): string => join(folder, name);

async function run(...args: string[]): Promise<{ code: number; out: string; err: string }> {
  let [out, err] = ['', ''];
  const code = await runCli(['ramp', ...args], {
    out: (text) => void (out += text),
    error: (text) => void (err += text),
  });
  return { code, out, err };
}

// Two boxes one over the other, which share no UVs: they have none.
const MODEL = `o Post
v 0 0 0
v 1 0 0
v 0 2 0
v 1 2 1
f 1 2 3
f 2 4 3
o Cap
v 0 2 0
v 1 2 0
v 0 3 1
f 5 6 7
`;

const RAMPS = {
  ramps: [
    { name: 'Wood', colors: ['#3b2418', '#8a5a33', '#d9b37a'] },
    { name: 'Brass', colors: ['#4a2f10', '#ffe9a0'] },
  ],
  parts: {
    Post: { ramp: 'Wood', direction: [0, 1, 0], from: 0, to: 1 },
    Cap: { ramp: 'Brass', direction: [0, 0, 1], from: 0.2, to: 0.8 },
  },
};

/** The parts of a GLB as its bytes say: node names, positions and UVs (glTF 2.0, binary container). */
function partsOf(glb: Buffer): { name: string; positions: Float32Array; uvs: Float32Array }[] {
  const jsonLength = glb.readUInt32LE(12);
  const json = JSON.parse(glb.subarray(20, 20 + jsonLength).toString()) as {
    nodes: { name: string; mesh?: number }[];
    meshes: { primitives: { attributes: Record<string, number> }[] }[];
    accessors: { bufferView: number; byteOffset?: number; count: number; type: string }[];
    bufferViews: { byteOffset?: number; byteStride?: number }[];
  };
  const bin = glb.subarray(20 + jsonLength + 8);
  const read = (accessor: number, width: number): Float32Array => {
    const { bufferView, byteOffset = 0, count } = json.accessors[accessor]!;
    const { byteOffset: from = 0, byteStride = width * 4 } = json.bufferViews[bufferView]!;
    return Float32Array.from({ length: count * width }, (_, i) =>
      bin.readFloatLE(from + byteOffset + Math.floor(i / width) * byteStride + (i % width) * 4),
    );
  };
  return json.nodes.flatMap(({ name, mesh }) =>
    mesh === undefined
      ? []
      : json.meshes[mesh]!.primitives.map(({ attributes }) => ({
          name,
          positions: read(attributes['POSITION']!, 3),
          uvs: read(attributes['TEXCOORD_0']!, 2),
        })),
  );
}

/** What a bilinear filter reads, clamped to the edge (glTF counts v from the top). */
function lookUp({ width, data }: PNG, u: number, v: number): number[] {
  const [x, y] = [u * width - 0.5, v * width - 0.5];
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const clamp = (i: number): number => Math.min(width - 1, Math.max(0, i));
  return [0, 1, 2].map((c) => {
    let sum = 0;
    for (const [dx, dy] of [
      [0, 0],
      [1, 0],
      [0, 1],
      [1, 1],
    ] as const) {
      const weight = (dx ? x - x0 : 1 - x + x0) * (dy ? y - y0 : 1 - y + y0);
      sum += weight * data[(clamp(y0 + dy) * width + clamp(x0 + dx)) * 4 + c]!;
    }
    return sum;
  });
}

const rgb = (hex: string): number[] => [1, 3, 5].map((i) => Number.parseInt(hex.slice(i, i + 2), 16));

describe('ramp', () => {
  it('writes a sheet, a valid model and a report; every colour that is read is of the part’s own ramp', async () => {
    writeFileSync(at('post.obj'), MODEL);
    writeFileSync(at('ramps.json'), JSON.stringify(RAMPS));
    const { code, out } = await run(
      at('post.obj'),
      '--ramps',
      at('ramps.json'),
      '--size',
      '32',
      '--out',
      at('out'),
    );
    expect(code).toBe(0);
    const png = PNG.sync.read(readFileSync(at('out/ramps.png')));
    expect(JSON.parse(out)).toEqual({
      parts: [
        { name: 'Post', ramp: 'Wood', inside: true },
        { name: 'Cap', ramp: 'Brass', inside: true },
      ],
      texelHash: contentHash(png.data),
    });
    expect(JSON.parse(readFileSync(at('out/report.json'), 'utf8'))).toEqual(JSON.parse(out));
    const glb = readFileSync(at('out/model.glb'));
    const { issues } = await validator.validateBytes(new Uint8Array(glb));
    expect(issues.numErrors).toBe(0);
    const [post, cap] = partsOf(glb);
    expect([post!.name, cap!.name]).toEqual(['Post', 'Cap']);
    for (let v = 0; v < post!.uvs.length / 2; v++) {
      // From its foot at 0 to its head at 2: the first colour and the last, one to one.
      const wanted = rgb(post!.positions[v * 3 + 1] === 0 ? '#3b2418' : '#d9b37a');
      lookUp(png, post!.uvs[v * 2]!, post!.uvs[v * 2 + 1]!).forEach((c, k) => {
        expect(Math.abs(c - wanted[k]!)).toBeLessThan(1);
      });
    }
    // Each channel of brass grows along it; a fifth and four fifths of the way lie between its ends.
    const values = Array.from({ length: 3 }, (_, v) => lookUp(png, cap!.uvs[v * 2]!, cap!.uvs[v * 2 + 1]!));
    const [low, high] = [rgb('#4a2f10'), rgb('#ffe9a0')];
    for (const value of values) {
      value.forEach((c, k) => {
        expect(c).toBeGreaterThan(low[k]! + 1);
        expect(c).toBeLessThan(high[k]! - 1);
      });
    }
  });

  it('bad ramps, sizes and parts are told in a sentence, and nothing is written', async () => {
    const wrong = async (change: object, ...more: string[]): Promise<string> => {
      writeFileSync(at('bad.json'), JSON.stringify({ ...RAMPS, ...change }));
      const { code, err } = await run(
        at('post.obj'),
        '--ramps',
        at('bad.json'),
        '--out',
        at('none'),
        ...more,
      );
      expect(code).not.toBe(0);
      expect(() => readFileSync(at('none/ramps.png'))).toThrow(/ENOENT/);
      return err;
    };
    expect(await wrong({ ramps: [RAMPS.ramps[0], { name: 'Flat', colors: ['#000000'] }] })).toMatch(
      /two colours/,
    );
    expect(await wrong({ parts: { Post: RAMPS.parts.Post } })).toMatch(/“Cap” is on no ramp/);
    expect(
      await wrong({ parts: { ...RAMPS.parts, Cap: { ...RAMPS.parts.Cap, direction: [0, 0, 0] } } }),
    ).toMatch(/parts\.Cap\.direction/);
    const flat = { ...RAMPS.parts.Cap, direction: [0, 1, 0] };
    writeFileSync(at('flat.obj'), 'o Lid\nv 0 1 0\nv 1 1 0\nv 0 1 1\nf 1 2 3\n');
    writeFileSync(at('lid.json'), JSON.stringify({ ...RAMPS, parts: { Lid: flat } }));
    expect((await run(at('flat.obj'), '--ramps', at('lid.json'), '--out', at('none'))).err).toMatch(
      /no extent along 0, 1, 0/,
    );
    expect(await wrong({}, '--size', '100')).toMatch(/--size 100/);
    const many = Array.from({ length: 6 }, (_, i) => ({ name: `R${i}`, colors: ['#000000', '#ffffff'] }));
    expect(await wrong({ ramps: many }, '--size', '16')).toMatch(/6 ramps don't fit/);
    expect((await run(at('post.obj'), '--ramps', at('nowhere.json'), '--out', at('none'))).err).toMatch(
      /can't be read/,
    );
  });
});
