import { BufferAttribute, BufferGeometry, FrontSide, Mesh, Scene, Vector2, type WebGLRenderer } from 'three';
import type { UvMesh } from '../../../core/mesh';
import type { CameraRig } from '../view/camera-rig';
import { rawMaterial, type DeviceRect } from './screen-pass';
import type { ViewTarget } from './view-target';

const VERTEX = /* glsl */ `
in vec3 position;
in vec3 normal;
uniform mat4 projectionMatrix;
uniform mat4 modelViewMatrix;
uniform float distance;
out vec3 vNormal;
out vec3 vEye;
void main() {
  vec4 p = modelViewMatrix * vec4(position + normal * distance, 1.0);
  vNormal = mat3(modelViewMatrix) * normal;
  vEye = -p.xyz;
  gl_Position = projectionMatrix * p;
}`;

/** Like glass: hardly seen from the front, clearly at its rim. */
const FRAGMENT = /* glsl */ `
precision highp float;
in vec3 vNormal;
in vec3 vEye;
uniform sampler2D depth;
uniform ivec2 origin;
out vec4 outColor;
void main() {
  float before = texelFetch(depth, ivec2(gl_FragCoord.xy) - origin, 0).r;
  if (gl_FragCoord.z > before) discard;
  float rim = 1.0 - abs(dot(normalize(vNormal), normalize(vEye)));
  outColor = vec4(0.98, 0.56, 0.25, 0.14 + 0.6 * rim * rim);
}`;

/** The model blown up by a distance along its normals, seen through: how far something may lie off it. */
export class OffsetHullPass {
  private readonly scene = new Scene();
  private readonly material = rawMaterial(VERTEX, FRAGMENT, {
    depth: { value: null },
    origin: { value: new Vector2() },
    distance: { value: 0 },
  });
  private readonly mesh: UvMesh;
  private hull: Mesh | null = null;

  constructor(mesh: UvMesh) {
    this.mesh = mesh;
    this.material.side = FrontSide;
    this.material.transparent = true;
  }

  /** @param distance model units; null shows none */
  set(distance: number | null): void {
    if (distance !== null && !this.hull) {
      const geometry = new BufferGeometry()
        .setAttribute('position', new BufferAttribute(this.mesh.positions, 3))
        .setAttribute('normal', new BufferAttribute(this.mesh.normals, 3))
        .setIndex(new BufferAttribute(this.mesh.indices, 1));
      this.hull = new Mesh(geometry, this.material);
      this.hull.frustumCulled = false;
      this.scene.add(this.hull);
    }
    if (this.hull) this.hull.visible = distance !== null;
    this.material.uniforms['distance']!.value = distance ?? 0;
  }

  draw(renderer: WebGLRenderer, target: ViewTarget, rig: CameraRig, rect: DeviceRect): void {
    if (!this.hull?.visible) return;
    const u = this.material.uniforms;
    u['depth']!.value = target.lookups(0).depthTexture;
    (u['origin']!.value as Vector2).set(rect.x, rect.y);
    renderer.render(this.scene, rig.camera());
  }

  dispose(): void {
    this.hull?.geometry.dispose();
    this.material.dispose();
  }
}
