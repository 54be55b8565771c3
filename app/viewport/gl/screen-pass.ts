import {
  BufferAttribute,
  BufferGeometry,
  GLSL3,
  Mesh,
  OrthographicCamera,
  RawShaderMaterial,
  Scene,
  type IUniform,
  type WebGLRenderer,
} from 'three';
import type { Pane } from '../../shared/panes';
import { SCREEN_VERTEX } from './glsl';

/** A pane in device pixels from the lower left, as WebGL counts. */
export interface DeviceRect {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

export function deviceRect(pane: Pane, ratio: number, canvasHeight: number): DeviceRect {
  const left = Math.round(pane.x * ratio);
  const top = Math.round(pane.y * ratio);
  const right = Math.round((pane.x + pane.width) * ratio);
  const bottom = Math.round((pane.y + pane.height) * ratio);
  return {
    x: left,
    y: canvasHeight - bottom,
    width: Math.max(1, right - left),
    height: Math.max(1, bottom - top),
  };
}

type Uniforms = Record<string, IUniform>;

/** Our shaders, without a depth test. */
export const rawMaterial = (vertexShader: string, fragmentShader: string, uniforms: Uniforms) =>
  new RawShaderMaterial({
    glslVersion: GLSL3,
    vertexShader,
    fragmentShader,
    uniforms,
    depthTest: false,
    depthWrite: false,
  });

const FLAT_CAMERA = new OrthographicCamera();

/** One triangle over a whole pane, coloured by a shader. */
export class ScreenPass<U extends Uniforms> {
  readonly uniforms: U;
  private readonly scene = new Scene();
  private readonly geometry: BufferGeometry;
  private readonly material: RawShaderMaterial;

  constructor(fragmentShader: string, uniforms: U) {
    this.uniforms = uniforms;
    this.geometry = new BufferGeometry().setAttribute(
      'position',
      new BufferAttribute(new Float32Array([-1, -1, 0, 3, -1, 0, -1, 3, 0]), 3),
    );
    this.material = rawMaterial(SCREEN_VERTEX, fragmentShader, uniforms);
    const mesh = new Mesh(this.geometry, this.material);
    mesh.frustumCulled = false;
    this.scene.add(mesh);
  }

  /** What it draws is laid over what is there, by its alpha. */
  blends(): void {
    this.material.transparent = true;
  }

  draw(renderer: WebGLRenderer): void {
    renderer.render(this.scene, FLAT_CAMERA);
  }

  /** Lets the shader be compiled before it is needed. */
  prepare(renderer: WebGLRenderer): void {
    renderer.compile(this.scene, FLAT_CAMERA);
  }

  dispose(): void {
    this.geometry.dispose();
    this.material.dispose();
  }
}

/** Draws into a rectangle of the canvas only. */
export function drawInto(renderer: WebGLRenderer, { x, y, width, height }: DeviceRect): void {
  // three multiplies by the pixel ratio; the rectangle is in device pixels already.
  const ratio = renderer.getPixelRatio();
  renderer.setViewport(x / ratio, y / ratio, width / ratio, height / ratio);
  renderer.setScissor(x / ratio, y / ratio, width / ratio, height / ratio);
}
