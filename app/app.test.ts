import { Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { averageColor } from './easel/average-color';
import { fileNameOf } from './shared/files';
import { SheetCopy } from './project/sheet-copy';
import { CameraRig } from './viewport/view/camera-rig';
import { Picker } from './viewport/view/picker';
import { measureSurface, sheetSpans } from '../core/surface';
import { putOnSheet } from '../core/mesh';
import { plate, seamedFloor } from '../tests/shapes';
import { wholeIslands, wholeComponents } from './shared/layout-store';

describe('a colour picked from the reference', () => {
  const picture = { width: 3, height: 1, data: [10, 20, 30, 255, 20, 40, 60, 255, 90, 90, 90, 0] };
  it('is the mean of the pixels around, without transparent ones', () => {
    expect(averageColor(picture, 1, 0, 1)).toEqual({ r: 20, g: 40, b: 60 });
    expect(averageColor(picture, 1, 0, 5)).toEqual({ r: 15, g: 30, b: 45 });
    expect(averageColor(picture, 3, 0, 5)).toBeNull();
    expect(averageColor(picture, 2, 0, 1)).toBeNull();
  });
});

describe('file names', () => {
  it('are what every system takes', () => {
    expect(fileNameOf('Otter cook')).toBe('otter-cook');
    expect(fileNameOf('  ../Ñandú: 2/3  ')).toBe('ñandú-2-3');
    expect(fileNameOf('???')).toBe('project');
  });
});

describe('the sheet on the main thread', () => {
  it('puts tiles where they belong and looks colours up as the screen does', () => {
    const sheet = new SheetCopy(sheetSpans([128]));
    const pixels = new Uint8Array(64 * 64 * 4);
    pixels.set([1, 2, 3, 255], (10 * 64 + 5) * 4);
    sheet.take({ tiles: [3], subs: [15], pixels, left: 0 });
    const u = (64 + 5 + 0.5) / 128;
    const v = 1 - (64 + 10 + 0.5) / 128;
    expect(sheet.colorAt(0, u, v)).toEqual({ r: 1, g: 2, b: 3 });
    expect(sheet.colorAt(0, u - 2, v + 5)).toEqual({ r: 1, g: 2, b: 3 });
    expect(sheet.colorAt(0, 0.1, 0.1)).toBeNull();
  });
});

describe('several sheets on the main thread', () => {
  const both = putOnSheet(plate(0.2, 'Under'), [1], 1);
  const surface = measureSurface(both, [64, 128]);

  it('take tiles by their number over all of them', () => {
    const copy = new SheetCopy(surface.sheets);
    const pixels = new Uint8Array(64 * 64 * 4 * 2);
    pixels.set([9, 8, 7, 255], 0);
    pixels.set([1, 2, 3, 255], 64 * 64 * 4);
    // The only tile of the first sheet, and the last of the second.
    copy.take({ tiles: [0, 4], subs: [1, 15], pixels, left: 0 });
    expect(copy.colorAt(0, 0.5 / 64, 1 - 0.5 / 64)).toEqual({ r: 9, g: 8, b: 7 });
    expect(copy.colorAt(1, 64.5 / 128, 1 - 64.5 / 128)).toEqual({ r: 1, g: 2, b: 3 });
    expect(copy.colorAt(1, 0.5 / 64, 1 - 0.5 / 64)).toBeNull();
  });

  it('are picked each by itself, with the numbers of the whole model', () => {
    const picker = new Picker(both);
    // The top lies on the first sheet only, the underside on the second only.
    expect(picker.atSheet(0, 0.25, 0.25)).toMatchObject({ part: 0, sheet: 0 });
    expect(picker.atSheet(0, 0.75, 0.75)).toBeNull();
    const under = picker.atSheet(1, 0.75, 0.75)!;
    expect(under).toMatchObject({ part: 1, sheet: 1 });
    expect(both.faceParts[under.face]).toBe(1);
    expect(under.point.y).toBeCloseTo(-0.2, 6);
    expect(picker.atSheet(2, 0.5, 0.5)).toBeNull();
  });
});

describe('whole islands and shells', () => {
  it('grow from a triangle to its island, and on to all that hangs together', () => {
    const mesh = seamedFloor();
    expect([...wholeIslands(mesh, [0])].sort()).toEqual([0, 1]);
    expect([...wholeComponents(mesh, [0])].sort()).toEqual([0, 1, 2, 3]);
    // Top and underside of a plate touch nowhere.
    expect([...wholeComponents(plate(0.2), [0])].sort()).toEqual([0, 1]);
  });
});

describe('the camera', () => {
  const rig = (): CameraRig => {
    const r = new CameraRig();
    r.resize(800, 600);
    r.frame({ min: [-1, -1, -1], max: [1, 1, 1] });
    return r;
  };

  it.each([true, false])('keeps what is under the pointer there while it comes nearer (flat: %s)', (flat) => {
    const r = rig();
    if (flat) r.look('front');
    const at = { x: 550, y: 180 };
    const ray = r.ray(at.x, at.y);
    // The point where the ray crosses the plane through the target that faces the camera.
    const n = r.eye().sub(r.target).normalize();
    const t = r.target.clone().sub(ray.origin).dot(n) / ray.direction.dot(n);
    const point = ray.origin.clone().addScaledVector(ray.direction, t);
    r.zoomAt(at.x, at.y, 0.5);
    const now = r.project(point);
    expect(now.x).toBeCloseTo(at.x, 3);
    expect(now.y).toBeCloseTo(at.y, 3);
  });

  it('shows all of a framed box from every standard side', () => {
    for (const view of ['front', 'side', 'top'] as const) {
      const r = rig();
      r.look(view);
      r.frame({ min: [-1, -2, -3], max: [1, 2, 3] });
      for (const x of [-1, 1])
        for (const y of [-2, 2])
          for (const z of [-3, 3]) {
            const p = r.project(new Vector3(x, y, z));
            expect(p.x).toBeGreaterThan(0);
            expect(p.x).toBeLessThan(800);
            expect(p.y).toBeGreaterThan(0);
            expect(p.y).toBeLessThan(600);
          }
    }
  });

  it('rolls freely: a turn and the same turn back end where they began', () => {
    const r = rig();
    const before = r.turn.clone();
    r.roll(200, 300, 500, 120);
    expect(Math.abs(r.turn.dot(before))).toBeLessThan(0.95);
    r.roll(500, 120, 200, 300);
    expect(Math.abs(r.turn.dot(before))).toBeCloseTo(1, 4);
  });

  it('a pixel spans as much as two projected points say', () => {
    const r = rig();
    const u = r.unitsPerPixel(r.target);
    const a = r.project(r.target);
    const b = r.project(r.target.clone().add(new Vector3(u * 100, 0, 0)));
    expect(Math.hypot(b.x - a.x, b.y - a.y)).toBeCloseTo(100, 0);
  });
});

describe('picking', () => {
  const picker = new Picker(plate(0.1, 'Under'));
  const down = new Vector3(0, -1, 0);

  it('finds the nearer side, and through a hidden part the other', () => {
    const above = new Vector3(0.2, 3, 0.3);
    expect(picker.cast(above, down, new Set())!.part).toBe(0);
    const through = picker.cast(above, down, new Set([0]))!;
    expect(through.part).toBe(1);
    expect(through.point.y).toBeCloseTo(-0.1, 6);
    expect(picker.cast(new Vector3(9, 3, 0), down, new Set())).toBeNull();
  });

  it('finds the same place on the sheet', () => {
    const solid = picker.cast(new Vector3(0.2, 3, 0.3), down, new Set())!;
    const flat = picker.atSheet(0, solid.u, solid.v)!;
    expect(flat.face).toBe(solid.face);
    expect(flat.point.distanceTo(solid.point)).toBeLessThan(1e-5);
    expect(picker.atSheet(0, 0.99, 0.01)).toBeNull();
  });
});
