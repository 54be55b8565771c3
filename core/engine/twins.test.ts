import { describe, expect, it } from 'vitest';
import { changeModel, engineOn, modelOf } from '../../tests/engines';
import { engineFor, lay, texels, type Texel } from '../../tests/painted';
import { vault } from '../../tests/shapes';
import { HARD, PLAIN_STROKE, sampleAt } from '../../tests/strokes';
import { measureCue } from '../cues';
import { TWINS } from '../layers';
import { faceRuns } from '../mesh';
import type { StrokeWish } from '../paint';
import type { Engine } from './engine';

const size = 256;
const N: readonly [number, number, number] = [0.6, 0.8, 0];

/** A place on the vault, and its normal. */
const onVault = (
  x: number,
  z: number,
): { at: [number, number, number]; normal: [number, number, number] } => {
  const l = Math.hypot(1.2 * x, 1);
  return { at: [x, 0.6 * (1 - x * x), z], normal: [(1.2 * x) / l, 1 / l, 0] };
};

const dot = (x: number, z: number, radius: number, how: object = {}): StrokeWish => {
  const { at, normal } = onVault(x, z);
  return {
    ...PLAIN_STROKE,
    color: '#ff0000',
    brush: HARD,
    nearSide: false,
    ...how,
    runs: [sampleAt(at, normal, radius)],
  };
};

const isRed = ({ rgba }: Texel): boolean => rgba[0] === 255 && rgba[3] === 255;

/** The layer with everything on it, as `place: colour`. */
const seen = (engine: Engine): Texel[] => texels(engine);

describe('a stroke on texels that mirrored halves share', () => {
  it.each([
    ['the one side', 0.5],
    ['the other side', -0.5],
  ])('is whole on %s, and its mirror image on the other', (_, x) => {
    const engine = engineFor(vault(), size);
    lay(engine, dot(x, 0.1, 0.3));
    const { at } = onVault(Math.abs(x), 0.1);
    const wrong = seen(engine).filter((t) => {
      const d = Math.hypot(Math.abs(t.at[0]) - at[0], t.at[1] - at[1], t.at[2] - at[2]);
      return isRed(t) !== d < 0.3 && Math.abs(d - 0.3) > 0.012;
    });
    expect(seen(engine).filter(isRed).length).toBeGreaterThan(4000);
    expect(wrong).toHaveLength(0);
  });

  it('over the fold is whole up to it on both', () => {
    const engine = engineFor(vault(), size);
    lay(engine, dot(0.1, 0, 0.3));
    const wrong = seen(engine).filter((t) => {
      // Where either the dab or its mirror image covers.
      const d = Math.min(
        ...[0.1, -0.1].map((x) => Math.hypot(t.at[0] - x, t.at[1] - onVault(x, 0).at[1], t.at[2])),
      );
      return isRed(t) !== d < 0.3 && Math.abs(d - 0.3) > 0.012;
    });
    expect(wrong).toHaveLength(0);
  });

  it('mirrored over the plane that the UVs mirror already is laid once', () => {
    const [once, twice] = [engineFor(vault(), size), engineFor(vault(), size)];
    const half = { opacity: 0.5 };
    lay(once, dot(0.5, 0.1, 0.3, half));
    const symmetry = { planes: [{ point: [0, 0, 0], normal: [1, 0, 0] }], axis: null };
    lay(twice, dot(0.5, 0.1, 0.3, { ...half, symmetry }));
    const [one, other] = [once, twice].map((engine) => seen(engine).map((t) => t.rgba[3])) as [
      number[],
      number[],
    ];
    const differ = one.filter((a, i) => Math.abs(a - other[i]!) > 1).length;
    expect(differ).toBeLessThan(40);
  });

  it('is held by a guard on the side that it is made on', () => {
    const engine = engineFor(vault(), size);
    const { indices, positions, faceParts } = engine.mesh;
    const left = (f: number): boolean => [0, 1, 2].every((k) => positions[indices[f * 3 + k]! * 3]! <= 0);
    const guard = { area: { faces: faceRuns(faceParts.length, left), cuts: [] } };
    lay(engine, dot(0.5, 0.1, 0.3), guard);
    expect(seen(engine).filter(isRed)).toHaveLength(0);
    lay(engine, dot(-0.5, 0.1, 0.3), guard);
    expect(seen(engine).filter(isRed).length).toBeGreaterThan(4000);
  });

  it('fills by either', () => {
    const engine = engineFor(vault(), size);
    const { indices, positions, faceParts } = engine.mesh;
    const right = faceRuns(faceParts.length, (f) =>
      [0, 1, 2].every((k) => positions[indices[f * 3 + k]! * 3]! >= 0),
    );
    lay(
      engine,
      { tool: 'fill', erase: false, color: '#ff0000', opacity: 1, runs: [] },
      { area: { faces: right, cuts: [] } },
    );
    expect(seen(engine).every(isRed)).toBe(true);
  });
});

describe('light on texels that mirrored halves share', () => {
  const lit = (twins: (typeof TWINS)[number]): Texel[] => {
    const engine = engineOn(vault(32, 16), size, { twins });
    engine.apply({ do: 'add-layer', layer: { kind: 'light', name: 'Light', light: 0 }, at: 1 });
    engine.apply({
      do: 'patch-light',
      light: 0,
      patch: PLAIN_KEY,
    });
    for (const spec of engine.missingCues()) engine.setCue(spec, measureCue(engine.surface, spec));
    return seen(engine);
  };
  const base = engineOn(vault(), 64).document.lights[0]!.plan;
  const PLAIN_KEY = {
    key: { ...base.key, direction: [...N] as [number, number, number], shadow: 0 },
  };
  /** Levels by place, rounded to the texel. */
  const byPlace = (list: readonly Texel[]): Map<string, number> =>
    new Map(list.map((t) => [t.at.map((v) => v.toFixed(4)).join(), t.rgba[1]]));

  it('is the mean of both, the same on both', () => {
    const alike = byPlace(lit('alike'));
    const first = byPlace(lit('first'));
    let compared = 0;
    const jumps: number[] = [];
    for (const [place, level] of alike) {
      const [x, y, z] = place.split(',').map(Number) as [number, number, number];
      const twin = alike.get([-x, y, z].map((v) => v.toFixed(4)).join());
      if (twin === undefined) continue;
      compared++;
      jumps.push(Math.abs(level - twin));
    }
    expect(compared).toBeGreaterThan(20_000);
    expect(Math.max(...jumps)).toBe(0);
    // As on one side it is another: that of the side that comes first.
    const differ = [...first].filter(([place, level]) => Math.abs(level - (alike.get(place) ?? level)) > 8);
    expect(differ.length).toBeGreaterThan(10_000);
  });

  it.each(TWINS)('has no edge inside a side, %s', (twins) => {
    const rows = new Map<string, [number, number][]>();
    for (const t of lit(twins)) {
      if (t.at[0] < 0) continue;
      const row = t.at[2].toFixed(4);
      rows.set(row, [...(rows.get(row) ?? []), [t.at[0], t.rgba[1]]]);
    }
    let most = 0;
    for (const row of rows.values()) {
      row.sort((a, b) => a[0] - b[0]);
      for (let i = 1; i < row.length; i++) most = Math.max(most, Math.abs(row[i]![1] - row[i - 1]![1]));
    }
    // 32 facets with smooth normals: neighbouring texels differ by a level or two.
    expect(most).toBeLessThanOrEqual(4);
  });
});

describe('how a layer meets twins', () => {
  it('is set, set back to the project’s way, undone and redone; the project’s own way as well', () => {
    const engine = engineOn(vault(), 128);
    const before = JSON.stringify(engine.document);
    engine.apply({ do: 'patch-layer', layer: 1, patch: { twins: 'first' } });
    engine.apply({ do: 'patch-layer', layer: 1, patch: { twins: undefined } });
    engine.apply({ do: 'set-twins', twins: 'first' });
    const after = JSON.stringify(engine.document);
    expect(engine.document.layers[0]!.twins).toBeUndefined();
    for (let n = 0; n < 3; n++) engine.undo();
    expect(JSON.stringify(engine.document)).toBe(before);
    for (let n = 0; n < 3; n++) engine.redo();
    expect(JSON.stringify(engine.document)).toBe(after);
  });
});

describe('paint on texels that halves share', () => {
  it('is on both where they are laid apart, and stays where they are laid on one another again', async () => {
    const engine = engineFor(vault(), size);
    const shared = { ...vault() };
    lay(engine, dot(-0.5, 0.1, 0.3));
    // The same triangles in the same order, each half with texels of its own.
    const uvs = shared.uvs.slice();
    const own = { ...shared, positions: [] as number[], normals: [] as number[], uvs: [] as number[] };
    shared.indices.forEach((v, c) => {
      const face = Math.floor(c / 3);
      const isLeft = [0, 1, 2].some((k) => shared.positions[shared.indices[face * 3 + k]! * 3]! < 0);
      own.positions.push(...shared.positions.subarray(v * 3, v * 3 + 3));
      own.normals.push(...shared.normals.subarray(v * 3, v * 3 + 3));
      const u = (uvs[v * 2]! - 0.05) * 0.46;
      own.uvs.push(isLeft ? 0.46 - u : 0.54 + u, uvs[v * 2 + 1]!);
    });
    const apart = {
      ...shared,
      positions: Float32Array.from(own.positions),
      normals: Float32Array.from(own.normals),
      uvs: Float32Array.from(own.uvs),
      indices: Uint32Array.from(shared.indices, (_, c) => c),
    };
    const { carried } = await changeModel(engine, modelOf(apart, size), { byTriangle: true });
    const { at } = onVault(0.5, 0.1);
    const off = (list: readonly Texel[]): number =>
      list.filter((t) => {
        const d = Math.hypot(Math.abs(t.at[0]) - at[0], t.at[1] - at[1], t.at[2] - at[2]);
        return t.rgba[3] > 128 !== d < 0.3 && Math.abs(d - 0.3) > 0.03;
      }).length;
    expect(seen(engine).filter((t) => t.rgba[3] > 128).length).toBeGreaterThan(1500);
    expect(off(seen(engine))).toBe(0);
    expect(carried.loss.lost).toBeLessThan(0.01);
    await changeModel(engine, modelOf(shared, size), { byTriangle: true });
    expect(off(seen(engine))).toBe(0);
  });
});
