import { describe, expect, it } from 'vitest';
import { engineOn, PAINT } from '../../tests/engines';
import { plate } from '../../tests/shapes';
import { PLAIN_STROKE, sampleAt } from '../../tests/strokes';
import { compositeSheet } from './pictures/flatten';
import { newDocument } from '../document';
import type { Commit } from './commit';
import { Engine } from './engine';
import { createWasmKernels } from '../kernels';
import { measureSurface } from '../surface';

const DOT = { ...PLAIN_STROKE, runs: [sampleAt([0, 0, 0], [0, 1, 0], 0.5)] };
const PROJECT = { id: 'a', label: 'Project the reference' };

/** Adds a layer and paints on it, as one deed. */
function projected(engine: Engine, deed = PROJECT): number {
  const [layer] = engine.apply(
    { do: 'add-layer', layer: { kind: 'paint', name: 'Projected' }, at: 2 },
    null,
    deed,
  ).ids;
  engine.apply({ do: 'stroke', layer: layer!, stroke: DOT }, null, deed);
  return layer!;
}

describe('a deed of several commands', () => {
  it('is undone by one key, and done again by one', () => {
    const engine = engineOn(plate(0.2), 64);
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...DOT, color: '#204080' } });
    const before = { document: engine.document, rows: compositeSheet(engine) };
    projected(engine);
    const after = { document: engine.document, rows: compositeSheet(engine) };
    expect(engine.history.labels).toEqual(['Paint stroke', null, 'Project the reference']);
    expect(engine.history.undo).toBe('Project the reference');
    engine.undo();
    expect([engine.document.layers, compositeSheet(engine)]).toEqual([before.document.layers, before.rows]);
    engine.redo();
    expect([engine.document.layers, compositeSheet(engine)]).toEqual([after.document.layers, after.rows]);
    expect(engine.history.done).toBe(3);
  });

  it('is another than the next of the same kind, and ends where something else came between', () => {
    const engine = engineOn(plate(0.2), 64);
    const first = projected(engine);
    projected(engine, { ...PROJECT, id: 'b' });
    engine.undo();
    expect(engine.history.done).toBe(2);
    engine.apply({ do: 'rename-project', name: 'Between' });
    engine.apply({ do: 'clear', layer: first }, null, PROJECT);
    engine.undo();
    expect(engine.history).toMatchObject({ done: 3, undo: 'Rename project' });
  });

  it('is told what it needs, wherever in it that is', () => {
    const mesh = plate(0.2);
    const commits: Commit[] = [];
    const engine = new Engine({
      surface: measureSurface(mesh, 64),
      kernels: createWasmKernels(),
      document: newDocument('Test', 64),
      onCommit: (c) => commits.push(c),
    });
    projected(engine);
    engine.apply({ do: 'fill', layer: 3, color: '#101010' }, null, PROJECT);
    // As a project is opened again: what its steps hold is on disk.
    const { steps, done, first } = engine.historyData;
    const away = steps.map((step) => ({ ...step, tiles: step.tiles ? ('away' as const) : null }));
    const opened = new Engine({
      surface: measureSurface(mesh, 64),
      kernels: createWasmKernels(),
      document: engine.document,
      ...engine.everything(),
      history: { steps: away, done, first },
    });
    const asked: number[] = [];
    for (let n = opened.needed('undo').step; n !== null; n = opened.needed('undo').step) {
      asked.push(n);
      const tiles = steps[n]!.tiles;
      if (tiles && tiles !== 'away') opened.provideStep(n, tiles);
    }
    expect(asked).toEqual([2, 1]);
    opened.undo();
    expect(opened.history.done).toBe(0);
    expect(opened.document.layers).toHaveLength(2);
    expect(commits).toHaveLength(3);
  });
});
