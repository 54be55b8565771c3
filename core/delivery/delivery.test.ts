import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { WebIO, type Mesh as GltfMesh } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import validator from 'gltf-validator';
import { read } from 'ktx-parse';
import { MTLLoader } from 'three/examples/jsm/loaders/MTLLoader.js';
import { PNG } from 'pngjs';
import { converter } from 'culori';
import { beforeAll, describe, expect, it } from 'vitest';
import { transcodedLevels } from '../../tests/basis';
import { ball } from '../../tests/shapes';
import { boundsOf, diagonalOf } from '../mesh';
import type { Vec3 } from '../math';
import {
  encodeDeepPng,
  encodeKtx2,
  encodeWebp,
  readModel,
  useWebpModule,
  writeMtl,
  writeObj,
  writeUnlitGlb,
  type Picture,
} from '../formats';
import {
  deliverySettings,
  dithered,
  FileNames,
  hullOf,
  levelCount,
  mipLevels,
  rounded,
  USUAL_NAMES,
} from '.';

beforeAll(() => {
  const file = createRequire(import.meta.url).resolve('@jsquash/webp/codec/enc/webp_enc_simd.wasm');
  return useWebpModule(new WebAssembly.Module(readFileSync(file)));
});

/** A painted-looking square: slopes of colour and a hard border. */
function painted(size: number): Picture {
  const rgba = new Uint8Array(size * size * 4);
  for (let y = 0; y < size; y++) {
    for (let x = 0; x < size; x++) {
      const o = (y * size + x) * 4;
      const isLeft = x + y / 3 < size / 2;
      rgba.set([isLeft ? 200 - (y * 90) / size : 40, 90 + (x * 100) / size, isLeft ? 60 : 150, 255], o);
    }
  }
  return { width: size, height: size, rgba };
}

/** The mean of the square of texels under one, in linear light by culori. */
function meanUnder({ width, rgba }: Picture, level: number, x: number, y: number): number[] {
  const toLinear = converter('lrgb');
  const toSrgb = converter('rgb');
  const side = 2 ** level;
  const sum = [0, 0, 0];
  for (let dy = 0; dy < side; dy++) {
    for (let dx = 0; dx < side; dx++) {
      const o = ((y * side + dy) * width + x * side + dx) * 4;
      const [r, g, b] = [0, 1, 2].map((k) => rgba[o + k]! / 255) as [number, number, number];
      const light = toLinear({ mode: 'rgb', r, g, b });
      [light.r, light.g, light.b].forEach((v, k) => (sum[k]! += v / side ** 2));
    }
  }
  const mean = toSrgb({ mode: 'lrgb', r: sum[0]!, g: sum[1]!, b: sum[2]! });
  return [mean.r, mean.g, mean.b].map((v) => v * 255);
}

describe('the halvings of a sheet', () => {
  const sheet = painted(64);

  it('are means in linear light, down to one texel, none rounded from a rounded one', () => {
    const levels = mipLevels(sheet, 'linear');
    expect(levels.map((l) => l.width)).toEqual([64, 32, 16, 8, 4, 2, 1]);
    expect(levels).toHaveLength(levelCount(64));
    for (const [level, x, y] of [
      [1, 15, 7],
      [3, 4, 2],
      [6, 0, 0],
    ] as const) {
      const { width, rgba } = levels[level]!;
      const o = (y * width + x) * 4;
      meanUnder(sheet, level, x, y).forEach((v, k) => expect(Math.abs(rgba[o + k]! - v)).toBeLessThan(0.51));
    }
  });

  it('are plain means of the numbers where that is asked for', () => {
    const { rgba } = mipLevels(
      { width: 2, height: 1, rgba: Uint8Array.of(0, 0, 0, 255, 255, 255, 255, 255) },
      'encoded',
    )[1]!;
    expect([...rgba]).toEqual([128, 128, 128, 255]);
    const light = mipLevels(
      { width: 2, height: 1, rgba: Uint8Array.of(0, 0, 0, 255, 255, 255, 255, 255) },
      'linear',
    )[1]!;
    // Half the light of white is 188 in sRGB (IEC 61966-2-1).
    expect([...light.rgba]).toEqual([188, 188, 188, 255]);
  });

  it('let what is transparent not darken what is not', () => {
    const half = { width: 2, height: 1, rgba: Uint8Array.of(200, 100, 50, 255, 0, 0, 0, 0) };
    expect([...mipLevels(half, 'linear')[1]!.rgba]).toEqual([200, 100, 50, 128]);
  });
});

describe('16 bit brought down to 8', () => {
  it('keeps a slope that is finer than one step as a mean, and whole values as they are', () => {
    const size = 64;
    const rgba = new Uint16Array(size * size * 4);
    for (let i = 0; i < size * size; i++) rgba.set([257 * 100 + 90, 257 * 30, 257 * 255, 65535], i * 4);
    const picture = { width: size, height: size, rgba };
    const out = dithered(picture).rgba;
    let sum = 0;
    for (let i = 0; i < out.length; i += 4) {
      sum += out[i]!;
      expect([100, 101]).toContain(out[i]);
      expect([out[i + 1], out[i + 2], out[i + 3]]).toEqual([30, 255, 255]);
    }
    expect(sum / (size * size)).toBeCloseTo(100 + 90 / 257, 2);
    expect(rounded(picture).rgba[0]).toBe(100);
  });

  it('leaves as a 16-bit PNG that another reader reads value by value', () => {
    const rgba = Uint16Array.from({ length: 8 * 4 * 4 }, (_, i) => (i % 4 === 3 ? 65535 : (i * 997) % 65536));
    const opaque = PNG.sync.read(Buffer.from(encodeDeepPng({ width: 8, height: 4, rgba })), {
      skipRescale: true,
    });
    expect(opaque).toMatchObject({ width: 8, height: 4, depth: 16, alpha: false });
    expect([...(opaque.data as unknown as Uint16Array)]).toEqual([...rgba]);
    rgba[3] = 12345;
    const clear = PNG.sync.read(Buffer.from(encodeDeepPng({ width: 8, height: 4, rgba })), {
      skipRescale: true,
    });
    expect(clear.alpha).toBe(true);
    expect([...(clear.data as unknown as Uint16Array)]).toEqual([...rgba]);
  });
});

describe('a KTX2 file', () => {
  const far = (a: Uint8Array, b: Uint8Array): number =>
    a.reduce((worst, v, i) => Math.max(worst, Math.abs(v - b[i]!)), 0);

  it('has the levels that it was given, as Basis Universal’s own transcoder reads them', async () => {
    // Higher than a band, so that levels are put together of several.
    const sheet = painted(512);
    const levels = mipLevels(sheet, 'linear');
    let told = 0;
    const file = await encodeKtx2(levels, {
      isSrgb: true,
      effort: 'fast',
      onProgress: (done) => (told = done),
    });
    expect(told).toBe(1);
    const back = await transcodedLevels(file);
    expect(back.map((l) => [l.width, l.height])).toEqual(levels.map((l) => [l.width, l.height]));
    // Blocks lose a little; a level that was another one, or rows in the wrong place, would be 50 and more off.
    back.forEach((level, k) => {
      const mean =
        level.rgba.reduce((sum, v, i) => sum + Math.abs(v - levels[k]!.rgba[i]!), 0) / level.rgba.length;
      expect(mean, `level ${k}`).toBeLessThan(level.width > 8 ? 2 : 10);
      expect(far(level.rgba, levels[k]!.rgba), `level ${k}`).toBeLessThan(40);
    });
    // Khronos Data Format 1.3: transfer 2 is sRGB, 1 linear.
    const { dataFormatDescriptor, supercompressionScheme, vkFormat } = read(file);
    expect([dataFormatDescriptor[0]!.transferFunction, supercompressionScheme, vkFormat]).toEqual([2, 2, 0]);
  });

  it('has alpha only where there is some, also where that lies in a later band', async () => {
    // Khronos Data Format 1.3, section 5.6.14: channel 0 is UASTC RGB, 3 is RGBA.
    const channelOf = (file: Uint8Array) => read(file).dataFormatDescriptor[0]!.samples[0]!.channelType;
    const opaque = painted(320);
    const rgba = opaque.rgba.map((v, i) => (i % 4 === 3 ? (i > 300 * 320 * 4 ? 90 : 255) : v));
    const how = { isSrgb: true, effort: 'fast' } as const;
    const solid = { ...opaque, rgba: opaque.rgba.map((v, i) => (i % 4 === 3 ? 255 : v)) };
    expect(channelOf(await encodeKtx2([solid], how))).toBe(0);
    const holed = await encodeKtx2([{ ...opaque, rgba }], how);
    expect(channelOf(holed)).toBe(3);
    const [back] = await transcodedLevels(holed);
    expect(Math.abs(back!.rgba.at(-1)! - 90)).toBeLessThan(10);
  });

  it('of values says that they are values', async () => {
    const file = await encodeKtx2([painted(16)], { isSrgb: false, effort: 'fine' });
    expect(read(file).dataFormatDescriptor[0]!.transferFunction).toBe(1);
    expect(read(file).levels).toHaveLength(1);
  });
});

describe('a WebP picture', () => {
  it('is a RIFF file of the right kind and size, lossless or not', async () => {
    const sheet = painted(64);
    const [lossless, small] = [
      await encodeWebp(sheet, { quality: 'lossless' }),
      await encodeWebp(sheet, { quality: 80 }),
    ];
    const text = (bytes: Uint8Array, at: number): string =>
      String.fromCharCode(...bytes.subarray(at, at + 4));
    // RFC 9649, sections 2.4 to 2.6.
    expect([text(lossless, 0), text(lossless, 8), text(lossless, 12)]).toEqual(['RIFF', 'WEBP', 'VP8L']);
    expect([text(small, 8), text(small, 12)]).toEqual(['WEBP', 'VP8 ']);
    const bits = new DataView(lossless.buffer, lossless.byteOffset).getUint32(21, true);
    expect([(bits & 0x3fff) + 1, ((bits >>> 14) & 0x3fff) + 1]).toEqual([64, 64]);
  });
});

describe('a model for a toon shader', () => {
  it('has its outline as a hull around it, inside out, and its width in the vertex colours', async () => {
    const mesh = ball();
    const half = { width: 2, height: 1, rgba: Uint8Array.of(128, 128, 128, 255, 255, 255, 255, 255) };
    const hull = hullOf(mesh, { width: 0.01, color: '#402010', widths: [half] });
    const reach = 0.01 * diagonalOf(boundsOf(mesh.positions));
    for (let v = 0; v < mesh.positions.length / 3; v++) {
      const at = (p: Float32Array): number => Math.hypot(p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!);
      expect(at(hull.mesh.positions) - at(mesh.positions)).toBeCloseTo(reach * hull.widths[v]!, 3);
    }
    expect([Math.min(...hull.widths), Math.max(...hull.widths)]).toEqual([expect.closeTo(0.5, 1), 1]);
    const glb = await writeUnlitGlb(mesh, 'Ball', [], { hull });
    const report = await validator.validateBytes(glb);
    expect([report.issues.numErrors, report.issues.numWarnings]).toEqual([0, 0]);
    const document = await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(glb);
    const [body, outline] = document.getRoot().listMeshes();
    expect([body!.getName(), outline!.getName()]).toEqual(['Ball', 'Ball outline']);
    const [piece] = outline!.listPrimitives();
    const widths = piece!.getAttribute('COLOR_0')!;
    expect(widths.getElement(0, [])).toEqual([1, 1, 1, expect.closeTo(hull.widths[0]!, 5)]);
    // 0x40 is 0.0513 of light (IEC 61966-2-1).
    expect(piece!.getMaterial()!.getBaseColorFactor()[0]).toBeCloseTo(0.0513, 3);
    const first = body!.listPrimitives()[0]!.getIndices()!.getArray()!.slice(0, 3);
    expect([...piece!.getIndices()!.getArray()!.slice(0, 3)].toSorted()).toEqual([...first].toSorted());
    expect(outwards(outline!)).toBeLessThan(0);
    expect(outwards(body!)).toBeGreaterThan(0);
  });

  it('carries WebP and KTX2 as their extensions ask', async () => {
    const mesh = ball();
    const ktx2 = await encodeKtx2(mipLevels(painted(16), 'linear'), { isSrgb: true, effort: 'fast' });
    const webp = await encodeWebp(painted(16), { quality: 'lossless' });
    for (const [picture, extension, mime] of [
      [ktx2, 'KHR_texture_basisu', 'image/ktx2'],
      [webp, 'EXT_texture_webp', 'image/webp'],
    ] as const) {
      const glb = await writeUnlitGlb(mesh, 'Ball', [picture]);
      const { issues } = await validator.validateBytes(glb);
      // This validator doesn't know these extensions and says so; the picture that it finds odd is what they allow.
      const told = issues.messages.filter((m) => m.severity < 2 && !m.pointer.startsWith('/images/0'));
      expect([issues.numErrors, ...told.map((m) => `${m.code} ${m.pointer}`)]).toEqual([0]);
      const document = await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(glb);
      expect(
        document
          .getRoot()
          .listExtensionsRequired()
          .map((e) => e.extensionName),
      ).toContain(extension);
      const texture = document.getRoot().listMaterials()[0]!.getBaseColorTexture()!;
      expect(texture.getMimeType()).toBe(mime);
      expect(texture.getImage()).toEqual(picture);
    }
  });

  it('as OBJ names its pictures in a file of materials', async () => {
    const mesh = ball();
    const obj = writeObj(mesh, 'Ball', 'ball.mtl');
    expect(obj).toContain('mtllib ball.mtl\n');
    expect(obj).toContain('usemtl sheet_1\n');
    // three reads materials as other programs do.
    const { materialsInfo } = new MTLLoader().parse(writeMtl('Ball', ['ball-albedo.png']), '');
    expect(materialsInfo).toMatchObject({ sheet_1: { map_kd: 'ball-albedo.png', illum: '0' } });
    expect((await readModel('ball.obj', new TextEncoder().encode(obj))).indices).toHaveLength(
      mesh.indices.length,
    );
  });
});

/** Six times the volume that the triangles of a mesh enclose: below zero if they are seen from inside. */
function outwards(mesh: GltfMesh): number {
  const [piece] = mesh.listPrimitives();
  const [points, indices] = [piece!.getAttribute('POSITION')!, piece!.getIndices()!];
  let sum = 0;
  for (let c = 0; c < indices.getCount(); c += 3) {
    const corner = (k: number): Vec3 => {
      const [x = 0, y = 0, z = 0] = points.getElement(indices.getScalar(c + k), []) as number[];
      return [x, y, z];
    };
    const [a, b, d] = [corner(0), corner(1), corner(2)];
    sum +=
      a[0] * (b[1] * d[2] - b[2] * d[1]) +
      a[1] * (b[2] * d[0] - b[0] * d[2]) +
      a[2] * (b[0] * d[1] - b[1] * d[0]);
  }
  return sum;
}

describe('names by a pattern', () => {
  const words = { project: 'Otter: cook?', sheet: '', what: 'albedo', size: '2048' };

  it('hold what is known, and what is empty goes with its hyphen', () => {
    const names = new FileNames(USUAL_NAMES);
    expect(names.next(words, '.png')).toBe('otter-cook-albedo.png');
    expect(names.next({ ...words, sheet: 'Body' }, '.png')).toBe('otter-cook-body-albedo.png');
    expect(names.next({ project: 'Otter cook' }, '.ora')).toBe('otter-cook.ora');
    expect(new FileNames('T_{project}_{size}_{what}').next(words, '.png')).toBe(
      'T_otter-cook_2048_albedo.png',
    );
  });

  it('are given once, in large letters too', () => {
    const names = new FileNames('{project}');
    expect([1, 2, 3].map(() => names.next({ project: 'Otter' }, '.png'))).toEqual([
      'otter.png',
      'otter-2.png',
      'otter-3.png',
    ]);
    const fixed = new FileNames('Same');
    expect([fixed.next({}, '.png'), fixed.next({}, '.PNG')]).toEqual(['Same.png', 'Same-2.PNG']);
  });

  it.each([
    ['con', 'con_.png'],
    ['../../{project}', 'otter-cook.png'],
    ['a<b>:"|?*c', 'a-b-c.png'],
    ['...', 'project.png'],
    ['   ', 'otter-cook-albedo.png'],
    ['{project}\n', 'otter-cook.png'],
    ['x'.repeat(300), `${'x'.repeat(60)}.png`],
  ])('%j is brought to what every file system takes', (pattern, name) => {
    expect(new FileNames(pattern).next(words, '.png')).toBe(name);
  });

  it('that speak of something unknown are refused', () => {
    expect(() => new FileNames('{project}-{date}')).toThrow(/“\{date\}” in the names means nothing/);
  });
});

it('settings that came from elsewhere are looked at', () => {
  expect(deliverySettings.parse({ size: 16, format: 'ktx2' })).toMatchObject({ size: 16, bleed: null });
  for (const bad of [{ size: 100 }, { format: 'tga' }, { parcels: ['all'] }, { quality: 0 }, { bleed: -1 }])
    expect(deliverySettings.safeParse(bad).success, JSON.stringify(bad)).toBe(false);
});
