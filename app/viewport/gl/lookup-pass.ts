import {
  DoubleSide,
  Mesh,
  Scene,
  type BufferGeometry,
  type RawShaderMaterial,
  type Texture,
  type WebGLRenderer,
} from 'three';
import { backdropSheets, type UvMesh } from '../../../core/mesh';
import type { CameraRig } from '../view/camera-rig';
import { LOOKUPS, SAMPLE_OFFSETS, type ViewTarget } from './view-target';
import type { ModelBuffers } from './model-buffers';
import { RAMP_SHIFT } from './ramp-layout';
import { rawMaterial, ScreenPass } from './screen-pass';

const VERTEX = /* glsl */ `
in vec3 position;
in vec3 normal;
in vec2 uv;
in float part;
in float heat;
in float chosen;
uniform mat4 projectionMatrix;
uniform mat4 modelViewMatrix;
out vec2 vUv;
out vec3 vNormal;
out float vHeat;
out float vChosen;
flat out float vPart;
void main() {
  vHeat = heat;
  vChosen = chosen;
  vUv = uv;
  vNormal = normal;
  vPart = part;
  gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
}`;

/** What is bare of a backdrop is cut out, and none is seen from behind. @param sheets on which they lie */
const cutOut = (sheets: readonly number[]): string => /* glsl */ `
${sheets.map((k) => `uniform sampler2D backdrop${k};`).join('\n')}
uniform float firstBackdrop;
bool isBare(sampler2D sheet) {
  // Between the four nearest texels, as engines filter before they cut.
  ivec2 last = textureSize(sheet, 0) - 1;
  vec2 from = vec2(vUv.x, 1.0 - vUv.y) * vec2(last + 1) - 0.5;
  ivec2 corner = ivec2(floor(from));
  vec2 t = from - floor(from);
  float a = 0.0;
  for (int k = 0; k < 4; k++) {
    float w = ((k & 1) == 1 ? t.x : 1.0 - t.x) * (k > 1 ? t.y : 1.0 - t.y);
    a += w * texelFetch(sheet, clamp(corner + ivec2(k & 1, k >> 1), ivec2(0), last), 0).a;
  }
  return a < 0.5;
}
bool isCutOut() {
  if (vPart < firstBackdrop) return false;
  if (!gl_FrontFacing) return true;
  int number = int(texelFetch(parts, ivec2(int(vPart), 0), 0).g * 255.0 + 0.5);
${sheets.map((k) => `  if (number == ${k}) return isBare(backdrop${k});`).join('\n')}
  return false;
}`;

/**
 * @param shift how much less u is told
 * @param backdrops sheets on which flat backdrops lie
 */
const fragmentShader = (shift: number, backdrops: readonly number[]): string => /* glsl */ `
precision highp float;
in vec2 vUv;
in vec3 vNormal;
in float vHeat;
in float vChosen;
flat in float vPart;
uniform bool showHeat;
uniform sampler2D parts;
out vec4 outColor;
${backdrops.length > 0 ? cutOut(backdrops) : 'bool isCutOut() { return false; }'}
void main() {
  if (texelFetch(parts, ivec2(int(vPart), 0), 0).r > 0.5 || isCutOut()) discard;
  vec3 n = normalize(vNormal) * (gl_FrontFacing ? 1.0 : -1.0);
  // Two 12-bit numbers fit the 24 bits of a float exactly.
  vec2 p = n.xy / (abs(n.x) + abs(n.y) + abs(n.z));
  if (n.z < 0.0) p = (1.0 - abs(p.yx)) * vec2(p.x >= 0.0 ? 1.0 : -1.0, p.y >= 0.0 ? 1.0 : -1.0);
  vec2 q = floor((p * 0.5 + 0.5) * 4095.0 + 0.5);
  // What is chosen is marked by a fraction.
  outColor = vec4(vUv.x - ${shift.toFixed(1)}, vUv.y, showHeat ? vHeat : q.x * 4096.0 + q.y, vPart + 1.0 + (vChosen > 0.999 ? 0.25 : 0.0));
}`;

/**
 * What kind of place a pixel is. Red: how far one pixel goes on the sheet, as (log2 of it + 16) / 16. Green: 1 where it lies on an edge,
 * of the model, of a part, or of an island.
 */
const KIND_FRAGMENT = /* glsl */ `
precision highp float;
uniform sampler2D lookup;
out vec4 outColor;
void main() {
  ivec2 at = ivec2(gl_FragCoord.xy);
  ivec2 last = textureSize(lookup, 0) - 1;
  vec4 here = texelFetch(lookup, at, 0);
  vec2 least = vec2(1e9);
  float most = 0.0;
  bool edge = false;
  for (int k = 0; k < 4; k++) {
    ivec2 step = k < 2 ? ivec2(k * 2 - 1, 0) : ivec2(0, k * 2 - 5);
    vec4 other = texelFetch(lookup, clamp(at + step, ivec2(0), last), 0);
    if (floor(other.w) != floor(here.w)) { edge = true; continue; }
    float far = length(other.xy - here.xy);
    if (far == 0.0) continue;
    most = max(most, far);
    if (k < 2) least.x = min(least.x, far); else least.y = min(least.y, far);
  }
  float wide = max(least.x < 1e8 ? least.x : 0.0, least.y < 1e8 ? least.y : 0.0);
  // A steep place has steps of many sizes; a jump to another island is larger than all of them.
  if (most > wide * 4.0 + 1e-5) edge = true;
  outColor = vec4(wide > 0.0 ? clamp((log2(wide) + 16.0) / 16.0, 0.0, 1.0) : 0.0, edge ? 1.0 : 0.0, 0.0, 1.0);
}`;

/** For every pixel of a view where on the sheet it looks (uv), which way it faces, and the part it belongs to. */
export class LookupPass {
  private readonly scene = new Scene();
  private readonly materials: readonly RawShaderMaterial[];
  private readonly onRamps: Mesh;
  private readonly kind = new ScreenPass(KIND_FRAGMENT, { lookup: { value: null as unknown } });
  private readonly buffers: ModelBuffers;

  /** @param sheets textures of all sheets */
  constructor(buffers: ModelBuffers, painted: UvMesh, sheets: readonly Texture[]) {
    this.buffers = buffers;
    const flat = [...backdropSheets(painted)];
    const meshOf = (geometry: BufferGeometry, shift: number): Mesh<BufferGeometry, RawShaderMaterial> => {
      const material = rawMaterial(VERTEX, fragmentShader(shift, flat), {
        firstBackdrop: { value: buffers.firstBackdrop },
        ...Object.fromEntries(flat.map((k) => [`backdrop${k}`, { value: sheets[k] as unknown }])),
        parts: { value: buffers.parts },
        showHeat: { value: false },
      });
      material.depthTest = material.depthWrite = true;
      material.side = DoubleSide;
      const mesh = new Mesh(geometry, material);
      mesh.frustumCulled = false;
      this.scene.add(mesh);
      return mesh;
    };
    const model = meshOf(buffers.geometry, 0);
    const onRamps = meshOf(buffers.ramps.geometry, RAMP_SHIFT);
    this.onRamps = onRamps;
    this.materials = [model.material, onRamps.material];
  }

  /** Looks the model up for a view: once for each pixel, or, as soon as the camera rests, several times. */
  draw(renderer: WebGLRenderer, target: ViewTarget, rig: CameraRig, isAtRest: boolean): void {
    const wanted = isAtRest ? LOOKUPS : 1;
    if (target.samples >= wanted) return;
    for (const { uniforms } of this.materials) uniforms['showHeat']!.value = this.buffers.showsHeat;
    this.onRamps.visible = !this.buffers.ramps.isEmpty;
    renderer.setScissorTest(false);
    renderer.setClearColor(0x000000, 0);
    for (let k = target.samples; k < wanted; k++) {
      const [x, y] = SAMPLE_OFFSETS[k]!;
      renderer.setRenderTarget(target.lookups(k));
      renderer.clear(true, true, false);
      renderer.render(this.scene, rig.camera({ x, y, width: target.width, height: target.height }));
    }
    if (target.samples === 0) {
      this.kind.uniforms.lookup.value = target.lookups(0).texture;
      renderer.setRenderTarget(target.kind);
      this.kind.draw(renderer);
    }
    target.samples = wanted;
    renderer.setRenderTarget(null);
    renderer.setScissorTest(true);
  }

  dispose(): void {
    for (const material of this.materials) material.dispose();
    this.kind.dispose();
  }
}
