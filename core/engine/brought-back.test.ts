import { zipSync, strToU8, unzipSync } from 'fflate';
import { PNG } from 'pngjs';
import { describe, expect, it } from 'vitest';
import { engineOn, PAINT, sortedTiles } from '../../tests/engines';
import { seamedFloor } from '../../tests/shapes';
import { HARD, line, SOFT_STROKE } from '../../tests/strokes';
import { encodePng, readOpenRaster, writeOpenRaster } from '../formats';
import { contentHash } from '../math';
import { broughtBack } from './brought-back';
import { compositeSheet } from './pictures/flatten';
import { layeredPicture } from './pictures/layered-picture';
import type { Engine } from './engine';

function painted(): Engine {
  const engine = engineOn(seamedFloor(), 256);
  engine.apply({
    do: 'stroke',
    layer: PAINT,
    stroke: { ...SOFT_STROKE, brush: HARD, color: '#c06030', runs: [line([-0.7, 0, 0], [0.7, 0, 0], 0.3)] },
  });
  return engine;
}

const paintOf = (engine: Engine): (readonly [number, string])[] =>
  engine.document.layers.filter((n) => n.kind === 'paint').map((n) => [n.id, n.name] as const);

/** As another program would leave it: pixels changed with pngjs, zipped again. */
function edited(file: Uint8Array, change: (files: Record<string, Uint8Array>) => void): Uint8Array {
  const files = { ...unzipSync(file) };
  change(files);
  return zipSync(files);
}

/** The colour of what is wholly transparent is nobody's. */
const seen = (bytes: Uint8Array): Uint8Array => bytes.map((b, i) => (bytes[i - (i % 4) + 3] === 0 ? 0 : b));

const asPng = (width: number, height: number, color: readonly number[], bitDepth: 8 | 16 = 8): Uint8Array => {
  const png = new PNG({ width, height, bitDepth });
  for (let i = 0; i < width * height; i++) png.data.set(color, i * 4);
  return PNG.sync.write(png, { bitDepth });
};

describe('an OpenRaster file that comes back', () => {
  it('is the same texel for texel where nothing was changed', () => {
    const engine = painted();
    const now = layeredPicture(engine, 0);
    const file = writeOpenRaster(now);
    const { layers, notes } = broughtBack({ file, name: 'x', now, paint: paintOf(engine) });
    expect(notes).toEqual([]);
    expect(layers.map((l) => l.state)).toEqual(engine.document.layers.map(() => 'same'));
    // Laid back on its layer it changes nothing, and is one step.
    const back = layers.find((l) => l.onto === PAINT)!;
    const pixelsNow = () =>
      sortedTiles(engine.tilesOf(PAINT)).map(([tile, bytes]) => [tile, contentHash(seen(bytes!))]);
    const [before, pixels] = [compositeSheet(engine), pixelsNow()];
    engine.attach(
      { do: 'put-picture', onto: PAINT, name: back.name, sheet: 0, x: back.x, y: back.y },
      back.png,
    );
    expect(contentHash(compositeSheet(engine))).toBe(contentHash(before));
    expect(pixelsNow()).toEqual(pixels);
  });

  it('takes the place of the layer that it was, or becomes one of its own; undo brings the former back', () => {
    const engine = painted();
    const now = layeredPicture(engine, 0);
    const layer = now.nodes.findIndex((n) => n.name === engine.document.layers[1]!.name);
    const file = edited(writeOpenRaster(now), (files) => {
      // The topmost layer is the first.
      const name = `data/layer${String(now.nodes.length - 1 - layer).padStart(3, '0')}.png`;
      const png = PNG.sync.read(Buffer.from(files[name]!));
      for (let i = 0; i < png.data.length; i += 4) if (png.data[i + 3]! > 0) png.data[i] = 0x10;
      files[name] = PNG.sync.write(png);
    });
    const { layers } = broughtBack({ file, name: 'x', now, paint: paintOf(engine) });
    const changed = layers.filter((l) => l.state !== 'same');
    expect(changed.map((l) => [l.state, l.onto])).toEqual([['changed', PAINT]]);
    const before = compositeSheet(engine);
    const { x, y, png, name } = changed[0]!;
    engine.attach({ do: 'put-picture', onto: PAINT, name, sheet: 0, x, y }, png);
    const reds = [...engine.tilesOf(PAINT)].flatMap((t) =>
      [...t.bytes].filter((_, i) => i % 4 === 0 && t.bytes[i + 3]! > 0),
    );
    expect(new Set(reds)).toEqual(new Set([0x10]));
    engine.undo();
    expect(contentHash(compositeSheet(engine))).toBe(contentHash(before));
    const { ids } = engine.attach({ do: 'put-picture', onto: null, name: 'Back', sheet: 0, x, y }, png);
    expect(engine.document.layers.at(-1)).toMatchObject({ kind: 'paint', id: ids[0], name: 'Back' });
    expect(contentHash(compositeSheet(engine))).not.toBe(contentHash(before));
    // Strokes go on over it, and nothing of the file stays behind.
    expect(engine.document.bases.map((b) => b.plane)).toContain(ids[0]);
  });

  it('is one step, however many layers are taken, with their mode and opacity', () => {
    const engine = painted();
    const before = contentHash(compositeSheet(engine));
    const now = layeredPicture(engine, 0);
    const { layers } = broughtBack({ file: writeOpenRaster(now), name: 'x', now, paint: paintOf(engine) });
    const back = layers.find((l) => l.onto === PAINT)!;
    const put = { do: 'put-picture', name: back.name, sheet: 0, x: back.x, y: back.y } as const;
    const other = encodePng({ width: 1, height: 1, rgba: Uint8Array.of(9, 8, 7, 255) });
    const { ids } = engine.attach(
      {
        do: 'several',
        label: 'Read 2 layers again',
        commands: [
          { ...put, onto: null, blend: 'multiply', opacity: 0.5 },
          { ...put, onto: PAINT, x: 0, y: 0, file: 1 },
        ],
      },
      [back.png, other],
    );
    expect(engine.document.layers.at(-1)).toMatchObject({ id: ids[0], blend: 'multiply', opacity: 0.5 });
    // The second file went onto the second layer; its texel at the corner lies beside the islands.
    expect([...engine.tilesOf(PAINT)]).toHaveLength(0);
    expect([...engine.tilesOf(ids[0]!)].length).toBeGreaterThan(0);
    engine.undo();
    expect(engine.document.layers.some((l) => l.id === ids[0])).toBe(false);
    expect(contentHash(compositeSheet(engine))).toBe(before);
    expect(() =>
      engine.attach({ do: 'several', label: 'x', commands: [{ ...put, onto: null, file: 1 }] }, other),
    ).toThrow(expect.objectContaining({ code: 'bad-argument' }) as Error);
  });

  it('with a layer far beside the sheet is compared on the sheet only', () => {
    const engine = painted();
    const now = layeredPicture(engine, 0);
    const file = edited(writeOpenRaster(now), (files) => {
      const xml = new TextDecoder().decode(files['stack.xml']);
      files['stack.xml'] = strToU8(xml.replace(/ x="\d+" y="\d+"/, ' x="65000" y="65000"'));
    });
    const { layers } = broughtBack({ file, name: 'x', now, paint: [] });
    expect(layers.filter((l) => l.state === 'changed')).toHaveLength(1);
  });

  it('of another size, without its layers, or no zip is told, and changes nothing', () => {
    const engine = painted();
    const now = layeredPicture(engine, 0);
    const file = writeOpenRaster(now);
    const open = (bytes: Uint8Array) => () => broughtBack({ file: bytes, name: 'x', now, paint: [] });
    expect(open(asPng(64, 64, [1, 2, 3, 255]))).toThrow(/64 x 64, but the sheet is 256 x 256/);
    expect(open(edited(file, (f) => delete f['stack.xml']))).toThrow(/no list of its layers/);
    expect(open(edited(file, (f) => delete f['data/layer000.png']))).toThrow(/lacks the pixels of “/);
    expect(open(file.subarray(0, 500))).toThrow(/not a whole OpenRaster file/);
    expect(
      open(edited(file, (f) => (f['stack.xml'] = strToU8('<!DOCTYPE x [<!ENTITY a "b">]><image/>')))),
    ).toThrow(/can’t be read/);
    expect(
      open(edited(file, (f) => (f['stack.xml'] = strToU8('<image w="90000" h="2"><stack/></image>')))),
    ).toThrow(/larger than 8192/);
  });

  it('with modes that nobody knows and 16 bits is read all the same, and says so', () => {
    const xml = `<image version="0.0.3" w="4" h="4"><stack><stack name="G" opacity="0.5"><layer name="A" composite-op="svg:sparkle" src="data/a.png" x="1" y="2"/></stack>
      <layer name="B" src="data/b.png"/></stack></image>`;
    const ora = readOpenRaster(
      zipSync({
        'stack.xml': strToU8(xml),
        'data/a.png': asPng(2, 2, [255, 0, 0, 255], 16),
        'data/b.png': asPng(4, 4, [0, 0, 255, 255]),
      }),
    );
    expect(ora.notes).toEqual([
      '“A” is laid as “svg:sparkle”, which isn’t known here: it is taken as laid normally.',
      '“A” has 16 bits a channel: it is rounded to 8.',
    ]);
    expect(ora.nodes).toMatchObject([
      { kind: 'layer', name: 'B', x: 0, y: 0, opacity: 1 },
      {
        kind: 'stack',
        name: 'G',
        opacity: 0.5,
        isolated: true,
        nodes: [{ name: 'A', x: 1, y: 2, operation: 'svg:src-over' }],
      },
    ]);
  });
});
