import { describe, expect, it } from 'vitest';
import { expanded } from '../../tests/expanded';
import { ball, plate, seamedFloor } from '../../tests/shapes';
import { measureCue } from '../cues';
import { createPlainKernels, createWasmKernels, type Kernels } from '../kernels';
import { meshHash, type UvMesh } from '../mesh';
import type { StrokeStyle } from '../paint';
import { faceAt, measureSurface, texelIndex, TILE_BYTES, tileCount, toRows } from '../surface';
import {
  compositeSheet,
  documentFromRecipe,
  Engine,
  flattenAlbedo,
  newDocument,
  parseDocument,
  parseRecipe,
  readProjectFile,
  recipeFromDocument,
  writeProjectFile,
  type Commit,
  NODE_DEFAULTS,
  type LayerNode,
  type NewLayer,
  type ProjectDocument,
  type TileState,
} from '.';

const STYLE: StrokeStyle = {
  tool: 'brush',
  erase: false,
  color: '#c83c14',
  opacity: 0.8,
  edge: 0.6,
  spacing: 0.1,
  pressureSize: false,
  pressureOpacity: false,
  nearSide: true,
};

/** Samples along a straight line, looking up. */
function line(
  from: [number, number, number],
  to: [number, number, number],
  radius: number,
  steps = 12,
): number[] {
  const out: number[] = [];
  for (let i = 0; i <= steps; i++) {
    const t = i / steps;
    out.push(
      from[0] + (to[0] - from[0]) * t,
      from[1] + (to[1] - from[1]) * t,
      from[2] + (to[2] - from[2]) * t,
      0,
      1,
      0,
      radius,
      1,
    );
  }
  return out;
}

function makeEngine(
  mesh: UvMesh,
  size: 64 | 128 | 256 = 128,
  kernels: Kernels = createWasmKernels(),
  patch: Partial<ProjectDocument> = {},
) {
  const commits: Commit[] = [];
  const engine = new Engine({
    surface: measureSurface(mesh, size),
    kernels,
    document: { ...newDocument('Test', size), ...patch },
    onCommit: (c) => commits.push(c),
  });
  return { engine, commits };
}

const LOCAL = 1;
const PAINT = 2;
const sheetOf = (engine: Engine): Uint8Array => compositeSheet(engine);

function alphaAt(engine: Engine, layer: number, x: number, y: number): number {
  const i = texelIndex(engine.surface.sheets[0]!.size, x, y);
  const tile = [...engine.tilesOf(layer)].find((t) => t.tile === Math.floor(i / 4096));
  return tile?.bytes?.[(i % 4096) * 4 + 3] ?? 0;
}

describe('strokes', () => {
  it('the same strokes give the same pixels, however their samples were handed over', () => {
    const samples = line([-0.7, 0, 0.1], [0.7, 0, -0.2], 0.2, 40);
    const whole = makeEngine(seamedFloor()).engine;
    whole.beginStroke(PAINT, STYLE);
    whole.extendStroke(samples, true);
    whole.endStroke();
    const bits = makeEngine(seamedFloor()).engine;
    bits.beginStroke(PAINT, STYLE);
    for (let i = 0; i < samples.length; i += 24) bits.extendStroke(samples.slice(i, i + 24), false);
    bits.endStroke();
    expect(sheetOf(bits)).toEqual(sheetOf(whole));
    // And once more from the record.
    const again = makeEngine(seamedFloor()).engine;
    const { keepAlpha: _k, within: _w, frame: _f, ...again_ } = whole.strokesOf(PAINT)[0]!;
    again.apply({ do: 'stroke', layer: PAINT, stroke: again_ });
    expect(sheetOf(again)).toEqual(sheetOf(whole));
  });

  it('runs through an island border without a seam', () => {
    const { engine } = makeEngine(seamedFloor(), 256);
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...STYLE, opacity: 1, runs: [line([-0.6, 0, 0], [0.6, 0, 0], 0.25)] },
    });
    // The last texel of the left island and the first of the right one lie beside each other on the model.
    const left = Math.floor(0.4 * 256) - 1;
    const right = Math.ceil(0.6 * 256);
    for (let y = 70; y < 240; y += 5) {
      expect(
        Math.abs(alphaAt(engine, PAINT, left, y) - alphaAt(engine, PAINT, right, y)),
      ).toBeLessThanOrEqual(6);
    }
    expect(alphaAt(engine, PAINT, left, 154)).toBeGreaterThan(200);
    // Paint reaches past the border into the gutter, where filtering will look for it.
    expect(alphaAt(engine, PAINT, left + 5, 154)).toBeGreaterThan(200);
  });

  it('does not reach the far side of a thin plate, unless that is asked for', () => {
    const paintOver = (nearSide: boolean): number => {
      const { engine } = makeEngine(plate(0.02), 128);
      engine.apply({
        do: 'stroke',
        layer: PAINT,
        stroke: { ...STYLE, nearSide, runs: [line([-0.3, 0, 0], [0.3, 0, 0], 0.3)] },
      });
      expect(alphaAt(engine, PAINT, 32, 128 - 32)).toBeGreaterThan(150);
      return alphaAt(engine, PAINT, 96, 32);
    };
    expect(paintOver(true)).toBe(0);
    expect(paintOver(false)).toBeGreaterThan(100);
  });

  it('stays on its part when it is told to', () => {
    const stroke = (part: string | null): number => {
      const { engine } = makeEngine(plate(0.02, 'Under'), 128);
      engine.apply({
        do: 'stroke',
        layer: PAINT,
        guard: part === null ? null : { part },
        stroke: { ...STYLE, nearSide: false, runs: [line([-0.3, 0, 0], [0.3, 0, 0], 0.3)] },
      });
      return alphaAt(engine, PAINT, 96, 32);
    };
    expect(stroke('Plate')).toBe(0);
    expect(stroke(null)).toBeGreaterThan(100);
    expect(stroke('Under')).toBeGreaterThan(100);
    // A part that isn't there means nothing, not everything.
    expect(stroke('Gone')).toBe(0);
  });

  it('does not build up on itself within one stroke, but does over two', () => {
    const { engine } = makeEngine(seamedFloor());
    const back = [...line([-0.6, 0, 0], [-0.2, 0, 0], 0.3), ...line([-0.2, 0, 0], [-0.6, 0, 0], 0.3)];
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...STYLE, opacity: 0.5, runs: [back] } });
    const once = alphaAt(engine, PAINT, 28, 77);
    expect(once).toBeGreaterThan(120);
    expect(once).toBeLessThanOrEqual(128);
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...STYLE, opacity: 0.5, runs: [back] } });
    expect(alphaAt(engine, PAINT, 28, 77)).toBeGreaterThan(180);
  });

  it('erases to nothing and then takes up no room', () => {
    const { engine } = makeEngine(seamedFloor());
    const runs = [line([-0.6, 0, 0], [-0.2, 0, 0], 0.2)];
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...STYLE, edge: 0, runs } });
    expect([...engine.tilesOf(PAINT)].length).toBeGreaterThan(0);
    const wide = [line([-0.8, 0, 0], [0, 0, 0], 0.5)];
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...STYLE, erase: true, opacity: 1, edge: 0, runs: wide },
    });
    expect([...engine.tilesOf(PAINT)]).toEqual([]);
  });

  it('can be given up half-way, and leaves no trace', () => {
    const { engine, commits } = makeEngine(seamedFloor());
    const before = sheetOf(engine);
    engine.beginStroke(PAINT, STYLE);
    engine.extendStroke(line([-0.6, 0, 0], [0.2, 0, 0], 0.3), true);
    expect(sheetOf(engine)).not.toEqual(before);
    engine.cancelStroke();
    expect(sheetOf(engine)).toEqual(before);
    expect(commits).toEqual([]);
    engine.beginStroke(PAINT, STYLE);
    engine.extendStroke(line([-0.6, 0, 0.5], [0.2, 0, 0.5], 0.05), true);
    engine.endStroke();
    // Coverage of the stroke that was given up must not come back.
    expect(alphaAt(engine, PAINT, 28, 77)).toBe(0);
  });

  it('a stroke beside the model leaves no step', () => {
    const { engine } = makeEngine(seamedFloor());
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...STYLE, runs: [line([8, 8, 8], [9, 9, 9], 0.1)] },
    });
    expect(engine.history.done).toBe(0);
  });

  it('plain and WebAssembly kernels paint alike', () => {
    const runs = [line([-0.7, 0, 0.3], [0.7, 0, -0.3], 0.22, 30)];
    const sheets = [createPlainKernels(), createWasmKernels()].map((kernels) => {
      const { engine } = makeEngine(seamedFloor(), 128, kernels);
      engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...STYLE, runs } });
      return sheetOf(engine);
    });
    expect(sheets[0]!.every((x, i) => Math.abs(x - sheets[1]![i]!) <= 1)).toBe(true);
  });

  it('refuses a layer that is not for painting, with a sentence', () => {
    const { engine } = makeEngine(seamedFloor());
    expect(() => engine.beginStroke(1, STYLE)).toThrow(/not a paint layer/);
    expect(() => engine.beginStroke(99, STYLE)).toThrow(/no longer there/);
  });
});

describe('undo', () => {
  it('brings back every earlier state to the last texel, and forward again', () => {
    const { engine } = makeEngine(seamedFloor());
    const states: Uint8Array[] = [sheetOf(engine)];
    const documents = [engine.document];
    const step = (work: () => void): void => {
      work();
      states.push(sheetOf(engine));
      documents.push(engine.document);
    };
    step(() =>
      engine.apply({
        do: 'stroke',
        layer: PAINT,
        stroke: { ...STYLE, runs: [line([-0.6, 0, 0], [0.6, 0, 0], 0.2)] },
      }),
    );
    step(() =>
      engine.apply({
        do: 'stroke',
        layer: PAINT,
        stroke: { ...STYLE, color: '#1020e0', runs: [line([-0.6, 0, 0.4], [0.6, 0, -0.4], 0.1)] },
      }),
    );
    step(() => engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { colors: [['Floor', '#336699']] } }));
    step(() =>
      engine.apply({ do: 'add-layer', layer: { kind: 'paint', name: 'Copy' }, at: 2, copyPixelsOf: PAINT }),
    );
    step(() => engine.apply({ do: 'remove-layers', layers: [PAINT] }));
    step(() => engine.apply({ do: 'move-layers', layers: [3], at: 0 }));
    step(() => engine.apply({ do: 'duplicate-layers', layers: [3] }));
    step(() => engine.apply({ do: 'fill', layer: 3, color: '#40a020' }));
    step(() => engine.apply({ do: 'clear', layer: 3 }));
    step(() => engine.apply({ do: 'group-layers', layers: [1, 3], name: 'Both' }));
    step(() => engine.apply({ do: 'merge-visible', name: 'All' }));
    step(() => engine.apply({ do: 'flatten', name: 'One' }));
    for (let i = states.length - 2; i >= 0; i--) {
      expect(engine.undo()).toBe(true);
      expect(engine.document).toEqual(documents[i]);
      expect(sheetOf(engine)).toEqual(states[i]);
    }
    expect(engine.undo()).toBe(false);
    for (let i = 1; i < states.length; i++) {
      expect(engine.redo()).toBe(true);
      expect(sheetOf(engine)).toEqual(states[i]);
    }
    expect(engine.redo()).toBe(false);
  });

  it('makes one step of one drag, and ends what was undone when something new is done', () => {
    const { engine } = makeEngine(seamedFloor());
    for (const opacity of [0.9, 0.7, 0.4])
      engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { opacity } }, 'drag 1');
    expect(engine.history.done).toBe(1);
    engine.undo();
    expect(engine.document.layers[0]!.opacity).toBe(1);
    engine.redo();
    expect(engine.document.layers[0]!.opacity).toBe(0.4);
    engine.undo();
    engine.apply({ do: 'rename-project', name: 'Other' });
    expect(engine.redo()).toBe(false);
  });

  it('commits hold all that storage needs: replaying them gives the same project', () => {
    const { engine, commits } = makeEngine(seamedFloor());
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...STYLE, runs: [line([-0.6, 0, 0], [0.6, 0, 0], 0.2)] },
    });
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...STYLE, erase: true, runs: [line([0, 0, 0], [0.6, 0, 0], 0.3)] },
    });
    engine.undo();
    const tiles = new Map<string, TileState>();
    for (const c of commits) for (const t of c.tiles) tiles.set(`${t.plane} ${t.tile}`, t);
    const copy = new Engine({
      surface: engine.surface,
      kernels: createWasmKernels(),
      document: commits.at(-1)!.document,
      pixels: tiles.values(),
      history: engine.historyData,
      strokes: new Map([[PAINT, commits[0]!.strokes.get(PAINT)!.added]]),
    });
    expect(sheetOf(copy)).toEqual(sheetOf(engine));
    expect(copy.strokesOf(PAINT)).toHaveLength(1);
    copy.redo();
    engine.redo();
    expect(sheetOf(copy)).toEqual(sheetOf(engine));
  });
});

describe('the build-up', () => {
  const wash: NewLayer = {
    kind: 'wash',
    name: 'Ground',
    opacity: 0.5,
    blend: 'multiply',
    color: '#203040',
    mask: [
      {
        from: 'cue',
        join: 'multiply',
        cue: { cue: 'height', axis: 'y' },
        levels: { low: 0, high: 1, gamma: 1 },
        invert: true,
      },
    ],
  };

  it('asks for the cues it needs, and follows them', () => {
    const { engine } = makeEngine(ball());
    engine.apply({ do: 'add-layer', layer: wash, at: 1 });
    expect(engine.missingCues()).toEqual([{ cue: 'height', axis: 'y' }]);
    const before = sheetOf(engine);
    for (const spec of engine.missingCues())
      engine.setCue(spec, measureCue(engine.mesh, engine.surface, spec));
    expect(engine.missingCues()).toEqual([]);
    const after = sheetOf(engine);
    // v = 1 is the top of the ball: untouched; the bottom is darkened to (1 + colour) / 2.
    const at = (x: number, y: number): number => (y * 128 + x) * 4;
    expect(Math.abs(after[at(64, 4)]! - before[at(64, 4)]!)).toBeLessThanOrEqual(2);
    const expected = 0xb6 * (0.5 + (0.5 * 0x20) / 255);
    expect(Math.abs(after[at(64, 123)]! - expected)).toBeLessThanOrEqual(3);
  });

  it('shows a layer alone, and its mask alone, without changing what is delivered', () => {
    const { engine } = makeEngine(ball());
    engine.apply({ do: 'add-layer', layer: wash, at: 1 });
    for (const spec of engine.missingCues())
      engine.setCue(spec, measureCue(engine.mesh, engine.surface, spec));
    const delivered = sheetOf(engine);
    const tile = new Uint8Array(TILE_BYTES);
    engine.setView({ alone: null, maskOf: 3 });
    engine.renderTile(0, tile);
    const inside = [...Array(4096).keys()].find((i) => faceAt(engine.surface, i) >= 0)! * 4;
    expect(tile[inside]).toBe(tile[inside + 1]);
    expect(tile[inside + 3]).toBe(255);
    engine.setView({ alone: 3, maskOf: null });
    engine.renderTile(0, tile);
    expect([tile[inside], tile[inside + 1], tile[inside + 2]]).toEqual([0x20, 0x30, 0x40]);
    expect(sheetOf(engine)).toEqual(delivered);
  });

  it('only what changed is out of date', () => {
    const { engine } = makeEngine(seamedFloor(), 256);
    const tile = new Uint8Array(TILE_BYTES);
    for (const t of engine.dirty()) engine.renderTile(t, tile);
    expect(engine.dirty()).toEqual([]);
    engine.apply({ do: 'add-swatches', swatches: [{ name: 'Red', color: '#ff0000' }] });
    expect(engine.dirty()).toEqual([]);
    engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { name: 'Ground colours' } });
    expect(engine.dirty()).toEqual([]);
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...STYLE, runs: [line([-0.8, 0, 0.8], [-0.7, 0, 0.8], 0.05)] },
    });
    expect(engine.dirty().length).toBeGreaterThan(0);
    expect(engine.dirty().length).toBeLessThan(tileCount(256) / 2);
  });

  it('refuses commands that make no sense and changes nothing', () => {
    const { engine } = makeEngine(seamedFloor());
    const before = engine.document;
    expect(() => engine.apply({ do: 'remove-layers', layers: [77] })).toThrow(/no longer there/);
    expect(() => engine.apply({ do: 'rename-project', name: '' })).toThrow(
      expect.objectContaining({ code: 'bad-argument' }),
    );
    expect(() => engine.apply({ do: 'patch-layer', layer: PAINT, patch: { color: '#ffffff' } })).toThrow(
      /“Paint” has no setting “color”/,
    );
    expect(() => engine.apply({ do: 'patch-layer', layer: PAINT, patch: { opacity: 3 } })).toThrow(/opacity/);
    expect(engine.document).toBe(before);
    expect(engine.history.done).toBe(0);
  });

  it('light alone is what the plan says: half sky on a wall, all of it on a floor', () => {
    const mesh = seamedFloor();
    const light = {
      key: { direction: [0, 1, 0] as [number, number, number], color: '#000000', strength: 0, wrap: 0 },
      sky: { color: '#c86432', strength: 1 },
      ground: { color: '#000000', strength: 1 },
    };
    const layers: LayerNode[] = [
      { ...NODE_DEFAULTS, mask: [], kind: 'light', id: 1, name: 'Light', light: 0 },
    ];
    const lights = [{ id: 0, name: 'Sky', plan: light }];
    const { engine } = makeEngine(mesh, 128, createWasmKernels(), { lights, layers });
    expect(engine.colorAt(texelIndex(128, 28, 77))).toEqual({ r: 0xc8, g: 0x64, b: 0x32, a: 255 });
    const wall = { ...mesh, normals: mesh.normals.map((_, i) => (i % 3 === 0 ? 1 : 0)) };
    const { engine: onWall } = makeEngine(wall, 128, createWasmKernels(), { lights, layers });
    expect(onWall.colorAt(texelIndex(128, 28, 77))).toEqual({ r: 0x64, g: 0x32, b: 0x19, a: 255 });
  });
});

describe('delivery', () => {
  it('delivers every covered texel as it is stored and fills the rest of the sheet', () => {
    const { engine } = makeEngine(seamedFloor());
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...STYLE, runs: [line([-0.6, 0, 0], [0.6, 0, 0], 0.2)] },
    });
    const stored = sheetOf(engine);
    const picture = flattenAlbedo(engine, { size: 128, bleed: Infinity });
    const covered = toRows(128, expanded(engine.surface).covered, new Uint8Array(128 * 128));
    const words = (bytes: Uint8Array): Uint32Array =>
      new Uint32Array(bytes.buffer, bytes.byteOffset, bytes.length / 4);
    const [out, kept] = [words(picture.rgba), words(stored)];
    expect(out.every((w) => w >>> 24 === 255)).toBe(true);
    expect(covered.every((c, i) => c === 0 || out[i] === kept[i])).toBe(true);
  });

  it.each([6, 16])('bleeds %i texels and no further', (reach) => {
    const { engine } = makeEngine(seamedFloor(), 256);
    const { rgba } = flattenAlbedo(engine, { size: 256, bleed: reach });
    const right = Math.floor(0.4 * 256);
    const alpha = (x: number): number => rgba[(150 * 256 + x) * 4 + 3]!;
    expect(alpha(right + reach - 1)).toBe(255);
    expect(alpha(right + reach + GUTTER_ROOM)).toBe(0);
  });

  it.each([64, 256] as const)('at %i texels keeps flat colours flat', (size) => {
    const { engine } = makeEngine(seamedFloor());
    engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { colors: [['Floor', '#4a90d0']] } });
    const { rgba, width } = flattenAlbedo(engine, { size, bleed: Infinity });
    expect(width).toBe(size);
    expect(rgba.every((b, i) => b === [0x4a, 0x90, 0xd0, 255][i % 4])).toBe(true);
  });
});

/** A bleed longer than the gutter starts from the gutter's end. */
const GUTTER_ROOM = 9;

describe('the project as a file', () => {
  it('comes back equal to the last texel', () => {
    const { engine } = makeEngine(seamedFloor());
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...STYLE, opacity: 0.01, runs: [line([-0.6, 0, 0], [0.6, 0, 0], 0.2)] },
    });
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...STYLE, runs: [line([-0.6, 0, 0.5], [0.6, 0, -0.5], 0.1)] },
    });
    const data = {
      document: {
        ...engine.document,
        model: meshHash(engine.mesh),
        references: [{ id: 7, name: 'Ref', width: 1, height: 1 }],
        nextId: 8,
      },
      mesh: engine.mesh,
      pixels: [...engine.tilesOf(PAINT)],
      strokes: new Map([[PAINT, engine.strokesOf(PAINT)]]),
      pictures: new Map([[7, Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 1, 2, 3)]]),
    };
    const file = writeProjectFile(data);
    const back = readProjectFile(file);
    expect(back.document).toEqual(data.document);
    expect(back.mesh).toEqual(data.mesh);
    expect(back.pixels.toSorted((a, b) => a.tile - b.tile)).toEqual(
      data.pixels.toSorted((a, b) => a.tile - b.tile),
    );
    expect(back.strokes).toEqual(data.strokes);
    expect(back.pictures).toEqual(data.pictures);
    expect(writeProjectFile(back)).toEqual(file);
  });

  it.each([
    ['nothing', new Uint8Array(0), /empty/],
    ['no zip', new TextEncoder().encode('hello, this is no zip'), /can’t be opened/],
  ])('refuses %s with a sentence', (_what, bytes, words) => {
    expect(() => readProjectFile(bytes)).toThrow(words);
  });

  it('refuses a file that was cut off, wherever it was cut', () => {
    const { engine } = makeEngine(seamedFloor(), 64);
    const file = writeProjectFile({
      document: engine.document,
      mesh: engine.mesh,
      pixels: [],
      strokes: new Map(),
      pictures: new Map(),
    });
    for (const part of [0.1, 0.5, 0.9, 0.99]) {
      expect(() => readProjectFile(file.slice(0, Math.floor(file.length * part)))).toThrow(
        expect.objectContaining({ code: 'file-not-a-project' }),
      );
    }
  });

  it('says where a damaged description is damaged', () => {
    const bad = {
      ...newDocument('X', 64),
      layers: [{ kind: 'paint', id: 1, name: 'P', opacity: 3 }],
    };
    expect(() => parseDocument(bad)).toThrow(/layers\.0\.opacity/);
  });
});

describe('recipes', () => {
  it('a document without its pixels goes to a recipe and back', () => {
    const document = newDocument('Otter', 128);
    const recipe = recipeFromDocument(document);
    expect(recipe.layers).toHaveLength(1);
    const back = documentFromRecipe(parseRecipe(JSON.parse(JSON.stringify(recipe))), 128);
    expect(back.layers[0]).toEqual(document.layers[0]);
  });
  it('says what is wrong with one', () => {
    expect(() => parseRecipe({ format: 'other' })).toThrow(/recipe is not valid at “format”/);
  });
});
