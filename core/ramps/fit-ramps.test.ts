import { describe, expect, it } from 'vitest';
import { floor, plate } from '../../tests/shapes';
import { ciede2000, hexToRgb, rampTable, rgbToCielab } from '../color';
import { normalize, type Vec3 } from '../math';
import { measureSurface } from '../surface';
import {
  fitAlbedo,
  fitToRamps,
  rampsFromColors,
  rampsFromPaint,
  rampsFromSwatches,
  shadesAround,
  type PaintedPlace,
  type ProjectRamp,
} from '.';

const RAMPS: readonly ProjectRamp[] = [
  { id: 1, name: 'Wood', colors: ['#3b2418', '#8a5a33', '#d9b37a'] },
  { id: 2, name: 'Leaf', colors: ['#0f2a12', '#2f7a2a', '#9bd35a'] },
  { id: 3, name: 'Iron', colors: ['#1c1c24', '#9aa2b0'] },
];

/** What a ramp has at a place, as the sheet is drawn. */
function colorOf({ colors }: ProjectRamp, at: number): { r: number; g: number; b: number } {
  const stops = colors.map((color, k) => ({ at: k / (colors.length - 1), color }));
  const table = rampTable({ stops, mixing: 'oklab', hardness: 0 }, 1001);
  const o = Math.round(Math.min(1, Math.max(0, at)) * 1000) * 3;
  const [r, g, b] = [0, 1, 2].map((c) => Math.round(table[o + c]! * 255)) as [number, number, number];
  return { r, g, b };
}

/** Places in a box, painted as a run would have them. */
function painted(ramp: ProjectRamp, direction: Vec3, from: number, to: number): PaintedPlace[] {
  const d = normalize(direction);
  const out: { at: Vec3; t: number }[] = [];
  for (let i = 0; i < 300; i++) {
    const at: Vec3 = [((i * 37) % 101) / 101, ((i * 61) % 103) / 103, ((i * 17) % 97) / 97];
    out.push({ at, t: at[0] * d[0] + at[1] * d[1] + at[2] * d[2] });
  }
  const low = Math.min(...out.map((p) => p.t));
  const high = Math.max(...out.map((p) => p.t));
  return out.map(({ at, t }) => ({
    at,
    rgb: colorOf(ramp, from + ((to - from) * (t - low)) / (high - low)),
  }));
}

describe('the fit of paint to ramps', () => {
  it('finds ramp, direction and run of what was painted from one, also aslant and flipped', () => {
    for (const [index, direction, from, to] of [
      [0, [0, 1, 0], 0, 1],
      [1, [0.6, 0.7, -0.4], 0.2, 0.9],
      [2, [1, 0, 0], 1, 0.3],
    ] as const) {
      const fit = fitToRamps(painted(RAMPS[index]!, direction, from, to), RAMPS)!;
      expect(fit.ramp).toBe(RAMPS[index]!.id);
      expect(fit.deltaE).toBeLessThan(1.5);
      const found = fit.run.kind === 'straight' ? normalize(fit.run.direction) : [0, 0, 0];
      const wanted = normalize(direction);
      const cos = Math.abs(found[0]! * wanted[0] + found[1]! * wanted[1] + found[2]! * wanted[2]);
      expect(cos).toBeGreaterThan(0.97);
    }
  });

  it('tells the error of one flat colour that no ramp has: that to the nearest colour of the nearest ramp', () => {
    const rgb = hexToRgb('#b04a8c');
    const places = painted(RAMPS[0]!, [0, 1, 0], 0, 1).map(({ at }) => ({ at, rgb }));
    const fit = fitToRamps(places, RAMPS)!;
    const least = Math.min(
      ...RAMPS.flatMap((ramp) =>
        Array.from(
          { length: 200 },
          (_, i) => ciede2000(rgbToCielab(rgb), rgbToCielab(colorOf(ramp, i / 199))).deltaE,
        ),
      ),
    );
    expect(fit.deltaE).toBeGreaterThanOrEqual(least - 0.5);
    expect(fit.deltaE).toBeLessThan(least + 8);
    expect(fitToRamps([], RAMPS)).toBeNull();
    expect(fitToRamps(places, [])).toBeNull();
  });

  it('reads a sheet part by part, and leaves out what has no paint', () => {
    const mesh = plate(0.5, 'Under');
    const surface = measureSurface(mesh, [128]);
    const rows = new Uint8Array(128 * 128 * 4);
    // The upper half of the sheet's rows is one part, or none of them: all is painted iron's dark end.
    for (let i = 0; i < rows.length; i += 4) rows.set([0x1c, 0x1c, 0x24, 255], i);
    const fits = fitAlbedo(surface, [rows], RAMPS);
    expect(fits.map((f) => f.part)).toEqual(mesh.parts);
    for (const { fit } of fits) {
      expect(fit.ramp).toBe(3);
      expect(fit.deltaE).toBeLessThan(1);
    }
    expect(fitAlbedo(surface, [new Uint8Array(rows.length)], RAMPS)).toEqual([]);
    expect(fitAlbedo(measureSurface(floor(), [64]), [rows.subarray(0, 64 * 64 * 4)], RAMPS)).toHaveLength(1);
  });
});

describe('ramps that are made', () => {
  it('from a colour go from a darker to a lighter one around it', () => {
    const [dark, own, light] = shadesAround('#cf5a2e').map((c) => rgbToCielab(hexToRgb(c)).L);
    expect(dark!).toBeLessThan(own! - 15);
    expect(light!).toBeGreaterThan(own! + 8);
  });

  it('from swatches have their names, each once', () => {
    const made = rampsFromSwatches([
      { name: 'Fur', color: '#8a5a33' },
      { name: 'Fur', color: '#5a3a20' },
      { name: '', color: '#ffffff' },
    ]);
    expect(made.map((r) => r.name)).toEqual(['Fur', 'Fur 2', 'Ramp']);
  });

  it('out of paint go from each part’s darkest to its lightest; parts painted alike share one', () => {
    const wood = painted(RAMPS[0]!, [0, 1, 0], 0, 1);
    const made = rampsFromPaint(
      [
        { name: 'Box', places: wood },
        { name: 'Lid', places: painted(RAMPS[0]!, [1, 0, 0], 1, 0) },
        { name: 'Bare', places: [] },
        { name: 'Leaf', places: painted(RAMPS[1]!, [0, 1, 0], 0, 1) },
      ],
      8,
    );
    expect(made.map((r) => r.name)).toEqual(['Box', 'Leaf']);
    const L = made[0]!.colors.map((c) => rgbToCielab(hexToRgb(c)).L);
    expect(L).toEqual(L.toSorted((a, b) => a - b));
    // What was made from the paint gives it back.
    const ramps = made.map((ramp, id) => ({ ...ramp, id, colors: [...ramp.colors] }));
    expect(fitToRamps(wood, ramps)!.deltaE).toBeLessThan(3);
  });

  it('out of a picture put light and shadow of one thing together, dark to light', () => {
    const colors = ['#0f2a12', '#2f7a2a', '#9bd35a', '#5a2418', '#8a4a33', '#d99a7a'].map((hex, i) => ({
      hex,
      share: (6 - i) / 21,
    }));
    const made = rampsFromColors(colors, 2);
    expect(made.map((r) => r.colors)).toEqual([
      ['#0f2a12', '#2f7a2a', '#9bd35a'],
      ['#5a2418', '#8a4a33', '#d99a7a'],
    ]);
    expect(made.map((r) => r.name)).toEqual(['Green', 'Red']);
  });
});
