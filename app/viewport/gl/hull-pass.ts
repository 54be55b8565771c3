import {
  BackSide,
  BufferAttribute,
  BufferGeometry,
  CustomBlending,
  MaxEquation,
  Mesh,
  OneFactor,
  Scene,
  UnsignedByteType,
  Vector2,
  Vector3,
  WebGLRenderTarget,
  type Texture,
  type WebGLRenderer,
} from 'three';
import { hexToRgb } from '../../../core/color';
import { smoothNormals, weldExact, type UvMesh } from '../../../core/mesh';
import type { CameraRig } from '../view/camera-rig';
import type { ModelBuffers } from './model-buffers';
import { drawInto, rawMaterial, ScreenPass, type DeviceRect } from './screen-pass';
import { LOOKUPS, SAMPLE_OFFSETS, type ViewTarget } from './view-target';

/** The outline's width at a vertex, as the detail sheet has it in green: a part of the whole width. */
const weightOf = (sheets: number): string => /* glsl */ `
${Array.from({ length: sheets }, (_, k) => `uniform sampler2D detail${k};`).join('\n')}
float texelOf(sampler2D sheet) {
  ivec2 size = textureSize(sheet, 0);
  vec2 place = fract(uv);
  vec4 t = texelFetch(sheet, clamp(ivec2(vec2(place.x, 1.0 - place.y) * vec2(size)), ivec2(0), size - 1), 0);
  return t.a > 0.0 ? t.g : 1.0;
}
float weightHere() {
  int number = int(texelFetch(parts, ivec2(int(part), 0), 0).g * 255.0 + 0.5);
${Array.from({ length: sheets - 1 }, (_, k) => `  if (number == ${k + 1}) return texelOf(detail${k + 1});`).join('\n')}
  return texelOf(detail0);
}`;

/** @param detailSheets how many sheets have a detail sheet; 0: the outline is as wide everywhere */
const vertexShader = (detailSheets: number): string => /* glsl */ `
in vec3 position;
in vec3 normal;
in vec2 uv;
in float part;
uniform mat4 projectionMatrix;
uniform mat4 modelViewMatrix;
uniform float width;
uniform sampler2D parts;
flat out float vPart;
${detailSheets > 0 ? weightOf(detailSheets) : 'float weightHere() { return 1.0; }'}
void main() {
  vPart = part;
  gl_Position = projectionMatrix * modelViewMatrix * vec4(position + normal * width * weightHere(), 1.0);
}`;

/** One channel for each place in the pixel that is looked at: the greatest stays. */
const FRAGMENT = /* glsl */ `
precision highp float;
flat in float vPart;
uniform sampler2D depth;
uniform sampler2D parts;
uniform vec4 channel;
out vec4 outColor;
void main() {
  if (texelFetch(parts, ivec2(int(vPart), 0), 0).r > 0.5) discard;
  if (gl_FragCoord.z > texelFetch(depth, ivec2(gl_FragCoord.xy), 0).r) discard;
  outColor = channel;
}`;

const LAY = /* glsl */ `
precision highp float;
uniform sampler2D covered;
uniform ivec2 origin;
uniform vec3 color;
uniform float share;
out vec4 outColor;
void main() {
  vec4 c = texelFetch(covered, ivec2(gl_FragCoord.xy) - origin, 0);
  outColor = vec4(color, dot(c, vec4(share)));
}`;

const CHANNELS = [
  [1, 0, 0, 0],
  [0, 1, 0, 0],
  [0, 0, 1, 0],
  [0, 0, 0, 1],
] as const;

/**
 * An outline as engines draw it: the model blown up along its normals, of which only the far side is seen, behind the model itself (an
 * inverted hull). Where the normals of one place differ, it is blown up along their mean, so that it doesn't tear.
 */
export class HullPass {
  private readonly scene = new Scene();
  private material;
  private readonly buffers: ModelBuffers;
  private readonly lay = new ScreenPass(LAY, {
    covered: { value: null as unknown },
    origin: { value: new Vector2() },
    color: { value: new Vector3() },
    share: { value: 1 },
  });
  private readonly covered = new WebGLRenderTarget(1, 1, { type: UnsignedByteType, depthBuffer: false });
  private readonly mesh: UvMesh;
  private positions: Float32Array;
  private hull: Mesh | null = null;

  constructor(mesh: UvMesh, buffers: ModelBuffers) {
    this.mesh = mesh;
    this.positions = mesh.positions;
    this.buffers = buffers;
    this.material = this.makeMaterial([]);
    this.lay.blends();
  }

  /** The model in another pose: its outline is made when it is drawn next. @param positions xyz a vertex, backdrops' among them */
  setPositions(positions: Float32Array): void {
    this.positions = positions.subarray(0, this.mesh.positions.length);
    if (!this.hull) return;
    this.scene.remove(this.hull);
    this.hull.geometry.dispose();
    this.hull = null;
  }

  /** Takes the textures of the detail sheet, which tells how wide the outline is where; null: as wide everywhere. */
  setDetail(textures: readonly Texture[] | null): void {
    this.material.dispose();
    this.material = this.makeMaterial(textures ?? []);
    if (this.hull) this.hull.material = this.material;
  }

  private makeMaterial(detail: readonly Texture[]) {
    const material = rawMaterial(vertexShader(detail.length), FRAGMENT, {
      depth: { value: null },
      parts: { value: this.buffers.parts },
      width: { value: 0 },
      channel: { value: null },
      ...Object.fromEntries(detail.map((texture, k) => [`detail${k}`, { value: texture as unknown }])),
    });
    material.side = BackSide;
    material.transparent = true;
    material.blending = CustomBlending;
    material.blendEquation = MaxEquation;
    material.blendSrc = material.blendDst = OneFactor;
    return material;
  }

  /** @param width model units */
  draw(
    renderer: WebGLRenderer,
    target: ViewTarget,
    rig: CameraRig,
    rect: DeviceRect,
    { width, color }: { readonly width: number; readonly color: string },
  ): void {
    if (!(width > 0)) return;
    this.hull ??= this.makeHull();
    const { uniforms: u } = this.material;
    u['depth']!.value = target.lookups(0).depthTexture;
    u['width']!.value = width;
    this.covered.setSize(rect.width, rect.height);
    const samples = Math.min(LOOKUPS, Math.max(1, target.samples));
    renderer.setScissorTest(false);
    renderer.setRenderTarget(this.covered);
    renderer.setClearColor(0x000000, 0);
    renderer.clear(true, false, false);
    for (let k = 0; k < samples; k++) {
      const [x, y] = SAMPLE_OFFSETS[k]!;
      u['channel']!.value = CHANNELS[k];
      renderer.render(this.scene, rig.camera({ x, y, width: target.width, height: target.height }));
    }
    renderer.setRenderTarget(null);
    renderer.setScissorTest(true);
    drawInto(renderer, rect);
    const { r, g, b } = hexToRgb(color);
    this.lay.uniforms.covered.value = this.covered.texture;
    this.lay.uniforms.origin.value.set(rect.x, rect.y);
    this.lay.uniforms.color.value.set(r / 255, g / 255, b / 255);
    this.lay.uniforms.share.value = 1 / samples;
    this.lay.draw(renderer);
  }

  private makeHull(): Mesh {
    const { positions } = this;
    const { indices, faceParts } = this.mesh;
    const welded = weldExact({ data: this.mesh.positions, stride: 3 });
    const normals = smoothNormals(positions, indices, welded);
    const parts = new Float32Array(positions.length / 3);
    indices.forEach((v, c) => (parts[v] = faceParts[Math.floor(c / 3)]!));
    const geometry = new BufferGeometry()
      .setAttribute('position', new BufferAttribute(positions, 3))
      .setAttribute('normal', new BufferAttribute(normals, 3))
      .setAttribute('part', new BufferAttribute(parts, 1))
      .setAttribute('uv', this.buffers.geometry.getAttribute('uv'))
      .setIndex(new BufferAttribute(indices, 1));
    const hull = new Mesh(geometry, this.material);
    hull.frustumCulled = false;
    this.scene.add(hull);
    return hull;
  }

  dispose(): void {
    this.hull?.geometry.dispose();
    this.material.dispose();
    this.lay.dispose();
    this.covered.dispose();
  }
}
