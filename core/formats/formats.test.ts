import fc from 'fast-check';
import { PNG } from 'pngjs';
import validator from 'gltf-validator';
import { describe, expect, it } from 'vitest';
import { ball, plate, seamedFloor } from '../../tests/shapes';
import { MAX_TRIANGLES } from '../mesh';
import {
  decodePng,
  encodeGreyPng,
  encodePng,
  paletteStrip,
  paletteTokens,
  readPaletteTokens,
  pictureKind,
  readModel,
  writeUnlitGlb,
} from '.';

const text = (s: string): Uint8Array => new TextEncoder().encode(s);

const TRIANGLE_OBJ = `o Tri
v 0 0 0
v 1 0 0
v 0 1 0
vt 0 0
vt 1 0
vt 0 1
f 1/1 2/2 3/3
`;

describe('PNG, read back by pngjs', () => {
  it('keeps every byte, also colours under no alpha', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: 1, max: 12 }),
        fc.infiniteStream(fc.nat(255)),
        (width, height, stream) => {
          const rgba = Uint8Array.from({ length: width * height * 4 }, () => stream.next().value as number);
          rgba[3] = 7; // one pixel is not opaque, so that alpha is kept
          const file = encodePng({ width, height, rgba });
          const theirs = PNG.sync.read(Buffer.from(file));
          expect([theirs.width, theirs.height]).toEqual([width, height]);
          expect(new Uint8Array(theirs.data)).toEqual(rgba);
          expect(decodePng(file).rgba).toEqual(rgba);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('leaves the alpha channel out of an opaque picture and says sRGB', () => {
    const file = encodePng({ width: 2, height: 1, rgba: Uint8Array.of(1, 2, 3, 255, 4, 5, 6, 255) });
    expect(file[25]).toBe(2);
    expect(Buffer.from(file).includes('sRGB')).toBe(true);
    expect([...PNG.sync.read(Buffer.from(file)).data]).toEqual([1, 2, 3, 255, 4, 5, 6, 255]);
  });

  it('writes 16-bit grey, most significant byte first', () => {
    const file = encodeGreyPng(Uint16Array.of(0, 65535, 0x1234, 256), 2, 2);
    const theirs = PNG.sync.read(Buffer.from(file), { skipRescale: true });
    expect((theirs as unknown as { depth: number }).depth).toBe(16);
    const grey = [0, 4, 8, 12].map((i) => (theirs.data as unknown as Uint16Array)[i]);
    expect(grey).toEqual([0, 65535, 0x1234, 256]);
  });

  it('refuses a picture that was cut off', () => {
    const file = encodePng({ width: 8, height: 8, rgba: new Uint8Array(256).fill(9) });
    expect(() => decodePng(file.subarray(0, file.length - 20))).toThrow(/cut off/);
  });
});

describe('GLB', () => {
  it.each([
    ['with a texture', true],
    ['without', false],
  ])('%s passes gltf-validator without errors', async (_what, textured) => {
    const png = encodePng({ width: 2, height: 2, rgba: new Uint8Array(16).fill(255) });
    const glb = await writeUnlitGlb(plate(0.1, 'Under'), 'Plate', textured ? [png] : []);
    const report = await validator.validateBytes(glb);
    expect(report.issues.numErrors).toBe(0);
    expect(report.issues.numWarnings).toBe(0);
    expect(report.info.extensionsUsed).toEqual(['KHR_materials_unlit']);
    expect(report.info.totalTriangleCount).toBe(4);
  });

  it('comes back as the same model', async () => {
    const mesh = plate(0.1, 'Under');
    const back = await readModel('plate.glb', await writeUnlitGlb(mesh, 'Plate', []));
    expect(back.parts).toEqual(mesh.parts);
    expect(back.faceParts).toEqual(mesh.faceParts);
    expect(back.positions).toEqual(mesh.positions);
    back.uvs!.forEach((u, i) => expect(u).toBeCloseTo(mesh.uvs[i]!, 6));
  });
});

describe('OBJ', () => {
  it('reads polygons, negative indices, several objects and line ends of both kinds', async () => {
    const obj = [
      'o First',
      'v 0 0 0',
      'v 1 0 0',
      'v 1 1 0',
      'v 0 1 0',
      'vt 0 0',
      'vt 1 0',
      'vt 1 1',
      'vt 0 1',
      'f -4/-4 -3/-3 -2/-2 -1/-1',
      'o Second # with a remark',
      'f 1/1 \\',
      '2/2 3/3',
    ].join('\r\n');
    const mesh = await readModel('two.obj', text(obj));
    expect(mesh.parts).toEqual(['First', 'Second']);
    expect([...mesh.faceParts]).toEqual([0, 0, 1]);
    expect(mesh.uvs).not.toBeNull();
    expect([...mesh.normals.subarray(0, 3)]).toEqual([0, 0, 1]);
  });

  it('makes parts of groups or materials where there are no objects', async () => {
    const lines = TRIANGLE_OBJ.replace('o Tri', 'g Left');
    expect((await readModel('g.obj', text(lines))).parts).toEqual(['Left']);
    const material = TRIANGLE_OBJ.replace('o Tri', 'usemtl Wood');
    expect((await readModel('m.obj', text(material))).parts).toEqual(['Wood']);
    expect((await readModel('plain.obj', text(TRIANGLE_OBJ.replace('o Tri\n', '')))).parts).toEqual([
      'plain',
    ]);
  });
});

describe('bad input gets a clear sentence', () => {
  const cases: readonly (readonly [string, string, Uint8Array, string, RegExp])[] = [
    ['an empty file', 'a.glb', new Uint8Array(0), 'file-empty', /empty \(0 bytes\)/],
    [
      'a picture',
      'a.glb',
      Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10),
      'file-not-a-model',
      /is a picture \(PNG\)/,
    ],
    ['text', 'notes.txt', text('Buy turnips.'), 'file-not-a-model', /not a model/],
    ['a GLB by name only', 'a.glb', text('solid cube'), 'file-not-a-model', /doesn't begin as one/],
    ['half of a glTF', 'a.gltf', text('{"asset":{"version":"2.0"},"mesh'), 'file-truncated', /half-way/],
    [
      'glTF 1.0',
      'a.gltf',
      text('{"asset":{"version":"1.0"},"meshes":{"a":{}}}'),
      'file-unsupported',
      /glTF 1\.0/,
    ],
    [
      'a glTF without its bin',
      'a.gltf',
      text('{"asset":{"version":"2.0"},"buffers":[{"uri":"far.bin","byteLength":3}]}'),
      'file-truncated',
      /far\.bin/,
    ],
    ['an OBJ without faces', 'a.obj', text('v 0 0 0\nv 1 0 0\nv 0 1 0\n'), 'model-empty', /no triangles/],
    ['an OBJ without anything', 'a.obj', text('# nothing'), 'file-not-a-model', /no vertices/],
    ['NaN', 'a.obj', text(TRIANGLE_OBJ.replace('v 1 0 0', 'v nan 0 0')), 'model-bad-number', /not a number/],
    [
      'a UV that is none',
      'a.obj',
      text(TRIANGLE_OBJ.replace('vt 1 0', 'vt x 0')),
      'model-bad-number',
      /UV that is not a number/,
    ],
    ['a wild index', 'a.obj', text(TRIANGLE_OBJ.replace('3/3', '9/3')), 'model-bad-number', /element “9”/],
  ];
  it.each(cases)('%s', async (_what, name, bytes, code, words) => {
    await expect(readModel(name, bytes)).rejects.toMatchObject({
      code,
      message: expect.stringMatching(words),
    });
  });

  it('a GLB that was cut off, wherever it was cut', async () => {
    const glb = await writeUnlitGlb(ball(), 'Ball', []);
    for (const part of [0.001, 0.3, 0.999]) {
      const cut = glb.slice(0, Math.max(5, Math.floor(glb.length * part)));
      await expect(readModel('a.glb', cut)).rejects.toMatchObject({ code: 'file-truncated' });
    }
  });

  it('two million triangles', async () => {
    const faces = 'f 1 2 3\n'.repeat(2_000_000);
    await expect(readModel('big.obj', text(`v 0 0 0\nv 1 0 0\nv 0 1 0\n${faces}`))).rejects.toMatchObject({
      code: 'model-too-large',
      message: expect.stringContaining(MAX_TRIANGLES.toLocaleString('en')),
    });
  });

  it('random bytes never crash the reader in another way', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.uint8Array({ maxLength: 300 }),
        fc.constantFrom('a.glb', 'a.gltf', 'a.obj', 'a'),
        async (bytes, name) => {
          await expect(readModel(name, bytes)).rejects.toHaveProperty('code');
        },
      ),
    );
  });
});

describe('palettes', () => {
  const colors = [
    { name: 'Fur', color: '#8a5638' },
    { name: 'Fur', color: '#c98b57' },
    { name: '', color: '#2f7475' },
    { name: '$odd.{name}', color: '#000000' },
  ];

  it('as a strip: one square a colour, read back by pngjs', () => {
    const png = PNG.sync.read(Buffer.from(paletteStrip(colors)));
    expect([png.width, png.height]).toEqual([128, 32]);
    expect([...png.data.subarray(0, 3)]).toEqual([0x8a, 0x56, 0x38]);
    expect([...png.data.subarray((31 * 128 + 127) * 4, (31 * 128 + 127) * 4 + 3)]).toEqual([0, 0, 0]);
  });

  // Design Tokens Format Module (W3C Community Group): names don't begin with $ and hold no { } or dot; $type color with
  // colorSpace and components (Color Module).
  it('as design tokens: legal, unique names and sRGB components', () => {
    const file = JSON.parse(paletteTokens('Otter', colors)) as { palette: Record<string, unknown> };
    const names = Object.keys(file.palette).filter((n) => !n.startsWith('$'));
    expect(names).toHaveLength(4);
    for (const n of names) expect(n).not.toMatch(/[{}.]|^\$/);
    expect(file.palette['$type']).toBe('color');
    expect(readPaletteTokens(paletteTokens('Otter', colors)).map((c) => c.color)).toEqual(
      colors.map((c) => c.color),
    );
    expect(file.palette['Fur']).toEqual({
      $value: { colorSpace: 'srgb', components: [0.541176, 0.337255, 0.219608], hex: '#8a5638' },
    });
  });
});

describe('design tokens of others', () => {
  // Format Module: a group's $type holds for what is in it; a token that is of another type is none of ours.
  it('give their colours, nested and by either form of value', () => {
    const tokens = {
      brand: {
        $type: 'color',
        warm: { $value: '#FFAA00' },
        deep: { night: { $value: { colorSpace: 'srgb', components: [0, 0.2, 1], hex: '#0033ff' } } },
      },
      space: { $type: 'dimension', small: { $value: { value: 4, unit: 'px' } } },
      alpha: { $type: 'color', $value: '#11223344' },
    };
    expect(readPaletteTokens(JSON.stringify(tokens))).toEqual([
      { name: 'warm', color: '#ffaa00' },
      { name: 'night', color: '#0033ff' },
      { name: 'alpha', color: '#112233' },
    ]);
  });

  it('that hold none, or are no JSON, are refused', () => {
    for (const text of ['{', '{}', '[1]', '{"a":{"$type":"color","$value":"red"}}', 'null'])
      expect(() => readPaletteTokens(text)).toThrow(expect.objectContaining({ code: 'file-not-a-palette' }));
  });
});

describe('picture kinds', () => {
  it('are told by their first bytes', () => {
    expect(pictureKind(Uint8Array.of(0xff, 0xd8, 0xff, 0xe0))).toBe('JPEG');
    expect(pictureKind(text('RIFF....WEBPVP8 '))).toBe('WebP');
    expect(pictureKind(text('BMX is a bicycle and no bitmap'))).toBeUndefined();
    expect(pictureKind(seamedFloor().uvs as unknown as Uint8Array)).toBeUndefined();
  });
});
