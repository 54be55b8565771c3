import { filterDeficiencyDeuter, filterDeficiencyProt, filterDeficiencyTrit } from 'culori';
import { describe, expect, it } from 'vitest';
import { ball, quads, together } from '../../../tests/shapes';
import { COLOR_VISIONS, linearToSrgb, rgbToCielab, seenWith, srgbToLinear } from '../../color';
import { seededRandom } from '../../math';
import {
  alignedPixels,
  blurred,
  colorRange,
  compareSpans,
  comparedPicture,
  differenceField,
  heatColors,
  labRows,
  localShifts,
  maskFromGround,
  measureEdges,
  mergingParts,
  mirroredMatch,
  nearestTo,
  NO_MATCH,
  outlinePlaces,
  pictureMask,
  pixelsOfSheet,
  seeModel,
  simplified,
  valueGroups,
  valuesOf,
  withoutPockets,
  type MatchCamera,
} from '..';

const rowsOf = (width: number, height: number, at: (x: number, y: number) => readonly number[]) => {
  const rgba = new Uint8Array(width * height * 4);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const c = at(x, y);
      rgba.set([c[0]!, c[1]!, c[2]!, c[3] ?? 255], (y * width + x) * 4);
    }
  }
  return { width, height, rgba };
};

const noise = (seed: number) => {
  const random = seededRandom(seed);
  return rowsOf(40, 30, () => [random() * 255, random() * 255, random() * 255].map(Math.floor));
};

describe('eyes that lack a kind of cone', () => {
  // culori holds the matrices of Machado, Oliveira and Fernandes (2009) by itself, and applies them to whatever it is given; they are
  // meant for linear light.
  it('see what culori says they see, within a level', () => {
    const { rgba } = noise(3);
    const oracles = {
      protan: filterDeficiencyProt(1),
      deutan: filterDeficiencyDeuter(1),
      tritan: filterDeficiencyTrit(1),
    };
    for (const vision of COLOR_VISIONS) {
      const seen = seenWith(vision, rgba);
      for (let i = 0; i < rgba.length; i += 4) {
        const [r, g, b] = [0, 1, 2].map((k) => srgbToLinear(rgba[i + k]! / 255)) as [number, number, number];
        const wanted = oracles[vision]({ mode: 'rgb', r, g, b }) as { r: number; g: number; b: number };
        [wanted.r, wanted.g, wanted.b].forEach((c, k) => {
          expect(Math.abs(seen[i + k]! - linearToSrgb(Math.min(1, Math.max(0, c))) * 255)).toBeLessThan(2.5);
        });
      }
    }
  });

  it('see greys as they are', () => {
    const grey = rowsOf(4, 4, (x, y) => [x * 60 + y, x * 60 + y, x * 60 + y]);
    for (const vision of COLOR_VISIONS)
      seenWith(vision, grey.rgba).forEach((v, i) =>
        expect(Math.abs(v - grey.rgba[i]!)).toBeLessThanOrEqual(1),
      );
  });
});

describe('values', () => {
  it('are counted as a direct count does', () => {
    const picture = noise(7);
    const counts = new Array<number>(20).fill(0);
    for (let i = 0; i < picture.rgba.length; i += 4) {
      const [r, g, b] = picture.rgba.subarray(i, i + 3);
      counts[Math.min(19, Math.floor(rgbToCielab({ r: r!, g: g!, b: b! }).L / 5))]!++;
    }
    valuesOf(labRows(picture.rgba)).forEach((share, k) => expect(share).toBeCloseTo(counts[k]! / 1200, 3));
  });

  it('fall into groups where they lie apart, and into one where they run through', () => {
    const three = rowsOf(60, 20, (x) => (x < 30 ? [40, 40, 40] : x < 50 ? [130, 130, 130] : [240, 240, 240]));
    const groups = valueGroups(labRows(three.rgba));
    expect(groups.map((g) => Math.round(g.share * 100))).toEqual([50, 33, 17]);
    const even = rowsOf(256, 4, (x) => [x, x, x]);
    expect(valueGroups(labRows(even.rgba)).length).toBeLessThanOrEqual(2);
  });

  it('of neighbours that merge only in the paint are named', () => {
    const partOf = Int32Array.from({ length: 100 * 100 }, (_, i) =>
      i % 100 < 40 ? 0 : i % 100 < 70 ? 1 : -1,
    );
    const wanted = new Map([
      [0, 50],
      [1, 62],
    ]);
    const near = new Map([
      [0, 50],
      [1, 52],
    ]);
    expect(mergingParts(partOf, 100, 100, wanted, near)).toEqual([{ parts: [0, 1], apart: 2, wanted: 12 }]);
    expect(mergingParts(partOf, 100, 100, near, near)).toEqual([]);
    expect(mergingParts(partOf, 100, 100, wanted, wanted)).toEqual([]);
  });
});

describe('evening out', () => {
  it('is a bell of the width that was asked for, and leaves out what isn’t there', () => {
    const plane = new Float32Array(81 * 81);
    plane[40 * 81 + 40] = 1;
    const out = blurred(plane, 81, 81, 5);
    let [whole, spread] = [0, 0];
    out.forEach((v, i) => {
      whole += v;
      spread += v * ((i % 81) - 40) ** 2;
    });
    expect(whole).toBeCloseTo(1, 3);
    expect(Math.sqrt(spread / whole)).toBeCloseTo(5, 0);
    const half = Float32Array.from({ length: 200 }, (_, i) => (i % 20 < 10 ? 4 : NaN));
    blurred(half, 20, 10, 3).forEach((v, i) =>
      i % 20 < 10 ? expect(v).toBeCloseTo(4, 4) : expect(v).toBeNaN(),
    );
  });
});

describe('nearest pixels', () => {
  it('are as near as those that trying all finds, within a tenth of a pixel', () => {
    const random = seededRandom(4);
    const marked = Uint8Array.from({ length: 40 * 30 }, () => (random() < 0.02 ? 1 : 0));
    const found = nearestTo(marked, 40, 30);
    const far = (i: number, j: number): number =>
      Math.hypot((i % 40) - (j % 40), Math.floor(i / 40) - Math.floor(j / 40));
    found.forEach((j, i) => {
      expect(marked[j]).toBe(1);
      let least = Infinity;
      marked.forEach((m, k) => (m ? (least = Math.min(least, far(i, k))) : 0));
      expect(far(i, j)).toBeLessThan(least + 0.3);
    });
  });
});

describe('pictures drawn a few pixels off', () => {
  const squares = (dx: number, dy: number) =>
    rowsOf(640, 640, (x, y) =>
      (Math.floor((x + dx) / 50) + Math.floor((y + dy) / 50)) % 2 ? [200, 90, 50] : [60, 110, 130],
    );

  it('differ in next to nothing once each block is moved to its own', () => {
    const [reference, painted] = [labRows(squares(0, 0).rgba), labRows(squares(3, -2).rgba)];
    const plain = differenceField(reference, painted, null);
    const aligned = alignedPixels(localShifts(reference, painted, 640, 640), reference, 640, 640);
    const moved = differenceField(reference, painted, aligned);
    const mean = (f: Float32Array): number => f.reduce((a, b) => a + b, 0) / f.length;
    expect(mean(plain)).toBeGreaterThan(3);
    expect(mean(moved)).toBeLessThan(mean(plain) / 8);
  });

  it('stay where they are in one flat colour, and another colour stays another', () => {
    const [reference, painted] = [
      labRows(rowsOf(200, 200, () => [200, 90, 50]).rgba),
      labRows(rowsOf(200, 200, () => [120, 60, 40]).rgba),
    ];
    expect(localShifts(reference, painted, 200, 200).shifts.every((s) => s === 0)).toBe(true);
    const lightness = differenceField(reference, painted, null, 'lightness');
    expect(lightness[0]).toBeLessThan(-10);
  });
});

describe('a reference’s mask', () => {
  const CREAM = [215, 200, 180];
  // A ring around ground: what it encloses is ground where no model covers it.
  const ring = rowsOf(200, 200, (x, y) => {
    const d = Math.hypot(x - 100, y - 100);
    return d < 70 && d > 35 ? [120, 60, 30] : CREAM;
  });

  it('leaves open what the figure encloses where the model is open, and only there', () => {
    const closed = maskFromGround(ring);
    expect(closed[100 * 200 + 100]).toBe(1);
    const open = withoutPockets(
      ring,
      closed,
      Uint8Array.from(closed, (m, i) =>
        i === 100 * 200 + 100 ? 0 : m && Math.hypot((i % 200) - 100, Math.floor(i / 200) - 100) > 35 ? 1 : 0,
      ),
    );
    expect(open[100 * 200 + 100]).toBe(0);
    expect(open[100 * 200 + 150]).toBe(1);
    expect(withoutPockets(ring, closed, closed)[100 * 200 + 100]).toBe(1);
  });

  it('holds a figure that the border cuts off', () => {
    const cut = rowsOf(200, 200, (x, y) =>
      x > 120 && y > 60 && y < 150 ? [60, 120, 120] : [150 - y / 8, 182, 190],
    );
    const mask = maskFromGround(cut);
    expect(mask[100 * 200 + 150]).toBe(1);
    expect(mask[100 * 200 + 199]).toBe(1);
    expect(mask[20 * 200 + 150]).toBe(0);
    expect(mask[190 * 200 + 20]).toBe(0);
  });

  it('is mended by strokes, in the picture’s own pixels, and cropped', () => {
    const match = {
      ...NO_MATCH,
      mask: [
        { adds: false, part: null, size: 40, points: [300, 200] },
        { adds: true, part: 'Hat', size: 20, points: [20, 20, 60, 20] },
      ],
      crop: { left: 0, top: 0, right: 1, bottom: 0.75 },
    };
    // Its file is twice as large.
    const told = pictureMask(ring, match, ['Body', 'Hat'], 0.5, null);
    expect(told.mask[100 * 200 + 150]).toBe(0);
    expect(told.mask[10 * 200 + 20]).toBe(1);
    expect(told.partMask[10 * 200 + 20]).toBe(1);
    expect(told.mask[160 * 200 + 100]).toBe(0);
    expect(told.within[160 * 200 + 100]).toBe(0);
    expect(told.problem).toBe('');
  });

  it('that no ground tells is all of the picture, and says why', () => {
    const told = pictureMask(noise(5), NO_MATCH, [], 1, null);
    expect(told.problem).toMatch(/no plain ground|stands out/);
    expect(told.mask.every((m) => m === 1)).toBe(true);
  });

  it('goes along when the picture is mirrored, and is as before when it is mirrored again', () => {
    const match = {
      ...NO_MATCH,
      pairs: [{ model: [0, 1, 0] as const, picture: [10, 20] as const }],
      mask: [{ adds: true, part: null, size: 5, points: [1, 2, 3, 4] }],
      crop: { left: 0.1, top: 0, right: 0.6, bottom: 1 },
    };
    const over = mirroredMatch(match, 100);
    expect(over).toMatchObject({
      mirror: true,
      camera: null,
      pairs: [{ picture: [90, 20] }],
      mask: [{ points: [99, 2, 97, 4] }],
      crop: { left: 0.4, right: 0.9 },
    });
    const back = mirroredMatch(over, 100);
    expect(back).toMatchObject({ mirror: false, pairs: match.pairs, mask: match.mask });
    expect(back.crop.right).toBeCloseTo(0.6, 12);
  });
});

const CAMERA: MatchCamera = {
  position: [0, 0, 8],
  target: [0, 0, 0],
  up: [0, 1, 0],
  fovY: 30,
  shift: [0, 0],
  width: 240,
  height: 240,
};

describe('outlines and lengths', () => {
  const two = together(ball(40, 20, 0.8, [0, 0.4, 0]), ball(40, 20, 0.35, [1.1, -0.6, 0]));
  const seen = seeModel(two, CAMERA);
  const outline = Uint8Array.from(seen.faces, (f) => (f >= 0 ? 1 : 0));

  it('that are the same have no places to name', () => {
    expect(outlinePlaces(two, seen, outline, 240, 240)).toEqual([]);
  });

  it('name the part that is too thick, and by how much of the height', () => {
    const smaller = together(ball(40, 20, 0.8, [0, 0.4, 0]), ball(40, 20, 0.25, [1.1, -0.6, 0]));
    const thin = Uint8Array.from(seeModel(smaller, CAMERA).faces, (f) => (f >= 0 ? 1 : 0));
    const [worst, ...rest] = outlinePlaces(two, seen, thin, 240, 240);
    const unit = 120 / Math.tan((15 * Math.PI) / 180) / 8;
    expect(worst).toMatchObject({ is: 'thick' });
    expect(worst!.percent).toBeCloseTo(((0.1 * unit) / 240) * 100, 0);
    expect(rest.every((p) => p.percent < worst!.percent)).toBe(true);
  });

  it('tell a length of the model that is a tenth too long', () => {
    const unit = 120 / Math.tan((15 * Math.PI) / 180) / 8;
    const [span] = compareSpans(
      [
        {
          name: 'Arm',
          model: [
            [-1.1, 0, 0],
            [1.1, 0, 0],
          ],
          picture: [
            [120 - unit, 50],
            [120 + unit, 50],
          ],
        },
      ],
      CAMERA,
    );
    expect(span!.percent).toBeCloseTo(10, 4);
  });
});

describe('how a picture is drawn', () => {
  it('crisp squares are crisp, and the same evened out are soft', () => {
    const crisp = rowsOf(240, 240, (x, y) => (((x >> 5) + (y >> 5)) % 2 ? [220, 220, 220] : [60, 60, 60]));
    const soft = rowsOf(240, 240, (x) => {
      const v = Math.round(140 + 80 * Math.tanh((Math.abs((x % 64) - 32) - 16) / 4));
      return [v, v, v];
    });
    expect(measureEdges(labRows(crisp.rgba), 240, 240).crisp).toBeGreaterThan(0.9);
    expect(measureEdges(labRows(soft.rgba), 240, 240).crisp).toBeLessThan(0.2);
  });

  it('lines have the width that they were drawn with; a flat picture has none', () => {
    const lined = rowsOf(240, 240, (x) => (x % 40 < 3 ? [30, 20, 30] : [200, 170, 140]));
    expect(measureEdges(labRows(lined.rgba), 240, 240).lineWidth).toBeCloseTo((3 / 240) * 100, 1);
    expect(
      measureEdges(labRows(rowsOf(240, 240, () => [200, 170, 140]).rgba), 240, 240).lineWidth,
    ).toBeNull();
  });

  it('a picture of one hue is dominated by it, a grey one by none', () => {
    const red = colorRange(labRows(rowsOf(50, 50, (x) => [200 - x, 60, 50]).rgba));
    expect(red.dominance).toBeGreaterThan(0.95);
    expect(red.dominant).toBeGreaterThan(10);
    expect(red.dominant).toBeLessThan(60);
    expect(colorRange(labRows(rowsOf(50, 50, (x) => [x, x, x]).rgba)).dominant).toBeNull();
  });
});

describe('both pictures simplified', () => {
  const picture = noise(11);

  it('in so many tones have no more values than that, all grey', () => {
    const out = simplified(picture, { as: 'tones', count: 4 });
    const values = new Set<number>();
    for (let i = 0; i < out.length; i += 4) {
      expect([out[i + 1], out[i + 2]]).toEqual([out[i], out[i]]);
      values.add(out[i]!);
    }
    expect(values.size).toBeLessThanOrEqual(4);
  });

  it('in so many colours have no more than that, of their own', () => {
    const out = simplified(picture, { as: 'palette', count: 6 });
    const colors = new Set(
      Array.from({ length: out.length / 4 }, (_, i) => out.subarray(i * 4, i * 4 + 3).join()),
    );
    expect(colors.size).toBeLessThanOrEqual(6);
  });

  it('keep what is transparent, and a flat colour as it is in big shapes', () => {
    const flat = rowsOf(60, 60, (x) => [180, 90, 40, x < 30 ? 255 : 0]);
    for (const how of [{ as: 'values' }, { as: 'shapes' }, { as: 'tones', count: 3 }] as const)
      expect(simplified(flat, how)[40 * 4 + 3]).toBe(0);
    const out = simplified(flat, { as: 'shapes' });
    [180, 90, 40].forEach((c, k) => expect(Math.abs(out[k]! - c)).toBeLessThanOrEqual(1));
  });

  it('of fewer pixels, and mirrored, are the means of what they stand for', () => {
    const half = comparedPicture(
      rowsOf(400, 200, (x) => (x < 200 ? [200, 0, 0] : [0, 0, 200])),
      true,
      100,
    );
    expect([half.width, half.height]).toEqual([100, 50]);
    expect([...half.rgba.subarray(0, 3)]).toEqual([0, 0, 200]);
    expect([...half.rgba.subarray(99 * 4, 99 * 4 + 3)]).toEqual([200, 0, 0]);
  });
});

describe('differences on the sheet', () => {
  it('are those of the pixel that shows a texel; what is hidden has none', () => {
    const wall = quads([
      {
        part: 'Near',
        corners: [
          [-1, -1, 0],
          [1, -1, 0],
          [1, 1, 0],
          [-1, 1, 0],
        ],
        place: [0, 0, 0.5, 1],
      },
      {
        part: 'Far',
        corners: [
          [-1, -1, -1],
          [1, -1, -1],
          [1, 1, -1],
          [-1, 1, -1],
        ],
        place: [0.5, 0, 1, 1],
      },
    ]);
    const seen = seeModel(wall, CAMERA);
    const pixels = pixelsOfSheet(wall, CAMERA, seen, 0, 64);
    const middle = pixels[32 * 64 + 16]!;
    expect(Math.hypot((middle % 240) - 120, Math.floor(middle / 240) - 120)).toBeLessThan(4);
    expect(pixels[32 * 64 + 48]).toBe(-1);
  });

  it('are as hot as they are large, and nothing where nothing is compared', () => {
    const heat = heatColors(Float32Array.from([0, 20, 400, NaN]));
    expect([...heat.subarray(0, 4)]).toEqual([0x1b, 0x2a, 0x4a, 255]);
    expect([...heat.subarray(4, 8)]).toEqual([...heat.subarray(8, 12)]);
    expect(heat[15]).toBe(0);
  });
});
