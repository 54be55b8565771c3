import { Vector3, type Vector2 } from 'three';
import {
  type Bounds,
  boundsOf,
  diagonalOf,
  subjectBounds,
  partBounds,
  type UvMesh,
} from '../../../core/mesh';
import type { CameraPose } from '../../../core/document';
import { CameraRig, type StandardView } from './camera-rig';

/** The jumps of a camera: to the whole model, a part, some triangles, a side, and back. */
export class StageCamera {
  readonly rig = new CameraRig();
  private readonly mesh: UvMesh;
  private readonly onJump: () => void;
  /** The part that fills the pane, null for all of the model, undefined once the camera was moved by hand. */
  private framed: number | null | undefined = null;
  /** The pose of a picture that is looked through, for the pane as it is; null: none is. */
  private through: (() => CameraPose) | null = null;
  /** The lens from before a picture was looked through. */
  private lens: { readonly focal: number; readonly shift: Vector2 } | null = null;
  private before: CameraPose | null = null;

  constructor(mesh: UvMesh, onJump: () => void) {
    this.mesh = mesh;
    this.onJump = onJump;
  }

  takeOver(previous: StageCamera): void {
    this.rig.copy(previous.rig);
    this.framed = previous.framed === undefined ? undefined : null;
    this.before = previous.before;
  }

  movedByHand(): void {
    this.framed = undefined;
    this.through = null;
  }

  /** The pane has a size: what was asked for before is looked at, else the whole model. */
  begin(): void {
    const { through } = this;
    this.home();
    if (through) this.lookThrough(through);
  }

  /** A pleasing view of the whole model. */
  home(): void {
    this.leave();
    this.rig.lookFree(0.35, -0.1);
    this.framePart(null);
  }

  /** Shows the whole model, or one part. */
  frame(part: number | null): void {
    this.leave();
    this.framePart(part);
  }

  /** What was framed stays framed, until the artist moves the camera. */
  frameAgain(): void {
    if (this.through) this.take(this.through);
    else if (this.framed !== undefined) this.framePart(this.framed);
  }

  private framePart(part: number | null): void {
    this.rig.frame(part === null ? subjectBounds(this.mesh) : partBounds(this.mesh, part));
    this.framed = part;
    this.onJump();
  }

  /** Flies to some triangles: they face the eye, with some room around them. */
  frameFaces(faces: ReadonlySet<number>): void {
    const { indices, positions, normals } = this.mesh;
    const points: number[] = [];
    const toward = new Vector3();
    for (const f of faces) {
      for (let k = 0; k < 3; k++) {
        const v = indices[f * 3 + k]! * 3;
        points.push(positions[v]!, positions[v + 1]!, positions[v + 2]!);
        toward.add(new Vector3(normals[v]!, normals[v + 1]!, normals[v + 2]!));
      }
    }
    if (points.length === 0) return;
    this.leave();
    if (toward.length() > faces.size * 0.6) this.rig.lookFrom(toward.normalize());
    const box = boundsOf(points);
    const whole = boundsOf(positions);
    // Not nearer than a twelfth of the model, so that what is around can be told.
    const least = diagonalOf(whole) / 24;
    const grown = [0, 1, 2].map((a) => Math.max(least, ((box.max[a]! - box.min[a]!) / 2) * 1.5));
    const middle = [0, 1, 2].map((a) => (box.max[a]! + box.min[a]!) / 2);
    const side = (s: number) => middle.map((m, a) => m + s * grown[a]!) as unknown as Bounds['min'];
    this.rig.frame({ min: side(-1), max: side(1) });
    this.framed = undefined;
    this.onJump();
  }

  look(view: StandardView | 'free'): void {
    this.leave();
    if (view === 'free') this.rig.lookFree(0.35, -0.1);
    else this.rig.look(view);
    this.onJump();
  }

  /** Goes to a camera that was kept. */
  goTo(pose: CameraPose): void {
    this.leave();
    this.rig.take(pose);
    this.framed = undefined;
    this.onJump();
  }

  /** Looks through a picture's camera, and goes on doing so when the pane's size changes. */
  lookThrough(pose: () => CameraPose): void {
    if (!this.through) {
      this.leave();
      this.lens = { focal: this.rig.focal, shift: this.rig.shift.clone() };
    }
    this.take(pose);
  }

  /** Whether a picture's camera is looked through. */
  get isThrough(): boolean {
    return this.through !== null;
  }

  private take(pose: () => CameraPose): void {
    this.rig.take(pose());
    this.framed = undefined;
    this.through = pose;
    this.onJump();
  }

  /** Goes to where the last jump began. */
  goBack(): void {
    if (this.before) this.goTo(this.before);
  }

  /** A jump begins here. */
  private leave(): void {
    if (this.through && this.lens) {
      // A picture's lens is its own.
      this.rig.focal = this.lens.focal;
      this.rig.shift.copy(this.lens.shift);
    } else this.before = this.rig.pose();
    this.through = null;
  }
}
