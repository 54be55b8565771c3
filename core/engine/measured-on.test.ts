import { describe, expect, it } from 'vitest';
import { engineOn, LOCAL } from '../../tests/engines';
import { ball, together } from '../../tests/shapes';
import { groundsFor, measureCue, type CueSpec } from '../cues';
import { lightPlan } from '../light';
import type { UvMesh } from '../mesh';
import { PlaceReader, texelIndex, TILE_TEXELS } from '../surface';
import { compositeSheet } from './pictures/flatten';
import { packModel, readProjectFile, unpackModel, writeProjectFile } from '../project-file';
import type { Engine } from './engine';

const BLACK = { color: '#000000', strength: 0 };
const SIZE = 128;

const measure = (engine: Engine): void => {
  const groundFor = groundsFor(engine.surface, {
    dense: null,
    colors: engine.localColors(),
    moves: null,
  });
  for (const spec of engine.missingCues())
    engine.setCue(spec, measureCue(engine.surface, spec, { ground: groundFor(spec) }));
};

/** A ball of its own part over another. */
function pair(): UvMesh {
  const upper = ball(32, 16, 0.5, [0, 1.2, 0]);
  const lower = ball(32, 16, 1, [0, -0.4, 0]);
  return together({ ...upper, parts: ['Upper'] }, { ...lower, parts: ['Lower'] });
}

/** Mean colour of the upper ball's underside. */
function underside(engine: Engine): number[] {
  const rows = compositeSheet(engine);
  const places = new PlaceReader(engine.surface);
  const sum = [0, 0, 0];
  let n = 0;
  for (let y = 0; y < SIZE; y++) {
    for (let x = 0; x < SIZE; x++) {
      const index = texelIndex(SIZE, x, y);
      const p = places.tile(Math.floor(index / TILE_TEXELS));
      const i = index % TILE_TEXELS;
      if (!p || Math.abs(p.py[i]! - 0.75) > 0.05) continue;
      n++;
      for (let c = 0; c < 3; c++) sum[c]! += rows[(y * SIZE + x) * 4 + c]!;
    }
  }
  return sum.map((v) => v / n);
}

describe('light bounced from below', () => {
  function bounced() {
    const engine = engineOn(pair(), SIZE);
    engine.apply({
      do: 'patch-layer',
      layer: LOCAL,
      patch: { colors: [['Lower', '#ff0000']], fallback: '#808080' },
    });
    const plan = lightPlan.parse({
      key: { direction: [0, 1, 0], ...BLACK, wrap: 0 },
      sky: BLACK,
      ground: { color: '#204020', strength: 1, bounce: 1 },
    });
    const light =
      engine.apply({ do: 'add-light', name: 'Bounce', plan }).ids[0] ?? engine.document.lights.at(-1)!.id;
    engine.apply({ do: 'add-layer', layer: { kind: 'light', name: 'Bounce', light }, at: 1 });
    return engine;
  }

  it('has the local colour of what lies there, and follows it', () => {
    const engine = bounced();
    // Until it is measured the ground alone lights what looks down.
    const [r0, g0] = underside(engine);
    expect(g0).toBeGreaterThan(r0! + 15);
    measure(engine);
    const [r, g] = underside(engine);
    expect(r).toBeGreaterThan(150);
    expect(g).toBeLessThan(45);
    engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { colors: [['Lower', '#0000ff']] } });
    expect(engine.missingCues()).toHaveLength(3);
    // What was bounced before stands until the new colour is measured.
    expect(underside(engine)[0]).toBeGreaterThan(150);
    measure(engine);
    expect(underside(engine)[2]).toBeGreaterThan(150);
    expect(underside(engine)[0]).toBeLessThan(45);
  });

  it('counts the colours of regions', () => {
    const engine = bounced();
    const { faceParts } = engine.mesh;
    const faces = [...faceParts.keys()].filter((f) => engine.mesh.parts[faceParts[f]!] === 'Lower');
    engine.apply({ do: 'color-faces', layer: LOCAL, region: { name: 'All of it', faces }, color: '#00ff00' });
    measure(engine);
    const [r, g] = underside(engine);
    expect(g).toBeGreaterThan(r! + 100);
  });
});

describe('two lights', () => {
  const plan = (direction: [number, number, number]) =>
    lightPlan.parse({
      key: { direction, color: '#ffffff', strength: 1, wrap: 0, shadow: 1, size: 0 },
      sky: BLACK,
      ground: BLACK,
    });

  it('don’t borrow each other’s shadows: one that isn’t cast yet darkens nothing', () => {
    const engine = engineOn(pair(), SIZE);
    const [first] = engine.document.lights;
    engine.apply({ do: 'patch-light', light: first!.id, patch: plan([0, 1, 0]) });
    engine.apply({ do: 'add-layer', layer: { kind: 'light', name: 'A', light: first!.id }, at: 1 });
    measure(engine);
    engine.apply({ do: 'add-light', name: 'B', plan: plan([0, 1, 0.01]) });
    const second = engine.document.lights.at(-1)!.id;
    engine.apply({ do: 'add-layer', layer: { kind: 'light', name: 'B', light: second }, at: 2 });
    const bare = compositeSheet(engine);
    measure(engine);
    const shaded = compositeSheet(engine);
    const darker = bare.reduce((n, v, i) => n + Number(v > shaded[i]! + 20), 0);
    expect(darker).toBeGreaterThan(300);
  });
});

describe('a denser model', () => {
  const up: CueSpec = { cue: 'height', direction: [0, 1, 0], from: 0, to: 1 };
  const withWash = (): Engine => {
    const engine = engineOn(ball(16, 8), SIZE);
    engine.apply({
      do: 'add-layer',
      layer: {
        kind: 'wash',
        name: 'W',
        color: '#000000',
        mask: [
          { from: 'cue', cue: up, join: 'multiply', levels: { low: 0, high: 1, gamma: 1 }, invert: false },
        ],
      },
      at: 1,
    });
    return engine;
  };
  const dense = { name: 'Dense', triangles: 9000, distance: 0.05 };

  it('makes every cue be measured anew; what was measured stands in until then, and undo brings it back', () => {
    const engine = withWash();
    measure(engine);
    const before = compositeSheet(engine);
    const file = packModel(ball(96, 48));
    engine.attach({ do: 'set-dense', dense }, file);
    expect(engine.missingCues()).toEqual([up]);
    expect(compositeSheet(engine)).toEqual(before);
    const groundFor = groundsFor(engine.surface, {
      dense: { mesh: unpackModel(engine.file(engine.document.dense!.id)!), distance: 0.2 },
      colors: null,
      moves: null,
    });
    engine.setCue(up, measureCue(engine.surface, up, { ground: groundFor(up) }));
    expect(compositeSheet(engine)).not.toEqual(before);
    engine.apply({ do: 'patch-dense', distance: 0.1 });
    expect(engine.missingCues()).toEqual([up]);
    engine.undo();
    engine.undo();
    expect(engine.document.dense).toBeNull();
    measure(engine);
    expect(compositeSheet(engine)).toEqual(before);
  });

  it('lies in the project file', () => {
    const engine = withWash();
    const file = packModel({ ...ball(96, 48), uvs: null });
    engine.attach({ do: 'set-dense', dense }, file);
    const back = readProjectFile(
      writeProjectFile({ document: engine.document, mesh: engine.mesh, ...engine.everything() }),
    );
    expect(back.document.dense).toEqual(engine.document.dense);
    const mesh = unpackModel(back.files.get(back.document.dense!.id)!);
    expect(mesh.indices).toEqual(ball(96, 48).indices);
    expect(mesh.uvs).toBeNull();
  });

  it('that is cut short is refused with a sentence', () => {
    const file = packModel(ball(16, 8));
    expect(() => unpackModel(file.slice(0, file.length - 40))).toThrow(
      expect.objectContaining({ name: 'CoreError' }),
    );
  });
});

describe('strengths of regions in a light plan', () => {
  it('stand in the place of those of their parts, and go with the region', () => {
    const engine = engineOn(pair(), SIZE);
    const { faceParts, parts } = engine.mesh;
    const faces = [...faceParts.keys()].filter((f) => parts[faceParts[f]!] === 'Upper');
    const region = engine.apply({ do: 'add-region', region: { name: 'Top', faces } }).ids[0]!;
    const light = engine.document.lights[0]!.id;
    const plain = lightPlan.parse({
      key: { direction: [0, 1, 0], ...BLACK, wrap: 0 },
      sky: BLACK,
      ground: { color: '#808080', strength: 1 },
    });
    engine.apply({ do: 'patch-light', light, patch: { ...plain, parts: [['Upper', 0.5]] } });
    engine.apply({ do: 'add-layer', layer: { kind: 'light', name: 'L', light }, at: 1 });
    const [half] = underside(engine);
    engine.apply({ do: 'patch-light', light, patch: { regions: [[region, 2]] } });
    const [twice] = underside(engine);
    expect(twice! / half!).toBeCloseTo(4, 0);
    engine.apply({ do: 'remove-region', region });
    expect(engine.document.lights[0]!.plan.regions).toEqual([]);
    expect(underside(engine)[0]).toBeCloseTo(half!, 0);
  });
});
