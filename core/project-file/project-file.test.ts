import { strToU8, unzipSync, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { seamedFloor } from '../../tests/shapes';
import { stage } from '../../tests/rigged';
import { importModel } from '../formats';
import { meshHash, requireUvs } from '../mesh';
import {
  documentFromRecipe,
  freePlace,
  newDocument,
  parseDocument,
  parseRecipe,
  recipeFromDocument,
} from '../document';
import { readProjectFile, writeProjectFile } from './project-file';
import { PAINT, watchedEngine } from '../../tests/engines';
import { line, SOFT_STROKE } from '../../tests/strokes';

describe('the project as a file', () => {
  it('comes back equal to the last texel', () => {
    const { engine } = watchedEngine(seamedFloor());
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...SOFT_STROKE, opacity: 0.01, runs: [line([-0.6, 0, 0], [0.6, 0, 0], 0.2)] },
    });
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...SOFT_STROKE, runs: [line([-0.6, 0, 0.5], [0.6, 0, -0.5], 0.1)] },
    });
    const data = {
      document: {
        ...engine.document,
        model: meshHash(engine.mesh),
        references: [
          {
            id: 7,
            name: 'Ref',
            width: 1,
            height: 1,
            board: freePlace([], { width: 1, height: 1 }),
            note: '',
            match: null,
          },
        ],
        nextId: 8,
      },
      mesh: engine.mesh,
      pixels: [...engine.tilesOf(PAINT)],
      strokes: new Map([[PAINT, engine.strokesOf(PAINT)]]),
      files: new Map([[7, Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 1, 2, 3)]]),
    };
    const file = writeProjectFile(data);
    const back = readProjectFile(file);
    expect(back.document).toEqual(data.document);
    expect(back.mesh).toEqual(data.mesh);
    expect(back.pixels.toSorted((a, b) => a.tile - b.tile)).toEqual(
      data.pixels.toSorted((a, b) => a.tile - b.tile),
    );
    expect(back.strokes).toEqual(data.strokes);
    expect(back.files).toEqual(data.files);
    expect(writeProjectFile(back)).toEqual(file);
  });

  it.each([
    ['nothing', new Uint8Array(0), /empty/],
    ['no zip', new TextEncoder().encode('hello, this is no zip'), /can’t be opened/],
  ])('refuses %s with a sentence', (_what, bytes, words) => {
    expect(() => readProjectFile(bytes)).toThrow(words);
  });

  it('refuses a file that was cut off, wherever it was cut', () => {
    const { engine } = watchedEngine(seamedFloor(), 64);
    const file = writeProjectFile({
      document: engine.document,
      mesh: engine.mesh,
      pixels: [],
      strokes: new Map(),
      files: new Map(),
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

describe('a project whose model came in a file', () => {
  it('holds that file, and where each vertex comes from in it', async () => {
    const { mesh, file } = await importModel('stage.glb', await stage());
    const document = {
      ...newDocument('Stage', 64),
      model: meshHash(mesh),
      modelFile: { id: 3, name: 'stage', placing: null },
      nextId: 4,
    };
    const back = readProjectFile(
      writeProjectFile({
        document,
        mesh: requireUvs(mesh),
        pixels: [],
        strokes: new Map(),
        files: new Map([[3, file!]]),
      }),
    );
    expect(back.document).toEqual(document);
    expect(back.mesh.origins).toEqual(mesh.origins);
    expect(back.files.get(3)).toEqual(file);
  });
});

describe('a damaged project file', () => {
  /** A painted project, and the same with something wrong in its zip. */
  function painted() {
    const { engine } = watchedEngine(seamedFloor());
    for (const z of [-0.5, 0.5]) {
      engine.apply({
        do: 'stroke',
        layer: PAINT,
        stroke: { ...SOFT_STROKE, runs: [line([-0.6, 0, z], [0.6, 0, z], 0.1)] },
      });
    }
    const { document, mesh } = engine;
    return writeProjectFile({
      document: { ...document, model: meshHash(mesh) },
      mesh,
      ...engine.everything(),
    });
  }
  const open = (bytes: Uint8Array) => {
    const missing: string[] = [];
    const data = readProjectFile(bytes, (says) => missing.push(says));
    return { data, missing };
  };
  const changed = (change: (files: Record<string, Uint8Array>) => void): Uint8Array => {
    const files = unzipSync(painted());
    change(files);
    return zipSync(files);
  };

  it('opens without strokes that can’t be read; their paint stays', () => {
    const whole = open(painted());
    expect(whole.missing).toEqual([]);
    const { data, missing } = open(changed((f) => (f[`strokes/${PAINT}.json`] = strToU8('[{"tool":'))));
    expect(missing).toEqual([`“strokes/${PAINT}.json” in the project file is damaged.`]);
    expect(data.strokes.get(PAINT)).toEqual([]);
    expect(data.document.bases).toEqual([{ plane: PAINT, strokes: 0 }]);
    expect(data.pixels).toEqual(whole.data.pixels);
    // It can be painted on as before.
    expect(() => readProjectFile(writeProjectFile(data))).not.toThrow();
  });

  it('opens without pixels that can’t be read', () => {
    const { data, missing } = open(
      changed((f) => (f[`layers/${PAINT}.png`] = f[`layers/${PAINT}.png`]!.slice(0, 60))),
    );
    expect(missing).toHaveLength(1);
    expect(data.pixels).toEqual([]);
    expect(data.strokes.get(PAINT)).toHaveLength(2);
  });

  it('that was cut off opens with what is whole of it', () => {
    const bytes = painted();
    const { data, missing } = open(bytes.slice(0, bytes.length - 40));
    expect(missing[0]).toContain('cut off or damaged');
    expect(data.document.name).toBe('Test');
    expect(data.pixels.length).toBeGreaterThan(0);
    expect(() => readProjectFile(bytes.slice(0, bytes.length - 40))).toThrow(
      expect.objectContaining({ code: 'file-not-a-project' }),
    );
  });

  it('without a model is none', () => {
    expect(() => open(changed((f) => delete f['model.json']))).toThrow(
      expect.objectContaining({ code: 'file-not-a-project' }),
    );
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
