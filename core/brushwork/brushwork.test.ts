import { describe, expect, it } from 'vitest';
import { expanded } from '../../tests/expanded';
import { ball, floor, plate, quads, seamedFloor } from '../../tests/shapes';
import type { TileSource } from '../composite';
import type { UvMesh } from '../mesh';
import { filledTiles, measureSurface, PlaceReader, TILE_TEXELS, type SurfaceMap } from '../surface';
import {
  brushworkSchema,
  scatterOver,
  setStrokes,
  strokeDirections,
  strokePainter,
  USUAL_BRUSHWORK,
  type Brushwork,
} from '.';

const how = (patch: Partial<Brushwork> = {}): Brushwork =>
  brushworkSchema.parse({ ...USUAL_BRUSHWORK, hueJitter: 0, lightJitter: 0, ...patch });

/** All texels of a map, painted in strokes of what a function gives. */
function painted(map: SurfaceMap, work: Brushwork, color: (x: number, y: number, z: number) => number[]) {
  const places = new PlaceReader(map);
  const source = (tile: number): TileSource => {
    const at = places.tile(tile)!;
    const bytes = new Uint8Array(TILE_TEXELS * 4);
    for (let i = 0; i < TILE_TEXELS; i++) {
      if (at.px[i]! < 1e17) bytes.set([...color(at.px[i]!, at.py[i]!, at.pz[i]!), 255], i * 4);
    }
    return { form: 'rgba8', bytes };
  };
  const paint = strokePainter(setStrokes(map, work), work, {
    surface: map,
    places,
    source,
    mask: () => null,
  });
  const out = new Uint8Array(map.slotOfTile.length * TILE_TEXELS * 4);
  for (const tile of filledTiles(map)) {
    const made = paint(tile);
    if (made?.form === 'rgba8') out.set(made.bytes, tile * TILE_TEXELS * 4);
  }
  return out;
}

describe('places scattered over a surface', () => {
  it('are none nearer than the distance on one side, and leave no gap of twice as much', () => {
    const mesh = floor(2);
    const r = 0.1;
    const { count, positions: p } = scatterOver(mesh, r, 3);
    const nearest = Array.from({ length: count }, (_, i) => {
      let best = Infinity;
      for (let j = 0; j < count; j++) {
        if (i !== j) best = Math.min(best, Math.hypot(p[i * 3]! - p[j * 3]!, p[i * 3 + 2]! - p[j * 3 + 2]!));
      }
      return best;
    });
    expect(Math.min(...nearest)).toBeGreaterThanOrEqual(r * 0.9999);
    // A. Lagae and P. Dutré, "A comparison of methods for generating Poisson disk distributions", 2008: the relative radius, of the
    // densest packing's, is 0.65 to 0.85 for a good set; a random set's mean nearest neighbour is 0.5/√density (Clark and Evans 1954).
    const relative = r / Math.sqrt((2 / Math.sqrt(3)) * (4 / count));
    expect(relative).toBeGreaterThan(0.65);
    expect(relative).toBeLessThan(0.85);
    const mean = nearest.reduce((a, b) => a + b, 0) / count;
    expect(mean / (0.5 / Math.sqrt(count / 4))).toBeGreaterThan(1.3);
    let gap = 0;
    for (let x = -0.9; x < 0.9; x += 0.05) {
      for (let z = -0.9; z < 0.9; z += 0.05) {
        let best = Infinity;
        for (let i = 0; i < count; i++) best = Math.min(best, Math.hypot(p[i * 3]! - x, p[i * 3 + 2]! - z));
        gap = Math.max(gap, best);
      }
    }
    expect(gap).toBeLessThan(r * 1.6);
  });

  it('lie by area, whatever the triangles are, and on both sides of something thin', () => {
    const fine = ball(64, 32);
    const { count, positions } = scatterOver(fine, 0.12, 1);
    const upper = positions.filter((y, i) => i % 3 === 1 && y > 0.5).length;
    // Archimedes: the cap above half the radius has a quarter of a ball's area.
    expect(Math.abs(upper / count - 0.25)).toBeLessThan(0.04);
    const thin = scatterOver(plate(0.001, 'Below'), 0.2, 2);
    const up = thin.normals.filter((y, i) => i % 3 === 1 && y > 0).length;
    expect(Math.abs(up / thin.count - 0.5)).toBeLessThan(0.1);
  });

  it('are the same for the same seed, others for another, and none on nothing', () => {
    const mesh = floor(2);
    expect(scatterOver(mesh, 0.2, 5)).toEqual(scatterOver(mesh, 0.2, 5));
    expect(scatterOver(mesh, 0.2, 5).positions).not.toEqual(scatterOver(mesh, 0.2, 6).positions);
    const flat = { ...mesh, positions: new Float32Array(mesh.positions.length) };
    expect(scatterOver(flat, 0.2, 5).count).toBe(0);
  });
});

describe('directions of strokes', () => {
  /** A tube around y. */
  const tube = (): UvMesh => {
    const n = 24;
    return quads(
      Array.from({ length: n }, (_, i) => {
        const at = (k: number, y: number): [number, number, number] => {
          const a = (k / n) * 2 * Math.PI;
          return [Math.cos(a) * 0.3, y, -Math.sin(a) * 0.3];
        };
        return {
          part: 'Tube',
          corners: [at(i, -1), at(i + 1, -1), at(i + 1, 1), at(i, 1)],
          place: [i / n, 0, (i + 0.9) / n, 1] as const,
        };
      }),
    );
  };

  it.each([
    ['form', [0, 1, 0], (d: number[]) => Math.abs(d[1]!)],
    ['down', [0, 1, 0], (d: number[]) => Math.abs(d[1]!)],
    ['axis', [0, 1, 0], (d: number[]) => 1 - Math.abs(d[1]!)],
  ] as const)('%s: along a tube, down it, or around it', (along, direction, good) => {
    const mesh = tube();
    const scatter = scatterOver(mesh, 0.15, 1);
    const d = strokeDirections(mesh, scatter, how({ along, direction: [...direction] }), 0.3);
    let sum = 0;
    for (let i = 0; i < scatter.count; i++) {
      const own = [...d.subarray(i * 3, i * 3 + 3)];
      const n = scatter.normals.subarray(i * 3, i * 3 + 3);
      expect(Math.hypot(...own)).toBeCloseTo(1, 4);
      expect(Math.abs(own[0]! * n[0]! + own[1]! * n[1]! + own[2]! * n[2]!)).toBeLessThan(1e-4);
      sum += good(own);
    }
    expect(sum / scatter.count).toBeGreaterThan(0.95);
  });

  it('along the light’s border lie square to the light', () => {
    const mesh = ball(32, 16);
    const scatter = scatterOver(mesh, 0.3, 1);
    const d = strokeDirections(mesh, scatter, how({ along: 'light', direction: [1, 0, 0] }), 0.3);
    for (let i = 0; i < scatter.count; i++) {
      if (Math.abs(scatter.normals[i * 3]!) < 0.95) expect(Math.abs(d[i * 3]!)).toBeLessThan(0.02);
    }
  });
});

describe('a layer in strokes', () => {
  it('covers what the smooth layer covers, in its colours only, where it lies under them', () => {
    const map = measureSurface(ball(32, 16), 128);
    const out = painted(map, how(), (_x, y) => (y > 0 ? [200, 60, 40] : [40, 60, 200]));
    const at = expanded(map);
    for (let i = 0; i < out.length / 4; i++) {
      if (at.face[i]! < 0) continue;
      expect(out[i * 4 + 3]).toBe(255);
      // Mixed where a soft border lies over another colour, never another hue.
      expect(Math.abs(out[i * 4 + 1]! - 60)).toBeLessThanOrEqual(1);
      expect(Math.abs(out[i * 4]! + out[i * 4 + 2]! - 240)).toBeLessThanOrEqual(2);
    }
  });

  it('leaves gaps where few are laid and nothing lies under them; more strokes leave fewer', () => {
    const map = measureSurface(floor(2), 128);
    const share = (patch: Partial<Brushwork>): number => {
      const out = painted(map, how({ under: 0, small: 0, bristle: 0, ...patch }), () => [255, 0, 0]);
      let sum = 0;
      for (let i = 3; i < out.length; i += 4) sum += out[i]! / 255;
      return sum / (out.length / 4);
    };
    const [few, all, dense] = [share({ amount: 0.2 }), share({}), share({ overlap: 0.8 })];
    expect(few).toBeLessThan(0.7);
    expect(all).toBeGreaterThan(few);
    expect(dense).toBeGreaterThan(0.98);
  });

  it('is the same on both sides of a seam', () => {
    const map = measureSurface(seamedFloor(), 256);
    const out = painted(map, how({ size: 0.05 }), (x, _y, z) => [
      128 + Math.round(100 * x),
      128 + Math.round(100 * z),
      0,
    ]);
    const at = expanded(map);
    const sides: [Map<number, number[]>, Map<number, number[]>] = [new Map(), new Map()];
    for (let i = 0; i < out.length / 4; i++) {
      if (at.face[i]! < 0 || Math.abs(at.px[i]!) > 1e-6) continue;
      sides[at.face[i]! < 2 ? 0 : 1].set(Math.round(at.pz[i]! * 1e4), [...out.subarray(i * 4, i * 4 + 3)]);
    }
    const shared = [...sides[0]].filter(([z]) => sides[1].has(z));
    expect(shared.length).toBeGreaterThan(20);
    for (const [z, color] of shared) {
      color.forEach((c, k) => expect(Math.abs(c - sides[1].get(z)![k]!)).toBeLessThanOrEqual(2));
    }
  });

  it('keeps to the part at its middle', () => {
    const [a, b] = [
      {
        part: 'A',
        corners: [
          [-1, 0, 1],
          [0, 0, 1],
          [0, 0, -1],
          [-1, 0, -1],
        ],
        place: [0.05, 0.05, 0.45, 0.95],
      },
      {
        part: 'B',
        corners: [
          [0, 0, 1],
          [1, 0, 1],
          [1, 0, -1],
          [0, 0, -1],
        ],
        place: [0.55, 0.05, 0.95, 0.95],
      },
    ] as const;
    const map = measureSurface(quads([a, b]), 128);
    const out = painted(map, how(), (x) => (x < 0 ? [255, 0, 0] : [0, 0, 255]));
    const at = expanded(map);
    for (let i = 0; i < out.length / 4; i++) {
      if (at.face[i]! < 0 || !at.covered[i]) continue;
      expect(out[i * 4 + (at.part[i] === 0 ? 2 : 0)]).toBe(0);
    }
  });

  it('varies in hue and lightness by what is asked, and is the same for the same seed', () => {
    const map = measureSurface(floor(2), 64);
    const plain = painted(map, how(), () => [160, 90, 60]);
    const varied = painted(map, how({ lightJitter: 0.1, hueJitter: 20 }), () => [160, 90, 60]);
    const spread = (out: Uint8Array): number => {
      const reds = out.filter((_, i) => i % 4 === 0 && out[i + 3] === 255);
      return Math.max(...reds) - Math.min(...reds);
    };
    expect(spread(plain)).toBeLessThanOrEqual(1);
    expect(spread(varied)).toBeGreaterThan(20);
    expect(painted(map, how({ lightJitter: 0.1 }), () => [160, 90, 60])).toEqual(
      painted(map, how({ lightJitter: 0.1 }), () => [160, 90, 60]),
    );
  });
});
