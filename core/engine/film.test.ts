import { describe, expect, it } from 'vitest';
import { engineOn, PAINT, sortedTiles, watchedEngine } from '../../tests/engines';
import { floor } from '../../tests/shapes';
import { line, PLAIN_STROKE, sampleAt } from '../../tests/strokes';
import { PLAIN_BRUSH, type StrokeWish } from '../paint';
import { readProjectFile, writeProjectFile } from '../project-file';
import type { Engine } from './engine';

const { seed, up, eye, nearSide } = PLAIN_STROKE;

/** A red stroke, a blue one across it, a softened crossing, and a dot. */
const STROKES: readonly StrokeWish[] = [
  { ...PLAIN_STROKE, color: '#ff0000', runs: [line([-0.8, 0, 0], [0.8, 0, 0], 0.15)] },
  { ...PLAIN_STROKE, color: '#0000ff', opacity: 0.7, runs: [line([0, 0, -0.8], [0, 0, 0.8], 0.15)] },
  {
    tool: 'soften',
    opacity: 1,
    brush: PLAIN_BRUSH,
    seed,
    up,
    eye,
    nearSide,
    runs: [sampleAt([0.15, 0, 0.15], [0, 1, 0], 0.2)],
  },
  { ...PLAIN_STROKE, color: '#00ff00', runs: [sampleAt([0.6, 0, 0.6], [0, 1, 0], 0.1)] },
];

function painted(strokes: readonly StrokeWish[]): Engine {
  const engine = engineOn(floor());
  for (const stroke of strokes) engine.apply({ do: 'stroke', layer: PAINT, stroke });
  return engine;
}

const pixels = (engine: Engine) => sortedTiles(engine.tilesOf(PAINT));

describe('strokes that are changed after they were made', () => {
  it('give what they would have given from the first: another colour, opacity, size, or none of it', () => {
    const cases: [number[], Parameters<Engine['apply']>[0], StrokeWish[]][] = [
      [
        [1],
        { do: 'edit-strokes', layer: PAINT, strokes: [1], change: { color: '#ffff00', opacity: 0.4 } },
        STROKES.with(1, { ...STROKES[1]!, color: '#ffff00', opacity: 0.4 } as StrokeWish),
      ],
      [
        [0],
        { do: 'edit-strokes', layer: PAINT, strokes: [0], change: { size: 2 } },
        STROKES.with(0, { ...STROKES[0]!, runs: [line([-0.8, 0, 0], [0.8, 0, 0], 0.3)] } as StrokeWish),
      ],
      [
        [2, 0],
        { do: 'edit-strokes', layer: PAINT, strokes: [2, 0], change: 'remove' },
        [STROKES[1]!, STROKES[3]!],
      ],
      [[3], { do: 'edit-strokes', layer: PAINT, strokes: [3], change: 'remove' }, STROKES.slice(0, 3)],
    ];
    for (const [, command, wanted] of cases) {
      const engine = painted(STROKES);
      const before = pixels(engine);
      engine.apply(command);
      const after = pixels(painted(wanted));
      expect(pixels(engine)).toEqual(after);
      engine.undo();
      expect(pixels(engine)).toEqual(before);
      expect(engine.editableStrokes(PAINT)).toHaveLength(STROKES.length);
      engine.redo();
      expect(pixels(engine)).toEqual(after);
      expect(engine.editableStrokes(PAINT)).toHaveLength(wanted.length);
      // What comes after it goes on as ever.
      engine.apply({ do: 'stroke', layer: PAINT, stroke: STROKES[3]! });
      engine.undo();
      engine.undo();
      expect(pixels(engine)).toEqual(before);
    }
  });

  it('lie on what was filled under them, and leave it as it is; what lies under it can’t be changed', () => {
    const engine = painted(STROKES.slice(0, 1));
    engine.apply({ do: 'fill', layer: PAINT, color: '#808080' });
    for (const stroke of STROKES.slice(1)) engine.apply({ do: 'stroke', layer: PAINT, stroke });
    expect(engine.editableStrokes(PAINT).map((s) => s.number)).toEqual([1, 2, 3]);
    expect(() => engine.apply({ do: 'edit-strokes', layer: PAINT, strokes: [0], change: 'remove' })).toThrow(
      /can’t be changed any more/,
    );
    engine.apply({ do: 'edit-strokes', layer: PAINT, strokes: [1, 2, 3], change: 'remove' });
    const flat = engineOn(floor());
    flat.apply({ do: 'fill', layer: PAINT, color: '#808080' });
    expect(pixels(engine)).toEqual(pixels(flat));
    engine.undo();
    engine.undo();
    engine.redo();
    engine.redo();
    expect(pixels(engine)).toEqual(pixels(flat));
    // A stroke on that again, and taken back.
    engine.apply({ do: 'stroke', layer: PAINT, stroke: STROKES[3]! });
    engine.apply({ do: 'edit-strokes', layer: PAINT, strokes: [1], change: 'remove' });
    expect(pixels(engine)).toEqual(pixels(flat));
  });

  it('tell whoever keeps the project which strokes there are now', () => {
    const { engine, commits } = watchedEngine(floor());
    for (const stroke of STROKES) engine.apply({ do: 'stroke', layer: PAINT, stroke });
    engine.apply({ do: 'edit-strokes', layer: PAINT, strokes: [1], change: 'remove' });
    expect(commits.at(-1)!.strokes.get(PAINT)).toMatchObject({
      count: 3,
      added: [{ tool: 'soften' }, { color: '#00ff00' }],
    });
    engine.undo();
    const change = commits.at(-1)!.strokes.get(PAINT)!;
    expect([change.count, change.added.length]).toEqual([4, 3]);
    const { document, mesh } = engine;
    const data = readProjectFile(
      writeProjectFile({ document, mesh, ...engine.everything(), files: new Map() }),
    );
    expect(data.strokes.get(PAINT)).toHaveLength(4);
  });

  it('are listed with their way, colour and width', () => {
    const [first, , soften] = painted(STROKES).editableStrokes(PAINT);
    expect(first).toMatchObject({ number: 0, tool: 'brush', color: '#ff0000', opacity: 1, erases: false });
    expect(first!.radius).toBeCloseTo(0.15, 6);
    expect(first!.way.slice(0, 3)).toEqual([-0.8, 0, 0]);
    expect(soften).toMatchObject({ tool: 'soften', color: null });
  });
});
