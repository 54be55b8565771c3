import { DoubleSide, Scene, Vector2, type RawShaderMaterial, type WebGLRenderer } from 'three';
import type { CameraRig } from '../view/camera-rig';
import type { Pane } from '../../shared/panes';
import { rawMaterial, type DeviceRect } from './screen-pass';
import { segmentMesh, type SegmentMesh, type Segments } from './segment-mesh';
import type { ViewTarget } from './view-target';

/** Half the width of a line on the screen, CSS pixels. */
const HALF_WIDTH = 2.2;

/** Lines lie in the surface: they may be this much farther (in depth, 0..1) than what was drawn there. */
const BIAS = 4e-4;

const VERTEX = /* glsl */ `
in vec3 position;
in vec3 from;
in vec3 to;
in float kind;
uniform mat4 projectionMatrix;
uniform mat4 modelViewMatrix;
uniform vec2 paneSize;
uniform float pixels;
out float vKind;
out float vAcross;
out float vAlong;
void main() {
  vec4 a = projectionMatrix * modelViewMatrix * vec4(from, 1.0);
  vec4 b = projectionMatrix * modelViewMatrix * vec4(to, 1.0);
  vec2 pa = a.xy / a.w * paneSize * 0.5;
  vec2 pb = b.xy / b.w * paneSize * 0.5;
  vec2 along = pb - pa;
  float l = max(length(along), 1e-4);
  vec2 across = vec2(-along.y, along.x) / l;
  float width = kind > 4.5 ? 0.8 : kind > 3.5 ? 0.5 : kind > 1.5 ? pixels * 0.5 : pixels;
  vec4 p = mix(a, b, position.x);
  vec2 shift = across * position.y * width + along / l * (position.x * 2.0 - 1.0) * width * 0.4;
  p.xy += shift / (paneSize * 0.5) * p.w;
  vKind = kind;
  vAcross = position.y;
  vAlong = position.x * l;
  gl_Position = p;
}`;

const FRAGMENT = /* glsl */ `
precision highp float;
in float vKind;
in float vAcross;
in float vAlong;
uniform sampler2D depth;
uniform ivec2 origin;
uniform float bias;
out vec4 outColor;
void main() {
  float before = texelFetch(depth, ivec2(gl_FragCoord.xy) - origin, 0).r;
  if (gl_FragCoord.z > before + bias) discard;
  // 0 seam, 1 paint edge (broken by light gaps), 2 border of an island, 3 what is about to be drawn, 4 wireframe,
  // 5 where no seam is wanted, 6 where one is.
  bool rim = abs(vAcross) > 0.55;
  vec3 color = rim ? vec3(0.1) : vec3(0.98, 0.56, 0.25);
  if (vKind > 0.5 && vKind < 1.5 && mod(vAlong, 10.0) < 5.0) color = rim ? vec3(0.1) : vec3(1.0);
  if (vKind > 1.5 && vKind < 2.5) color = vec3(0.12);
  if (vKind > 2.5) color = vec3(1.0);
  if (vKind > 4.5) color = vKind > 5.5 ? vec3(0.1, 0.5, 0.42) : vec3(0.5, 0.13, 0.4);
  outColor = vec4(color, vKind > 4.5 ? 0.8 : vKind > 3.5 ? 0.42 : 1.0);
}`;

/** Lines on the model, some pixels wide: each a quad between two points, left out where the model lies before it. */
export class ModelLines {
  private readonly scene = new Scene();
  private readonly material: RawShaderMaterial;
  private lines: SegmentMesh | null = null;

  constructor() {
    this.material = rawMaterial(VERTEX, FRAGMENT, {
      depth: { value: null },
      origin: { value: new Vector2() },
      paneSize: { value: new Vector2() },
      pixels: { value: HALF_WIDTH },
      bias: { value: BIAS },
    });
    this.material.side = DoubleSide;
    this.material.transparent = true;
  }

  set(segments: Segments | null): void {
    if (this.lines) {
      this.scene.remove(this.lines);
      this.lines.geometry.dispose();
      this.lines = null;
    }
    if (!segments || segments.kinds.length === 0) return;
    this.lines = segmentMesh(this.material, segments);
    this.scene.add(this.lines);
  }

  draw(renderer: WebGLRenderer, target: ViewTarget, rig: CameraRig, pane: Pane, rect: DeviceRect): void {
    if (!this.lines) return;
    const u = this.material.uniforms;
    u['depth']!.value = target.lookups(0).depthTexture;
    (u['origin']!.value as Vector2).set(rect.x, rect.y);
    (u['paneSize']!.value as Vector2).set(pane.width, pane.height);
    renderer.render(this.scene, rig.camera());
  }

  dispose(): void {
    this.set(null);
    this.material.dispose();
  }
}
