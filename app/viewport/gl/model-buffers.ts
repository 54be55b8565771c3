import {
  DataTexture,
  RGFormat,
  UnsignedByteType,
  type BufferAttribute,
  type BufferGeometry,
  type WebGLRenderer,
} from 'three';
import { formParts, sheetOfPart, type UvMesh } from '../../../core/mesh';
import type { Picture } from '../../../core/formats';
import type { Assigned } from '../../../core/ramps';
import { modelGeometry } from './model-geometry';
import { RampLayout } from './ramp-layout';

/** What the passes know of the model: its vertices, and a pixel a part. */
export class ModelBuffers {
  readonly geometry: BufferGeometry;
  /** Red: whether the part is hidden. Green: its sheet. */
  readonly parts: DataTexture;
  readonly partCount: number;
  /** Parts from this number on are backdrops. */
  readonly firstBackdrop: number;
  /** What lies on the ramp sheet; the geometry has the rest. */
  readonly ramps = new RampLayout();
  private readonly indices: Uint32Array;
  someChosen = false;
  showsHeat = false;

  constructor(mesh: UvMesh) {
    this.geometry = modelGeometry(mesh);
    this.indices = mesh.indices;
    this.partCount = mesh.parts.length;
    this.firstBackdrop = formParts(mesh);
    this.parts = new DataTexture(
      Uint8Array.from(mesh.parts.flatMap((_, p) => [0, sheetOfPart(mesh, p)])),
      mesh.parts.length,
      1,
      RGFormat,
      UnsignedByteType,
    );
    this.parts.unpackAlignment = 1;
    this.parts.needsUpdate = true;
  }

  setHidden(hidden: ReadonlySet<number>): void {
    const data = this.parts.image.data as Uint8Array;
    for (let part = 0; part * 2 < data.length; part++) data[part * 2] = hidden.has(part) ? 255 : 0;
    this.parts.needsUpdate = true;
  }

  /** @param heat a value a vertex, 0..1; null for none */
  setHeat(heat: Float32Array | null): void {
    this.fill('heat', heat);
    this.showsHeat = heat !== null;
  }

  /** @param chosen 1 for each vertex that is to be lit up; null for none */
  setChosen(chosen: Float32Array | null): void {
    this.fill('chosen', chosen);
    this.someChosen = chosen !== null;
  }

  /** Another layout of the same triangles: nothing else is made anew. */
  setUvs(uvs: Float32Array): void {
    this.fill('uv', uvs);
  }

  /** The model in another pose. @param positions xyz a vertex */
  setPositions(positions: Float32Array): void {
    this.fill('position', positions);
  }

  /** Other normals than the model's own, which light falls on. @param normals unit xyz a vertex */
  setNormals(normals: Float32Array): void {
    this.fill('normal', normals);
  }

  private fill(name: 'heat' | 'chosen' | 'uv' | 'normal' | 'position', values: Float32Array | null): void {
    const attribute = this.geometry.getAttribute(name) as BufferAttribute;
    if (values) attribute.array.set(values);
    else attribute.array.fill(0);
    attribute.needsUpdate = true;
    if (name !== 'uv') this.ramps.follow(this.geometry, name, this.indices);
  }

  /** What lies on the ramp sheet, and its texels; null for nothing. */
  setRamps(seated: Assigned | null, picture: Picture | null): void {
    this.ramps.set(this.geometry, this.indices, seated, picture);
  }

  /** Copies what has changed to the GPU before any pass reads it. */
  ready(renderer: WebGLRenderer): void {
    renderer.initTexture(this.parts);
  }

  dispose(): void {
    this.geometry.dispose();
    this.ramps.dispose();
    this.parts.dispose();
  }
}
