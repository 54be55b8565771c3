import { describe, expect, it } from 'vitest';
import { seamedFloor } from '../../tests/shapes';
import { createWasmKernels } from '../kernels';
import { compositeSheet } from './pictures/flatten';
import { Engine } from './engine';
import type { TileState } from '../pixels';
import { LOCAL, PAINT, watchedEngine } from '../../tests/engines';
import { line, SOFT_STROKE } from '../../tests/strokes';

describe('undo', () => {
  it('brings back every earlier state to the last texel, and forward again', () => {
    const { engine } = watchedEngine(seamedFloor());
    const states: Uint8Array[] = [compositeSheet(engine)];
    const documents = [engine.document];
    const step = (work: () => void): void => {
      work();
      states.push(compositeSheet(engine));
      documents.push(engine.document);
    };
    step(() =>
      engine.apply({
        do: 'stroke',
        layer: PAINT,
        stroke: { ...SOFT_STROKE, runs: [line([-0.6, 0, 0], [0.6, 0, 0], 0.2)] },
      }),
    );
    step(() =>
      engine.apply({
        do: 'stroke',
        layer: PAINT,
        stroke: { ...SOFT_STROKE, color: '#1020e0', runs: [line([-0.6, 0, 0.4], [0.6, 0, -0.4], 0.1)] },
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
      expect(compositeSheet(engine)).toEqual(states[i]);
    }
    expect(engine.undo()).toBe(false);
    for (let i = 1; i < states.length; i++) {
      expect(engine.redo()).toBe(true);
      expect(compositeSheet(engine)).toEqual(states[i]);
    }
    expect(engine.redo()).toBe(false);
  });

  it('makes one step of one drag, and ends what was undone when something new is done', () => {
    const { engine } = watchedEngine(seamedFloor());
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
    const { engine, commits } = watchedEngine(seamedFloor());
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...SOFT_STROKE, runs: [line([-0.6, 0, 0], [0.6, 0, 0], 0.2)] },
    });
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...SOFT_STROKE, erase: true, runs: [line([0, 0, 0], [0.6, 0, 0], 0.3)] },
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
    expect(compositeSheet(copy)).toEqual(compositeSheet(engine));
    expect(copy.strokesOf(PAINT)).toHaveLength(1);
    copy.redo();
    engine.redo();
    expect(compositeSheet(copy)).toEqual(compositeSheet(engine));
  });
});
