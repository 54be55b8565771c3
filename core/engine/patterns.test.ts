import { describe, expect, it } from 'vitest';
import { engineOn, LOCAL } from '../../tests/engines';
import { ball } from '../../tests/shapes';
import { encodePng } from '../formats';
import { createWasmKernels } from '../kernels';
import { measureSurface } from '../surface';
import { compositeSheet } from './pictures/flatten';
import { documentFromRecipe, filesOfRecipe, parseRecipe, recipeFromDocument } from '../document';
import { Engine } from './engine';
import { MAX_PATTERN_SIDE, usualPattern } from '../pattern';
import { PLAIN_LEVELS } from '../layers';
import { readProjectFile, writeProjectFile } from '../project-file';

const SIDE = 8;
/** Red and blue stripes. */
const stripes = encodePng({
  width: SIDE,
  height: SIDE,
  rgba: new Uint8Array(
    Array.from({ length: SIDE * SIDE }, (_, i) =>
      i % SIDE < 4 ? [220, 30, 20, 255] : [20, 60, 230, 255],
    ).flat(),
  ),
});

const mesh = ball(32, 16);

function patterned() {
  const engine = engineOn(mesh, 128);
  const add = { do: 'add-pattern', pattern: { name: 'Stripes', width: SIDE, height: SIDE } } as const;
  const pattern = engine.attach(add, stripes).ids[0]!;
  const layer = engine.apply({
    do: 'add-layer',
    layer: { kind: 'pattern', name: 'Stripes', tiled: { ...usualPattern(pattern), size: 0.2 } },
    at: 1,
  }).ids[0]!;
  return { engine, pattern, layer };
}

/** How many texels are red, and how many blue. */
function hues(engine: Engine): readonly [red: number, blue: number] {
  const rows = compositeSheet(engine);
  let red = 0;
  let blue = 0;
  for (let i = 0; i < rows.length; i += 4) {
    if (rows[i + 3] === 0) continue;
    if (rows[i]! > rows[i + 2]! + 60) red++;
    if (rows[i + 2]! > rows[i]! + 60) blue++;
  }
  return [red, blue];
}

describe('a pattern in a project', () => {
  it('is a layer of its colours, and goes and comes back with undo', () => {
    const { engine, layer } = patterned();
    const [red, blue] = hues(engine);
    expect(red).toBeGreaterThan(3000);
    expect(Math.abs(red - blue) / red).toBeLessThan(0.35);
    engine.undo();
    expect(hues(engine)).toEqual([0, 0]);
    engine.undo();
    expect(engine.document.patterns).toEqual([]);
    engine.redo();
    engine.redo();
    expect(hues(engine)).toEqual([red, blue]);
    expect(engine.layer(layer)).toMatchObject({ kind: 'pattern' });
  });

  it('is a mask by its lightness', () => {
    const { engine, pattern, layer } = patterned();
    engine.apply({ do: 'remove-layers', layers: [layer] });
    const step = {
      from: 'pattern' as const,
      join: 'multiply' as const,
      invert: false,
      tiled: { ...usualPattern(pattern), size: 0.2, contrast: 3 },
    };
    engine.apply({
      do: 'add-layer',
      layer: { kind: 'wash', name: 'Wash', color: '#00ff00', mask: [{ ...step, levels: PLAIN_LEVELS }] },
      at: 1,
    });
    const rows = compositeSheet(engine);
    const greens = new Set<number>();
    for (let i = 0; i < rows.length; i += 4) if (rows[i + 3]) greens.add(rows[i]!);
    // It covers here and is absent there.
    expect(Math.max(...greens) - Math.min(...greens)).toBeGreaterThan(40);
  });

  it('can’t be removed while a layer or a mask names it', () => {
    const { engine, pattern, layer } = patterned();
    expect(() => engine.apply({ do: 'remove-pattern', pattern })).toThrow(
      expect.objectContaining({
        code: 'bad-argument',
        message: expect.stringContaining('“Stripes”') as string,
      }),
    );
    engine.apply({ do: 'remove-layers', layers: [layer] });
    engine.apply({ do: 'remove-pattern', pattern });
    expect(engine.document.patterns).toEqual([]);
    expect(() =>
      engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { mask: [maskOf(pattern)] } }),
    ).toThrow(expect.objectContaining({ code: 'document-invalid' }));
  });

  it('is refused where it is no PNG, or too large', () => {
    const engine = engineOn(mesh, 64);
    const add = { do: 'add-pattern', pattern: { name: 'X', width: 1, height: 1 } } as const;
    const wide = encodePng({
      width: MAX_PATTERN_SIDE + 1,
      height: 1,
      rgba: new Uint8Array((MAX_PATTERN_SIDE + 1) * 4),
    });
    for (const bytes of [Uint8Array.of(1, 2, 3), wide])
      expect(() => engine.attach(add, bytes)).toThrow(
        expect.objectContaining({ code: 'file-not-a-picture' }),
      );
    expect(engine.document.patterns).toEqual([]);
  });

  it('lies in the project file, and in recipes with its pixels', () => {
    const { engine } = patterned();
    const seen = compositeSheet(engine);
    const back = readProjectFile(
      writeProjectFile({ document: engine.document, mesh, ...engine.everything() }),
    );
    const surface = measureSurface(back.mesh, 128);
    const opened = new Engine({ ...back, surface, kernels: createWasmKernels() });
    expect(compositeSheet(opened)).toEqual(seen);

    const recipe = parseRecipe(
      JSON.parse(JSON.stringify(recipeFromDocument(engine.document, engine.everything().files))),
    );
    const built = new Engine({
      surface,
      kernels: createWasmKernels(),
      document: documentFromRecipe(recipe, 128),
      files: filesOfRecipe(recipe),
    });
    expect(compositeSheet(built)).toEqual(seen);

    // Laid on another project it brings its picture along, under a number of its own.
    const other = engineOn(mesh, 128);
    const { lights, patterns, layers } = recipe;
    other.apply({ do: 'lay-recipe', recipe: { name: 'Striped', lights, patterns, layers }, at: 2 });
    expect(compositeSheet(other)).toEqual(seen);
    expect(other.document.patterns).toHaveLength(1);
    expect(other.file(other.document.patterns[0]!.id)).toEqual(stripes);
  });

  it('whose file is larger than a pattern may be isn’t unpacked: its layer lays nothing', () => {
    const { engine, pattern } = patterned();
    const side = MAX_PATTERN_SIDE + 1;
    const wide = encodePng({ width: side, height: 1, rgba: new Uint8Array(side * 4).fill(255) });
    const { document } = engine;
    const opened = new Engine({
      document,
      surface: engine.surface,
      kernels: createWasmKernels(),
      files: new Map([[pattern, wide]]),
    });
    expect(hues(opened)).toEqual([0, 0]);
    expect(compositeSheet(opened)).toEqual(compositeSheet(engineOn(mesh, 128)));
  });

  it('a recipe whose pattern is no picture is refused with a sentence', () => {
    const { engine } = patterned();
    const recipe = recipeFromDocument(engine.document, new Map());
    expect(() => parseRecipe(recipe)).toThrow(
      expect.objectContaining({
        code: 'document-invalid',
        message: expect.stringContaining('Stripes') as string,
      }),
    );
  });
});

const maskOf = (pattern: number) => ({
  from: 'pattern' as const,
  join: 'multiply' as const,
  levels: PLAIN_LEVELS,
  invert: false,
  tiled: usualPattern(pattern),
});
