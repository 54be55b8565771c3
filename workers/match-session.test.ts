import { describe, expect, it } from 'vitest';
import { ball } from '../tests/shapes';
import { NO_MATCH, projection, seeModel, seenColors, type MatchCamera } from '../core/match';
import type { Vec3 } from '../core/math';
import { TILE, TILE_BYTES } from '../core/surface';
import { MatchSession } from './match-session';

const SIZE = 128;
const mesh = ball(48, 24);
const CAMERA: MatchCamera = {
  position: [1.2, 0.8, 5],
  target: [0, 0, 0],
  up: [0, 1, 0],
  fovY: 32,
  shift: [0, 0],
  width: 160,
  height: 200,
};

const sheet = (r: number, g: number, b: number): Uint8Array => {
  const rgba = new Uint8Array(SIZE * SIZE * 4);
  for (let i = 0; i < rgba.length; i += 4) rgba.set([r, g, b, 255], i);
  return rgba;
};

/** The ball as an independent hand would have drawn it, on a plain ground. */
function reference() {
  const rgba = seenColors(mesh, seeModel(mesh, CAMERA), [
    { width: SIZE, height: SIZE, rgba: sheet(180, 90, 60) },
  ]);
  for (let i = 0; i < rgba.length; i += 4) if (rgba[i + 3] === 0) rgba.set([150, 180, 200, 255], i);
  return { width: CAMERA.width, height: CAMERA.height, rgba };
}

function sessionWith(paint: Uint8Array, camera: MatchCamera | null = CAMERA): MatchSession {
  const session = new MatchSession();
  session.setModel({ mesh, sizes: [SIZE], pictures: [paint] });
  session.setReference(reference(), { match: { ...NO_MATCH, camera }, regions: [] });
  return session;
}

describe('a reference beside the paint', () => {
  it('is near where the paint is its own, and far where it isn’t', () => {
    expect(sessionWith(sheet(180, 90, 60)).report().deltaE.mean).toBeLessThan(0.01);
    const { deltaE, advice } = sessionWith(sheet(110, 60, 50)).report();
    expect(deltaE.mean).toBeGreaterThan(10);
    expect(advice[0]).toMatchObject({
      area: 'Ball',
      apply: 'color',
      title: expect.stringMatching(/dark/) as string,
    });
  });

  it('tells what is asked for too early in a sentence', () => {
    const session = sessionWith(sheet(180, 90, 60), null);
    expect(() => session.report()).toThrow(/Where the reference was drawn from isn’t known/);
    expect(() => new MatchSession().report()).toThrow(/There is no reference/);
    const hidden = {
      ...NO_MATCH,
      camera: CAMERA,
      mask: [{ adds: false, part: null, size: 600, points: [80, 100] }],
    };
    session.setMatch({ match: hidden, regions: [] });
    expect(() => session.report()).toThrow(/mask holds nothing/);
  });

  it('differs after a stroke by just what a whole new look tells', () => {
    const session = sessionWith(sheet(180, 90, 60));
    const before = session.heat('all')!;
    expect(before.picture.some((v, i) => i % 4 === 3 && v > 0)).toBe(true);
    const pixels = new Uint8Array(TILE_BYTES);
    for (let i = 0; i < pixels.length; i += 4) pixels.set([20, 200, 90, 255], i);
    const patch = session.setTiles({ tiles: [1], subs: [15], pixels })!;
    expect(patch.tiles).toEqual([1]);
    const painted = sheet(180, 90, 60);
    for (let y = 0; y < TILE; y++)
      for (let x = 0; x < TILE; x++) painted.set([20, 200, 90, 255], (y * SIZE + x + TILE) * 4);
    // As if it had always been so; what lies where was told by the paint before the stroke.
    const anew = sessionWith(sheet(180, 90, 60));
    anew.heat('all');
    anew.setTiles({ tiles: [1], subs: [15], pixels });
    const whole = anew.heat('all')!;
    expect(patch.picture).toEqual(whole.picture);
    expect(patch.picture).not.toEqual(before.picture);
    expect(painted.length).toBe(SIZE * SIZE * 4);
  });

  it('compares what lies on a ramp sheet by its colours there, until it is taken off', () => {
    const session = sessionWith(sheet(10, 200, 90));
    const faces = mesh.indices.length / 3;
    const texel = { width: 1, height: 1, rgba: Uint8Array.of(180, 90, 60, 255) };
    const ramps = { seatOf: new Int32Array(faces), uvs: new Float32Array(faces * 6).fill(0.5), sheet: texel };
    expect(session.setRamps(ramps)).toBeNull();
    expect(session.report().deltaE.mean).toBeLessThan(0.01);
    session.heat('all');
    // Its own paint isn't seen, so nothing changes with it.
    const pixels = new Uint8Array(TILE_BYTES).fill(255);
    const before = session.heat('all')!.picture;
    expect(session.setTiles({ tiles: [0], subs: [15], pixels })!.picture).toEqual(before);
    expect(session.setRamps(null)!.picture).not.toEqual(before);
    expect(session.report().deltaE.mean).toBeGreaterThan(10);
  });

  it('tells what a free drawing bends, in the pixels that it compares, and of no other picture', () => {
    const drawn = { ...CAMERA, fovY: 0.5, position: [75, 50, 312.5] as Vec3 };
    const session = sessionWith(sheet(180, 90, 60));
    expect(session.report().bends).toEqual([]);
    session.setMatch({ match: { ...NO_MATCH, camera: { ...drawn, fovY: 0.55 }, how: 'drawn' }, regions: [] });
    const [bend] = session.report().bends;
    expect(bend).toMatchObject({ part: 'Ball' });
    expect(bend!.arrows.length).toBeGreaterThan(20);
  });

  it('finds its camera by silhouettes only where something tells the silhouette', () => {
    const blank = { width: 160, height: 200, rgba: new Uint8Array(160 * 200 * 4).fill(255) };
    const session = new MatchSession();
    session.setModel({ mesh, sizes: [SIZE], pictures: [sheet(180, 90, 60)] });
    const read = session.setReference(blank, { match: NO_MATCH, regions: [] });
    expect(read.problem).toMatch(/stands out/);
    expect(() => session.find({ how: 'perspective' }, () => undefined)).toThrow(/mask brush, or set pairs/);
  });

  it('gives the camera that pairs tell, in the pixels of its file', () => {
    const session = sessionWith(sheet(180, 90, 60), null);
    const places: Vec3[] = [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
      [-1, 0, 0],
      [0, -1, 0],
      [0.6, 0.8, 0],
    ];
    const see = projection(CAMERA);
    const pairs = places.map((model) => ({ model, picture: [see(model).x, see(model).y] as const }));
    const { camera, residuals } = session.fitPairs({
      pairs,
      how: 'perspective',
      lens: false,
      shifted: false,
    });
    expect(Math.max(...residuals)).toBeLessThan(1e-3);
    expect([camera.width, camera.height]).toEqual([160, 200]);
    expect(() =>
      session.fitPairs({ pairs: pairs.slice(0, 3), how: 'perspective', lens: false, shifted: false }),
    ).toThrow(/needs 4 pairs/);
  });

  it('gives a part’s colours and its ramp by the light', () => {
    const session = sessionWith(sheet(100, 60, 50));
    const [ball] = session.palettes({ parts: ['Ball'], count: 3 });
    expect(ball).toMatchObject({ part: 'Ball', palette: [{ hex: '#b45a3c' }] });
    const [ramp] = session.ramps([0, 1, 0]);
    expect(ramp!.ramp.stops.every((s) => s.color === '#b45a3c')).toBe(true);
  });

  it('looks both as they are and in few tones, with the outlines of both', () => {
    const session = sessionWith(sheet(180, 90, 60));
    const look = session.look({ as: 'tones', count: 3 });
    expect([look.width, look.height]).toEqual([160, 200]);
    expect(new Set(look.outlines)).toContain(3);
    const own = session.look({ as: 'colors' });
    const seen = seeModel(mesh, CAMERA);
    const middle = seen.faces.findIndex((f) => f >= 0);
    expect([...own.painted.subarray(middle * 4, middle * 4 + 3)]).toEqual([180, 90, 60]);
  });
});
