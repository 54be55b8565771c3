import { DataTexture, NearestFilter, RedFormat, UnsignedByteType, Vector2, type WebGLRenderer } from 'three';
import type { ReachMap } from '../../../core/engine';
import type { ModelBuffers } from './model-buffers';
import { ScreenPass, type DeviceRect } from './screen-pass';
import type { ViewTarget } from './view-target';

/** What can't be reached is darkened and hatched, so that it isn't told by colour alone. */
const FRAGMENT = /* glsl */ `
precision highp float;
uniform sampler2D lookup;
uniform sampler2D parts;
uniform sampler2D reach;
uniform float sheets;
uniform ivec2 origin;
out vec4 outColor;
void main() {
  ivec2 at = ivec2(gl_FragCoord.xy) - origin;
  vec4 found = texelFetch(lookup, at, 0);
  if (found.w <= 0.0) discard;
  float number = floor(texelFetch(parts, ivec2(int(found.w) - 1, 0), 0).g * 255.0 + 0.5);
  vec2 uv = fract(found.xy);
  float reached = texture(reach, vec2(uv.x, (number + 1.0 - uv.y) / sheets)).r;
  float line = step(0.5, fract(float(at.x + at.y) / 7.0));
  outColor = vec4(vec3(0.12), (1.0 - reached) * (0.42 + 0.26 * line));
}`;

/** Shows on the model what a stroke can't change. */
export class ReachPass {
  private readonly pass = new ScreenPass(FRAGMENT, {
    lookup: { value: null as unknown },
    parts: { value: null as unknown },
    reach: { value: null as DataTexture | null },
    sheets: { value: 1 },
    origin: { value: new Vector2() },
  });

  constructor(buffers: ModelBuffers) {
    this.pass.uniforms.parts.value = buffers.parts;
    this.pass.blends();
  }

  /** @param map null shows nothing */
  set(map: ReachMap | null): void {
    const u = this.pass.uniforms;
    u.reach.value?.dispose();
    u.reach.value = map && textureOf(map);
    u.sheets.value = map?.sheets.length ?? 1;
  }

  draw(renderer: WebGLRenderer, target: ViewTarget, rect: DeviceRect): void {
    const u = this.pass.uniforms;
    if (!u.reach.value) return;
    u.lookup.value = target.lookups(0).texture;
    u.origin.value.set(rect.x, rect.y);
    this.pass.draw(renderer);
  }

  dispose(): void {
    this.pass.uniforms.reach.value?.dispose();
    this.pass.dispose();
  }
}

/** The sheets one under the other. */
function textureOf({ side, sheets }: ReachMap): DataTexture {
  const data = new Uint8Array(side * side * sheets.length);
  sheets.forEach((values, k) => data.set(values, k * side * side));
  const texture = new DataTexture(data, side, side * sheets.length, RedFormat, UnsignedByteType);
  texture.unpackAlignment = 1;
  texture.magFilter = texture.minFilter = NearestFilter;
  texture.needsUpdate = true;
  return texture;
}
