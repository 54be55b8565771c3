import { Vector2, type DataTexture, type IUniform, type Texture, type WebGLRenderer } from 'three';
import { MELTS, READ_TEXEL, type Reading } from './glsl';
import { BARE, type ModelLook } from './model-pass';
import { ScreenPass, type DeviceRect } from './screen-pass';

export interface SheetPlace {
  /** Upper left corner of the sheet in the pane, CSS pixels. */
  x: number;
  y: number;
  /** CSS pixels a texel. */
  scale: number;
}

const fragment = (reading: Reading): string => /* glsl */ `
#define ${reading.toUpperCase()}
precision highp float;
${READ_TEXEL}
uniform sampler2D letters;
uniform bool checker;
uniform sampler2D sheet;
uniform vec2 corner;
uniform float scale;
uniform float ground;
uniform float bare;
uniform ivec2 origin;
uniform ivec2 paneSize;
out vec4 outColor;
void main() {
  vec2 at = gl_FragCoord.xy - vec2(origin);
  vec2 fromTop = vec2(at.x, float(paneSize.y) - at.y);
  vec2 p = (fromTop - corner) / scale;
  int size = textureSize(sheet, 0).x;
  vec3 color = vec3(ground * 0.93);
  if (p.x >= 0.0 && p.y >= 0.0 && p.x < float(size) && p.y < float(size)) {
    if (checker) { outColor = vec4(mix(texture(letters, p / float(size)).rgb, vec3(ground), 0.55), 1.0); return; }
    vec4 t = smoothTexel(sheet, p, 1.0 / scale);
    float check = mod(floor(p.x / 16.0) + floor(p.y / 16.0), 2.0) * 0.02;
    color = t.a == 1.0 ? t.rgb : mix(vec3(ground + 0.05 - check), t.rgb, t.a);
  }
  outColor = vec4(color, 1.0);
}`;

/** The sheet itself, seen flat. */
export class SheetPass {
  private readonly uniforms;
  private readonly passes = new Map<Reading, ScreenPass<Record<string, IUniform>>>();

  constructor(letters: DataTexture) {
    this.uniforms = {
      sheet: { value: null as Texture | null },
      origin: { value: new Vector2() },
      paneSize: { value: new Vector2() },
      corner: { value: new Vector2() },
      scale: { value: 1 },
      ground: { value: 0.5 },
      bare: { value: BARE },
      letters: { value: letters },
      checker: { value: false },
      exact: { value: false },
      leastLevel: { value: 0 },
    };
  }

  /** @param ratio device pixels a CSS pixel */
  draw(
    renderer: WebGLRenderer,
    sheet: Texture,
    rect: DeviceRect,
    place: SheetPlace,
    ratio: number,
    look: Pick<ModelLook, 'ground' | 'exact' | 'leastLevel'> & { readonly checker: boolean },
  ): void {
    const u = this.uniforms;
    u.sheet.value = sheet;
    u.origin.value.set(rect.x, rect.y);
    u.paneSize.value.set(rect.width, rect.height);
    u.corner.value.set(place.x * ratio, place.y * ratio);
    u.scale.value = place.scale * ratio;
    u.ground.value = look.ground;
    u.checker.value = look.checker;
    u.exact.value = look.exact;
    u.leastLevel.value = look.leastLevel;
    const near = !look.exact && place.scale * ratio * MELTS > 1;
    this.passFor(look.leastLevel > 0 ? 'coarse' : near ? 'near' : 'plain').draw(renderer);
  }

  private passFor(reading: Reading): ScreenPass<Record<string, IUniform>> {
    let pass = this.passes.get(reading);
    if (!pass) {
      pass = new ScreenPass(fragment(reading), this.uniforms);
      this.passes.set(reading, pass);
    }
    return pass;
  }

  dispose(): void {
    for (const pass of this.passes.values()) pass.dispose();
  }
}
