import { PNG } from 'pngjs';
import { describe, expect, it } from 'vitest';
import { engineOn, LOCAL, PAINT } from '../../../tests/engines';
import { rebuildOra, worstDifference } from '../../../tests/rebuilt-ora';
import { seamedFloor } from '../../../tests/shapes';
import { HARD, line, SOFT_STROKE } from '../../../tests/strokes';
import { BLEND_MODES, type BlendMode } from '../../composite';
import { measureCue } from '../../cues';
import { writeOpenRaster, writeOpenRasterBeside, type OraImage } from '../../formats';
import { layeredPicture } from './layered-picture';
import { PLAIN_LEVELS, type MaskStep } from '../../layers';
import type { Engine } from '../engine';

const HEIGHT: MaskStep = {
  from: 'cue',
  join: 'multiply',
  levels: PLAIN_LEVELS,
  invert: false,
  cue: { cue: 'height', direction: [1, 0, 0], from: -1, to: 1 },
};

const stroke = (layer: number, z: number, color: `#${string}`, patch = {}) => ({
  do: 'stroke' as const,
  layer,
  stroke: {
    ...SOFT_STROKE,
    brush: { ...HARD, edge: 0.3 },
    color,
    ...patch,
    runs: [line([-0.8, 0, z], [0.8, 0, z], 0.4)],
  },
});

function measured(engine: Engine): Engine {
  for (const spec of engine.missingCues()) engine.setCue(spec, measureCue(engine.surface, spec));
  return engine;
}

/** Another paint layer on top. */
const added = (engine: Engine, name: string): number =>
  engine.apply({ do: 'add-layer', layer: { kind: 'paint', name }, at: engine.document.layers.length })
    .ids[0]!;

/** The same with a stroke. */
function painted(engine: Engine, name: string, z: number, color: `#${string}`): number {
  const id = added(engine, name);
  engine.apply(stroke(id, z, color));
  return id;
}

const written = (engine: Engine) => {
  const image = layeredPicture(measured(engine), 0);
  return { image, ora: rebuildOra(writeOpenRaster(image)) };
};

const namesOf = (nodes: OraImage['nodes']): string[] =>
  nodes.flatMap((n) => (n.kind === 'layer' ? [n.name] : [n.name, ...namesOf(n.nodes)]));

// OpenRaster 0.0.5 (freedesktop.org); composited again by the formulas of W3C Compositing and Blending Level 1, without code of this project.
describe('an OpenRaster file', () => {
  it('holds the same pictures when they are deflated beside the thread', async () => {
    const engine = engineOn(seamedFloor(), 256);
    painted(engine, 'Over', 0.3, '#c06030');
    const image = layeredPicture(measured(engine), 0);
    const told: number[] = [];
    const beside = rebuildOra(await writeOpenRasterBeside(image, (done) => told.push(done)));
    const plain = rebuildOra(writeOpenRaster(image));
    expect(beside.names).toEqual(plain.names);
    for (const name of plain.names.filter((n) => n.endsWith('.png')))
      expect(PNG.sync.read(Buffer.from(beside.files[name]!)).data, name).toEqual(
        PNG.sync.read(Buffer.from(plain.files[name]!)).data,
      );
    expect(told.at(-1)).toBe(1);
  });

  it('begins with its type as plain text and holds what the standard asks for', () => {
    const engine = engineOn(seamedFloor(), 512);
    engine.apply(stroke(PAINT, 0, '#3060c0'));
    const bytes = writeOpenRaster(layeredPicture(engine, 0));
    // A zip's first entry: its name is at byte 30, its content follows uncompressed.
    expect(new TextDecoder().decode(bytes.subarray(30, 54))).toBe('mimetypeimage/openraster');
    const { names, root, merged, files } = rebuildOra(bytes);
    expect(names).toEqual(
      expect.arrayContaining(['stack.xml', 'mergedimage.png', 'Thumbnails/thumbnail.png']),
    );
    expect(root.getAttribute('version')).toBe('0.0.5');
    expect([merged.width, merged.height]).toEqual([512, 512]);
    expect(
      new DataView(files['Thumbnails/thumbnail.png']!.buffer).getUint32(
        16 + files['Thumbnails/thumbnail.png']!.byteOffset,
      ),
    ).toBe(256);
    expect(names).not.toContain('notes.txt');
    // The topmost layer is the first.
    expect([...root.querySelectorAll('layer')].map((l) => l.getAttribute('name'))).toEqual(
      engine.document.layers.map((l) => l.name).toReversed(),
    );
  });

  it.each(BLEND_MODES.filter((mode) => mode !== 'exclusion'))(
    'holds layers laid as %s',
    (mode: BlendMode) => {
      const engine = engineOn(seamedFloor());
      engine.apply(stroke(PAINT, 0, '#d08040'));
      const id = painted(engine, 'Over', 0.2, '#4080e0');
      engine.apply({ do: 'patch-layer', layer: id, patch: { blend: mode, opacity: 0.7 } });
      const { image, ora } = written(engine);
      expect(image.notes).toEqual([]);
      expect(worstDifference(ora)).toBeLessThanOrEqual(1);
    },
  );

  it('holds groups that let through and that don’t, masks, and what is clipped', () => {
    const engine = engineOn(seamedFloor());
    engine.apply(stroke(PAINT, 0, '#d08040'));
    const shade = painted(engine, 'Shade', 0.2, '#6070a0');
    engine.apply({ do: 'patch-layer', layer: shade, patch: { blend: 'multiply', mask: [HEIGHT] } });
    const inner = painted(engine, 'Inner', -0.2, '#f0e060');
    const [group] = engine.apply({ do: 'group-layers', layers: [shade, inner], name: 'Together' }).ids;
    const clipped = painted(engine, 'Clipped', 0.1, '#20c060');
    engine.apply({ do: 'patch-layer', layer: clipped, patch: { clip: true, opacity: 0.5 } });
    const own = painted(engine, 'Apart', 0.5, '#c02020');
    const [apart] = engine.apply({ do: 'group-layers', layers: [own], name: 'By itself' }).ids;
    engine.apply({
      do: 'patch-layer',
      layer: apart!,
      patch: { isolated: true, opacity: 0.6, mask: [{ ...HEIGHT, invert: true }] },
    });
    const { image, ora } = written(engine);
    expect(image.notes).toEqual([]);
    expect(worstDifference(ora)).toBeLessThanOrEqual(1);
    expect(namesOf(image.nodes)).toEqual(
      expect.arrayContaining(['Together', 'Mask of “Shade”', 'Clipped', 'Mask of “By itself”']),
    );
    expect(ora.root.querySelectorAll('[composite-op="svg:src-atop"]')).toHaveLength(1);
    // A group that lets through can be nothing else once it is clipped to.
    expect(group).toBeDefined();
  });

  it('keeps to the picture where the standard can’t, and says what was flattened', () => {
    const engine = engineOn(seamedFloor());
    engine.apply(stroke(PAINT, 0, '#d08040'));
    const odd = painted(engine, 'Odd', 0.2, '#4080e0');
    engine.apply({ do: 'patch-layer', layer: odd, patch: { blend: 'exclusion', opacity: 0.8 } });
    painted(engine, 'Over', -0.3, '#f0f0f0');
    const { image, ora } = written(engine);
    expect(image.notes).toHaveLength(1);
    expect(image.notes[0]).toMatch(/“Odd” is laid as exclusion, which OpenRaster hasn’t/);
    expect(new TextDecoder().decode(ora.files['notes.txt'])).toContain('“Odd”');
    expect(worstDifference(ora)).toBeLessThanOrEqual(1);
    // What it was made from is still there.
    expect(
      [...ora.root.querySelectorAll('[visibility="hidden"] layer')].map((l) => l.getAttribute('name')),
    ).toContain('Odd');
    expect(ora.root.querySelector('stack > layer')!.getAttribute('name')).toBe('Over');
  });

  it.each([
    [
      'a change of colours',
      (engine: Engine) =>
        engine.apply({
          do: 'add-layer',
          layer: {
            kind: 'adjust',
            name: 'Warmer',
            change: { by: 'oklch', hue: 40, chroma: 1.2, lightness: 0 },
          },
          at: engine.document.layers.length,
        }),
      /“Warmer” changes the colours under it/,
    ],
    [
      'a group that lets through half of what it does',
      (engine: Engine) => {
        const own = painted(engine, 'Own', 0.1, '#6080c0');
        engine.apply({ do: 'patch-layer', layer: own, patch: { blend: 'multiply' } });
        const [id] = engine.apply({ do: 'group-layers', layers: [own], name: 'Half' }).ids;
        engine.apply({ do: 'patch-layer', layer: id!, patch: { opacity: 0.5 } });
      },
      /“Half” lets what lies under it through with less than full opacity/,
    ],
    [
      'what is clipped and multiplied',
      (engine: Engine) => {
        const id = painted(engine, 'Shadow', 0.3, '#8070a0');
        engine.apply({ do: 'patch-layer', layer: id, patch: { clip: true, blend: 'multiply' } });
      },
      /“Shadow” is clipped to “Over” and laid in a mode of its own/,
    ],
  ])('says so of %s', (_, change, note) => {
    const engine = engineOn(seamedFloor());
    engine.apply(stroke(PAINT, 0, '#d08040'));
    painted(engine, 'Over', -0.2, '#a0d0a0');
    change(engine);
    painted(engine, 'Last', 0.6, '#202020');
    const { image, ora } = written(engine);
    expect(image.notes.join()).toMatch(note);
    expect(worstDifference(ora)).toBeLessThanOrEqual(1);
    expect(namesOf(image.nodes).at(-1)).toBe('Last');
  });

  it('writes names as XML can hold them, and a layer without pixels as a layer', () => {
    const engine = engineOn(seamedFloor());
    added(engine, '<Fish & "chips">');
    const { ora } = written(engine);
    const [first] = ora.root.querySelectorAll('layer');
    expect(first!.getAttribute('name')).toBe('<Fish & "chips">');
    engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { visible: false } });
    expect(written(engine).ora.root.querySelectorAll('[visibility="hidden"]')).toHaveLength(1);
  });
});
