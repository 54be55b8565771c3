import {
  BufferAttribute,
  BufferGeometry,
  DataTexture,
  NearestFilter,
  RGBAFormat,
  UnsignedByteType,
} from 'three';
import type { Picture } from '../../../core/formats';
import type { Assigned } from '../../../core/ramps';

/** UVs on the ramp sheet are told from those on others by this much less u. */
export const RAMP_SHIFT = 256;

/** What of the model lies on the ramp sheet: its triangles with corners of their own, and the sheet's texels. */
export class RampLayout {
  readonly geometry = new BufferGeometry();
  texture: DataTexture | null = null;
  /** Numbers of the corners that are drawn, 3 a triangle. */
  private corners = new Uint32Array(0);
  private seatOf: Int32Array | null = null;

  get isEmpty(): boolean {
    return this.corners.length === 0;
  }

  /**
   * Takes another state of what lies on ramps.
   *
   * @param base geometry of the whole model, whose index is cut down to what lies on sheets
   * @param indices of the whole model
   */
  set(base: BufferGeometry, indices: Uint32Array, seated: Assigned | null, picture: Picture | null): void {
    this.setTexture(picture);
    if (!seated) {
      if (!this.isEmpty) base.setIndex(new BufferAttribute(indices, 1));
      this.corners = new Uint32Array(0);
      this.seatOf = null;
      return;
    }
    if (!this.hasSame(seated.seatOf)) this.part(base, indices, seated.seatOf);
    const uv = this.geometry.getAttribute('uv') as BufferAttribute | undefined;
    if (!uv) return;
    const places = uv.array as Float32Array;
    for (let i = 0; i < this.corners.length; i++) {
      const c = this.corners[i]!;
      places[i * 2] = seated.uvs[c * 2]!;
      places[i * 2 + 1] = seated.uvs[c * 2 + 1]!;
    }
    uv.needsUpdate = true;
  }

  private hasSame(seatOf: Int32Array): boolean {
    const { seatOf: known } = this;
    return known !== null && known.every((seat, f) => seat < 0 === seatOf[f]! < 0);
  }

  private part(base: BufferGeometry, indices: Uint32Array, seatOf: Int32Array): void {
    const own: number[] = [];
    const corners: number[] = [];
    seatOf.forEach((seat, f) => {
      for (let c = f * 3; c < f * 3 + 3; c++) {
        if (seat < 0) own.push(indices[c]!);
        else corners.push(c);
      }
    });
    this.seatOf = seatOf;
    this.corners = Uint32Array.from(corners);
    base.setIndex(new BufferAttribute(Uint32Array.from(own), 1));
    for (const name of ['position', 'normal', 'part', 'heat', 'chosen']) {
      const { itemSize } = base.getAttribute(name);
      this.geometry.setAttribute(
        name,
        new BufferAttribute(new Float32Array(corners.length * itemSize), itemSize),
      );
      this.follow(base, name, indices);
    }
    this.geometry.setAttribute('uv', new BufferAttribute(new Float32Array(corners.length * 2), 2));
    this.geometry.setDrawRange(0, corners.length);
  }

  /** An attribute of the whole model has changed. */
  follow(base: BufferGeometry, name: string, indices: Uint32Array): void {
    const from = base.getAttribute(name) as BufferAttribute;
    const to = this.geometry.getAttribute(name) as BufferAttribute | undefined;
    if (!to || this.isEmpty) return;
    const n = from.itemSize;
    this.corners.forEach((c, i) => {
      for (let k = 0; k < n; k++) to.array[i * n + k] = from.array[indices[c]! * n + k]!;
    });
    to.needsUpdate = true;
  }

  private setTexture(picture: Picture | null): void {
    this.texture?.dispose();
    this.texture = null;
    if (!picture) return;
    const { width, height, rgba } = picture;
    this.texture = new DataTexture(rgba, width, height, RGBAFormat, UnsignedByteType);
    this.texture.minFilter = this.texture.magFilter = NearestFilter;
    this.texture.needsUpdate = true;
  }

  dispose(): void {
    this.geometry.dispose();
    this.texture?.dispose();
  }
}
