import {
  Euler,
  Matrix4,
  OrthographicCamera,
  PerspectiveCamera,
  Quaternion,
  Vector2,
  Vector3,
  type Camera,
} from 'three';
import { centreOf, diagonalOf, type Bounds } from '../../../core/mesh';
import type { CameraPose } from '../../../core/document';

/** Half the height of the sensor that focal lengths are told for, mm: a frame of 36 x 24. */
const HALF_SENSOR = 12;

/** Long enough that a head doesn't bulge, mm. */
const FOCAL = 48;

export type StandardView = 'front' | 'side' | 'top';

/** The camera as a person turns it, degrees. */
export interface CameraAngles {
  /** Around the upright axis; 0 looks from the front, 90 from the right. */
  readonly azimuth: number;
  /** Above the horizon. */
  readonly elevation: number;
  readonly roll: number;
}

const DEGREE = Math.PI / 180;

const TURNS: Record<StandardView, Quaternion> = {
  front: new Quaternion(),
  side: new Quaternion().setFromAxisAngle(new Vector3(0, 1, 0), Math.PI / 2),
  top: new Quaternion().setFromAxisAngle(new Vector3(1, 0, 0), -Math.PI / 2),
};

/**
 * Where the model is looked at from. Free roll: turning follows the pointer over a ball, so there is no up that it could get
 * stuck at. Screen positions are pixels in the pane, from its upper left.
 */
export class CameraRig {
  readonly target = new Vector3();
  readonly turn = new Quaternion();
  distance = 5;
  flat = false;
  focal = FOCAL;
  readonly shift = new Vector2();
  private width = 1;
  private height = 1;
  private size = 1;
  private readonly perspective = new PerspectiveCamera(28, 1, 0.01, 100);
  private readonly orthographic = new OrthographicCamera();

  /** Looks from where another one does. */
  copy(other: CameraRig): void {
    this.target.copy(other.target);
    this.turn.copy(other.turn);
    this.distance = other.distance;
    this.flat = other.flat;
    this.focal = other.focal;
    this.shift.copy(other.shift);
    this.size = other.size;
  }

  /** Tangent of half the vertical angle of view. */
  private get half(): number {
    return HALF_SENSOR / this.focal;
  }

  pose(): CameraPose {
    return {
      target: this.target.toArray(),
      turn: this.turn.toArray(),
      distance: this.distance,
      flat: this.flat,
      focal: this.focal,
      shift: [this.shift.x, this.shift.y],
    };
  }

  /** Goes to where a camera was kept. */
  take(pose: CameraPose): void {
    this.target.set(...pose.target);
    this.turn.set(...pose.turn).normalize();
    this.distance = pose.distance;
    this.flat = pose.flat;
    this.focal = pose.focal;
    this.shift.set(...pose.shift);
  }

  angles(): CameraAngles {
    const { x, y, z } = new Euler().setFromQuaternion(this.turn, 'YXZ');
    return { azimuth: y / DEGREE, elevation: -x / DEGREE, roll: z / DEGREE };
  }

  setAngles(angles: Partial<CameraAngles>): void {
    const { azimuth, elevation, roll } = { ...this.angles(), ...angles };
    this.turn.setFromEuler(new Euler(-elevation * DEGREE, azimuth * DEGREE, roll * DEGREE, 'YXZ'));
  }

  /** Of the pane, pixels. */
  get paneSize(): { readonly width: number; readonly height: number } {
    return { width: this.width, height: this.height };
  }

  /** Diagonal of what was framed last, model units. */
  get extent(): number {
    return this.size;
  }

  /** Another lens: the camera goes nearer or farther, so that what it looks at stays as large. */
  setFocal(focal: number): void {
    this.distance *= focal / this.focal;
    this.focal = focal;
  }

  /** Turns the picture on the spot. @param angle radians, clockwise on the screen */
  spin(angle: number): void {
    this.turn.multiply(new Quaternion().setFromAxisAngle(new Vector3(0, 0, 1), angle)).normalize();
  }

  resize(width: number, height: number): void {
    this.width = Math.max(1, width);
    this.height = Math.max(1, height);
  }

  /** Shows the whole of a box, from the present side. */
  frame(bounds: Bounds): void {
    this.target.set(...(centreOf(bounds) as [number, number, number]));
    this.size = Math.max(diagonalOf(bounds), 1e-6);
    const half = [0, 1, 2].map((a) => (bounds.max[a]! - bounds.min[a]!) / 2) as [number, number, number];
    const reach = (column: 0 | 1 | 2): number => {
      const axis = this.axis(column);
      return Math.abs(axis.x) * half[0] + Math.abs(axis.y) * half[1] + Math.abs(axis.z) * half[2];
    };
    const aspect = this.width / this.height;
    // The box's nearest side decides, with a little air around it.
    this.distance = (Math.max(reach(1), reach(0) / aspect) * 1.14) / this.half + reach(2) * 0.6;
  }

  /** Turns to a standard side, without perspective. */
  look(view: StandardView): void {
    this.turn.copy(TURNS[view]);
    this.flat = true;
  }

  /** Looks toward the model from a direction, upright. */
  lookFrom(direction: Vector3): void {
    const up = Math.abs(direction.y) > 0.98 ? new Vector3(0, 0, -1) : new Vector3(0, 1, 0);
    this.turn.setFromRotationMatrix(new Matrix4().lookAt(direction, new Vector3(), up));
    this.flat = false;
  }

  /** A pleasing three-quarter view, with perspective. */
  lookFree(yaw: number, pitch: number): void {
    this.turn
      .setFromAxisAngle(new Vector3(0, 1, 0), yaw)
      .multiply(new Quaternion().setFromAxisAngle(new Vector3(1, 0, 0), pitch));
    this.flat = false;
  }

  /** Turns as if the model's ball were dragged by the pointer. */
  roll(fromX: number, fromY: number, toX: number, toY: number): void {
    const a = this.onBall(fromX, fromY);
    const b = this.onBall(toX, toY);
    const step = new Quaternion().setFromUnitVectors(b, a);
    // Twice the ball's turn: half a pane's drag shows the back.
    this.turn.multiply(step).multiply(step).normalize();
    this.flat = false;
  }

  pan(dx: number, dy: number): void {
    const k = (2 * this.distance * this.half) / this.height;
    this.target.addScaledVector(this.axis(0), -dx * k).addScaledVector(this.axis(1), dy * k);
  }

  /** Comes nearer (factor below 1) or goes away, so that what is under the pointer stays there. */
  zoomAt(x: number, y: number, factor: number): void {
    const next = Math.min(this.size * 40, Math.max(this.size * 0.01, this.distance * factor));
    const k = (2 * this.half * (this.distance - next)) / this.height;
    this.target
      .addScaledVector(this.axis(0), (x - this.width / 2) * k)
      .addScaledVector(this.axis(1), (this.height / 2 - y) * k);
    this.distance = next;
  }

  /** Model units that one screen pixel spans at a point. */
  unitsPerPixel(point: Vector3): number {
    const depth = this.flat ? this.distance : point.clone().sub(this.eye()).dot(this.axis(2).negate());
    return (2 * this.half * Math.max(depth, 1e-6)) / this.height;
  }

  /** Model units of one screen pixel where a box is nearest to the eye. */
  leastUnitsPerPixel({ min, max }: Bounds): number {
    const corners = [0, 1, 2, 3, 4, 5, 6, 7].map(
      (k) =>
        new Vector3(...([0, 1, 2].map((i) => (k & (1 << i) ? max : min)[i]!) as [number, number, number])),
    );
    return Math.min(...corners.map((corner) => this.unitsPerPixel(corner)));
  }

  eye(): Vector3 {
    return this.axis(2).multiplyScalar(this.distance).add(this.target);
  }

  /** @param sample where in a pixel to look, pixels from its middle, in a picture of this size */
  camera(sample?: {
    readonly x: number;
    readonly y: number;
    readonly width: number;
    readonly height: number;
  }): Camera {
    const aspect = this.width / this.height;
    const near = Math.max(this.distance - this.size * 1.5, this.distance * 0.02);
    const far = this.distance + this.size * 3;
    const camera = this.flat ? this.orthographic : this.perspective;
    const size = sample ?? { x: 0, y: 0, width: this.width, height: this.height };
    // A shift to the right shows what lies further left.
    const x = size.x - this.shift.x * size.height;
    const y = -size.y + this.shift.y * size.height;
    if (x !== 0 || y !== 0) camera.setViewOffset(size.width, size.height, x, y, size.width, size.height);
    else camera.clearViewOffset();
    if (this.flat) {
      const h = this.distance * this.half;
      Object.assign(this.orthographic, { left: -h * aspect, right: h * aspect, top: h, bottom: -h });
      this.orthographic.near = -this.size * 3;
      this.orthographic.far = far;
      this.orthographic.updateProjectionMatrix();
    } else {
      this.perspective.fov = (2 * Math.atan(this.half)) / DEGREE;
      this.perspective.aspect = aspect;
      this.perspective.near = near;
      this.perspective.far = far;
      this.perspective.updateProjectionMatrix();
    }
    camera.position.copy(this.eye());
    camera.quaternion.copy(this.turn);
    camera.updateMatrixWorld(true);
    return camera;
  }

  /** The ray under a screen position. */
  ray(x: number, y: number): { origin: Vector3; direction: Vector3 } {
    const nx = (x / this.width) * 2 - 1;
    const ny = 1 - (y / this.height) * 2;
    const camera = this.camera();
    const inverse = new Matrix4()
      .multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse)
      .invert();
    const near = new Vector3(nx, ny, -1).applyMatrix4(inverse);
    const far = new Vector3(nx, ny, 1).applyMatrix4(inverse);
    return { origin: near, direction: far.sub(near).normalize() };
  }

  /** Screen position of a point. */
  project(point: Vector3): { x: number; y: number } {
    const p = point.clone().project(this.camera());
    return { x: ((p.x + 1) / 2) * this.width, y: ((1 - p.y) / 2) * this.height };
  }

  /** Direction in the model of right, up or toward the eye on the screen. */
  axis(column: 0 | 1 | 2): Vector3 {
    return new Vector3(column === 0 ? 1 : 0, column === 1 ? 1 : 0, column === 2 ? 1 : 0).applyQuaternion(
      this.turn,
    );
  }

  /** A point of the pane on a ball that fills it; outside the ball, on its skirt (Shoemake's arcball with Bell's skirt). */
  private onBall(x: number, y: number): Vector3 {
    const r = Math.min(this.width, this.height) / 2;
    const px = (x - this.width / 2) / r;
    const py = (this.height / 2 - y) / r;
    const d2 = px * px + py * py;
    const z = d2 < 0.5 ? Math.sqrt(1 - d2) : 0.5 / Math.sqrt(d2);
    return new Vector3(px, py, z).normalize();
  }
}
