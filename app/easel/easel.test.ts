import { describe, expect, it } from 'vitest';
import { freePlace, type Reference } from '../../core/document';
import {
  cornersOf,
  cropped,
  fitPictures,
  halfTurns,
  pictureAt,
  pixelAt,
  toBoard,
  turnedAndScaled,
  zoomedAt,
} from './board-geometry';
import { groupsOf, sortSwatches } from './sort-swatches';

const picture = (id: number, patch: Partial<Reference['board']> = {}): Reference => {
  const size = { width: 400, height: 200 };
  return { id, name: `P${id}`, note: '', match: null, ...size, board: { ...freePlace([], size), ...patch } };
};

describe('the board', () => {
  it('fits a picture into the view, and a wheel keeps what is under the pointer', () => {
    const view = fitPictures([picture(1)], { width: 200, height: 300 });
    // 2000 x 1000 units of the board into a width of 200.
    expect(view).toEqual({ zoom: 0.1, x: 100, y: 150 });
    const at = { x: 30, y: 40 };
    const nearer = zoomedAt(view, at, 3);
    expect(toBoard(nearer, at).x).toBeCloseTo(toBoard(view, at).x, 9);
    expect(toBoard(nearer, at).y).toBeCloseTo(toBoard(view, at).y, 9);
    expect(nearer.zoom).toBeCloseTo(0.3);
  });

  it('finds the pixel under a point, however the picture is turned, mirrored and cropped', () => {
    // Two ways around: a corner's place on the board leads back to the corner's pixel.
    for (const board of [
      {},
      { turn: 0.7 },
      { mirror: true },
      { turn: -2, mirror: true, x: 50, y: -20, scale: 3 },
    ]) {
      const p = picture(1, board);
      const [a, b, c, d] = cornersOf(p) as [never, never, never, never];
      const inward = (from: { x: number; y: number }, to: { x: number; y: number }) => ({
        x: from.x + (to.x - from.x) * 0.001,
        y: from.y + (to.y - from.y) * 0.001,
      });
      expect(pixelAt(p, inward(a, c))).toEqual({ x: 0, y: 0 });
      expect(pixelAt(p, inward(b, d))).toEqual({ x: 399, y: 0 });
      expect(pixelAt(p, inward(c, a))).toEqual({ x: 399, y: 199 });
    }
    const half = picture(1, { crop: { left: 0.5, top: 0, right: 1, bottom: 1 } });
    expect(pixelAt(half, { x: half.board.x - 10, y: 0 })).toBeNull();
    expect(pixelAt(half, { x: half.board.x + 10, y: 0 })).not.toBeNull();
  });

  it('picks from the picture that lies on top', () => {
    const pictures = [picture(1), picture(2), picture(3, { x: 5000 })];
    expect(pictureAt(pictures, { x: 0, y: 0 })?.id).toBe(2);
    expect(pictureAt(pictures, { x: 5000, y: 0 })?.id).toBe(3);
    expect(pictureAt(pictures, { x: 0, y: 3000 })).toBeUndefined();
  });

  it('turns and scales a picture about its middle, with Shift by 15 degrees', () => {
    const { board } = picture(1);
    const turned = turnedAndScaled(board, { x: 100, y: 0 }, { x: 0, y: 200 }, false);
    expect(turned.turn).toBeCloseTo(Math.PI / 2);
    expect(turned.scale).toBeCloseTo(board.scale * 2);
    const stepped = turnedAndScaled(board, { x: 100, y: 0 }, { x: 100, y: 24 }, true);
    expect(stepped.turn).toBeCloseTo(Math.PI / 12);
  });
});

describe('a crop by steps', () => {
  const whole = { left: 0, top: 0, right: 1, bottom: 1 };

  it('takes away at one side and gives back no more than there is', () => {
    expect(cropped(whole, 'left', 0.1)).toEqual({ ...whole, left: 0.1 });
    expect(cropped(whole, 'bottom', 0.25)).toEqual({ ...whole, bottom: 0.75 });
    expect(cropped({ ...whole, right: 0.8 }, 'right', -0.5)).toEqual(whole);
  });

  it('always leaves something of the picture', () => {
    for (const side of ['left', 'top', 'right', 'bottom'] as const) {
      const { left, top, right, bottom } = cropped(whole, side, 5);
      expect(right - left).toBeGreaterThan(0.01);
      expect(bottom - top).toBeGreaterThan(0.01);
    }
  });

  it('turns a picture four times by 90° to where it was', () => {
    let turn = 0;
    for (let i = 0; i < 4; i++) {
      turn = halfTurns(turn + Math.PI / 2);
      expect(Math.abs(turn)).toBeLessThanOrEqual(Math.PI + 1e-12);
    }
    expect(turn).toBeCloseTo(0);
  });
});

describe('swatches', () => {
  const palette = [
    { id: 1, name: 'Night', color: '#1a1626', group: '' },
    { id: 2, name: 'Scarf', color: '#cf5a2e', group: 'Clothes' },
    { id: 3, name: 'Chalk', color: '#f3f0ea', group: '' },
    { id: 4, name: 'Apron', color: '#2f7475', group: 'Clothes' },
  ];

  it('stand in their groups, those without one first', () => {
    expect(groupsOf(palette).map(({ name, swatches }) => [name, swatches.map((s) => s.id)])).toEqual([
      ['', [1, 3]],
      ['Clothes', [2, 4]],
    ]);
  });

  it('are sorted within their groups by lightness, hue and name', () => {
    expect(sortSwatches(palette, 'lightness')).toEqual([3, 1, 2, 4]);
    // Orange lies before teal on the hue circle; near-greys have no hue and stand first.
    expect(sortSwatches(palette, 'hue').slice(-2)).toEqual([2, 4]);
    expect(sortSwatches(palette, 'name')).toEqual([3, 1, 4, 2]);
  });
});
