import { Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { putOnSheet } from '../../../core/mesh';
import { plate } from '../../../tests/shapes';
import { besidePane, nextPanes, onlyPane, paneRect, swapPanes, type Panes } from '../../shared/panes';
import { CameraRig } from './camera-rig';
import { Picker } from './picker';
import { hasSameForm } from './same-form';

const rigged = (): CameraRig => {
  const rig = new CameraRig();
  rig.resize(800, 600);
  rig.frame({ min: [-1, -1, -1], max: [1, 1, 1] });
  return rig;
};

describe('the camera in figures', () => {
  it('looks from where azimuth, elevation and roll say', () => {
    const rig = rigged();
    rig.setAngles({ azimuth: 90, elevation: 0, roll: 0 });
    // From the right: the eye lies on +x.
    const eye = rig.eye().sub(rig.target).normalize();
    expect(eye.toArray().map((x) => Math.round(x * 1000) / 1000 + 0)).toEqual([1, 0, 0]);
    rig.setAngles({ azimuth: 30, elevation: 20, roll: -15 });
    const { azimuth, elevation, roll } = rig.angles();
    expect([azimuth, elevation, roll].map((x) => Math.round(x * 1000) / 1000)).toEqual([30, 20, -15]);
    expect(rig.eye().y).toBeGreaterThan(0);
  });

  it('another lens keeps what it looks at as large (thin lens: size goes as focal length over distance)', () => {
    const rig = rigged();
    const before = rig.project(new Vector3(0, 0.5, 0)).y;
    const { distance } = rig;
    rig.setFocal(96);
    expect(rig.distance).toBeCloseTo(distance * 2);
    expect(rig.project(new Vector3(0, 0.5, 0)).y).toBeCloseTo(before, 3);
    // 96 mm over 24 mm of sensor: twice the arctangent of an eighth.
    rig.setFocal(24);
    const tall = rig.unitsPerPixel(rig.target) * 600;
    expect(2 * Math.atan(tall / 2 / rig.distance)).toBeCloseTo(2 * Math.atan(12 / 24), 6);
  });

  it('a shift moves the picture and nothing else', () => {
    const rig = rigged();
    const plain = rig.project(new Vector3(0.3, 0.2, 0));
    rig.shift.set(0.1, -0.05);
    const shifted = rig.project(new Vector3(0.3, 0.2, 0));
    expect(shifted.x - plain.x).toBeCloseTo(60, 6);
    expect(shifted.y - plain.y).toBeCloseTo(30, 6);
    // What is drawn there is found there.
    const { origin, direction } = rig.ray(shifted.x, shifted.y);
    const t = new Vector3(0.3, 0.2, 0).sub(origin).dot(direction);
    expect(
      origin
        .clone()
        .addScaledVector(direction, t)
        .distanceTo(new Vector3(0.3, 0.2, 0)),
    ).toBeLessThan(1e-6);
  });

  it('is kept and come back to', () => {
    const rig = rigged();
    rig.roll(100, 100, 300, 240);
    rig.pan(20, 30);
    rig.shift.set(0.1, 0);
    const pose = JSON.parse(JSON.stringify(rig.pose())) as ReturnType<CameraRig['pose']>;
    const at = rig.project(new Vector3(0.5, 0.5, 0.5));
    const other = rigged();
    other.take(pose);
    expect(other.project(new Vector3(0.5, 0.5, 0.5)).x).toBeCloseTo(at.x, 6);
    expect(other.project(new Vector3(0.5, 0.5, 0.5)).y).toBeCloseTo(at.y, 6);
  });

  it('spins clockwise on the spot', () => {
    const rig = rigged();
    const before = rig.project(new Vector3(0, 0.5, 0));
    rig.spin(Math.PI / 2);
    const after = rig.project(new Vector3(0, 0.5, 0));
    expect(before.y).toBeLessThan(300);
    expect(after.x).toBeGreaterThan(400);
    expect(after.y).toBeCloseTo(300, 3);
  });
});

describe('panes', () => {
  const both: Panes = { left: 'model', right: 'sheet', split: 0.6 };

  it('stand beside one another, are swapped, and take the whole middle', () => {
    expect(onlyPane(both, 'reference')).toMatchObject({ left: 'reference', right: null });
    expect(besidePane(both, 'reference')).toMatchObject({ left: 'model', right: 'reference' });
    expect(besidePane(both, 'sheet')).toMatchObject({ left: 'model', right: null });
    expect(besidePane(both, 'model')).toBe(both);
    expect(swapPanes(both)).toEqual({ left: 'sheet', right: 'model', split: 0.4 });
    expect(nextPanes(both)).toMatchObject({ left: 'sheet', right: null });
    expect(nextPanes(nextPanes(both))).toMatchObject({ left: 'model', right: null });
    expect(nextPanes(nextPanes(nextPanes(both)))).toMatchObject({ left: 'model', right: 'sheet' });
  });

  it('share the width by the split', () => {
    expect(paneRect(both, 'model', 1000, 500)).toEqual({ x: 0, y: 0, width: 600, height: 500 });
    expect(paneRect(both, 'sheet', 1000, 500)).toEqual({ x: 600, y: 0, width: 400, height: 500 });
    expect(paneRect(both, 'reference', 1000, 500)).toBeNull();
  });
});

describe('another layout of the same triangles', () => {
  const mesh = plate(0.2, 'Under');
  const moved = { ...mesh, uvs: mesh.uvs.map((x) => x * 0.5) };

  it('is told from another model', () => {
    expect(hasSameForm(mesh, { ...moved, positions: mesh.positions.slice() })).toBe(true);
    expect(hasSameForm(mesh, { ...mesh, positions: mesh.positions.map((x) => x + 1) })).toBe(false);
    expect(hasSameForm(mesh, putOnSheet(mesh, [1], 1))).toBe(false);
  });

  it('is picked from at once, with the tree of the model kept', () => {
    const picker = new Picker(mesh);
    const before = picker.cast(new Vector3(0.2, 5, 0.2), new Vector3(0, -1, 0), new Set())!;
    expect(picker.atSheet(0, before.u, before.v)?.face).toBe(before.face);
    picker.setLayout(moved);
    const after = picker.cast(new Vector3(0.2, 5, 0.2), new Vector3(0, -1, 0), new Set())!;
    expect(after.face).toBe(before.face);
    expect(after.u).toBeCloseTo(before.u * 0.5, 6);
    expect(picker.atSheet(0, after.u, after.v)?.face).toBe(before.face);
  });
});
