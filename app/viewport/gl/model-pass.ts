import { Vector2, Vector3, type DataTexture, type Texture, type WebGLRenderer } from 'three';
import { hexToRgb } from '../../../core/color';
import { HEAT_GLSL } from '../../shared/heat-colors';
import type { CheckLights } from '../../shared/shown';
import { CHOSEN_COLOR, READ_TEXEL } from './glsl';
import type { ModelBuffers } from './model-buffers';
import { ScreenPass, type DeviceRect } from './screen-pass';
import type { ViewTarget } from './view-target';

/** Value of the model where nothing is painted yet. */
export const BARE = 0.72;

/** How the model's colour is found; the shader counts them so. */
export const MODES = { unlit: 0, lit: 1, values: 2, checker: 3, heatBothWays: 4, heatOneWay: 5 } as const;
export type Mode = keyof typeof MODES;

export interface ModelLook {
  readonly mode: Mode;
  readonly lights: CheckLights;
  /** Texels are shown as they are stored, however near or far. */
  readonly exact: boolean;
  /** Value of the neutral ground, 0..1. */
  readonly ground: number;
  /** Part to outline, -1 for none. */
  readonly outlined: number;
  /** Nothing is painted yet: the bare model is shaded plainly. */
  readonly isBare: boolean;
}

/**
 * Reads the sheet of a number; samplers can't be picked by a variable. Only as many as there are: without a GPU every one of them is
 * read for every pixel.
 */
const readSheet = (count: number): string => {
  const numbers = Array.from({ length: count }, (_, k) => k);
  const read = (k: number): string => /* glsl */ `{
    float size = float(textureSize(sheet${k}, 0).x);
    return smoothTexel(sheet${k}, vec2(uv.x, 1.0 - uv.y) * size, wide * size);
  }`;
  return /* glsl */ `
${numbers.map((k) => `uniform sampler2D sheet${k};`).join('\n')}
vec4 readSheet(int number, vec2 uv, float wide) {
${numbers
  .slice(1)
  .map((k) => `  if (number == ${k}) ${read(k)}`)
  .join('\n')}
  ${read(0)}
}`;
};

/** The texel's bytes go to the screen as they are; nothing converts them. */
const fragment = (sheets: number): string => /* glsl */ `
precision highp float;
precision highp sampler2D;
${HEAT_GLSL}
uniform sampler2D letters;
uniform sampler2D lookup0;
uniform sampler2D lookup1;
uniform sampler2D lookup2;
uniform sampler2D lookup3;
uniform sampler2D kind;
uniform sampler2D parts;
${READ_TEXEL}
${readSheet(sheets)}
uniform ivec2 origin;
uniform ivec2 paneSize;
uniform int samples;
uniform float ground;
uniform float bare;
uniform bool isBare;
uniform int mode;
uniform float outlined;
uniform bool someChosen;
uniform vec3 towardKey;
uniform float back;
uniform vec3 skyColor;
uniform vec3 groundColor;
out vec4 outColor;

vec3 unpackNormal(float packedPair) {
  float x = floor(packedPair / 4096.0);
  vec2 p = vec2(x, packedPair - x * 4096.0) / 4095.0 * 2.0 - 1.0;
  vec3 n = vec3(p, 1.0 - abs(p.x) - abs(p.y));
  if (n.z < 0.0) n.xy = (1.0 - abs(n.yx)) * vec2(n.x >= 0.0 ? 1.0 : -1.0, n.y >= 0.0 ? 1.0 : -1.0);
  return normalize(n);
}

float partAt(ivec2 p) {
  return floor(texelFetch(lookup0, clamp(p, ivec2(0), paneSize - 1), 0).w);
}

bool chosenAt(ivec2 p) {
  return fract(texelFetch(lookup0, clamp(p, ivec2(0), paneSize - 1), 0).w) > 0.1;
}

/** @param wide how far a pixel goes on the sheet, of its side */
vec3 colorOf(vec4 found, float wide) {
  if (found.w <= 0.0) return vec3(ground);
  vec2 uv = fract(found.xy);
  if (mode == 3) {
    vec3 n = unpackNormal(found.z);
    return texture(letters, vec2(uv.x, 1.0 - uv.y)).rgb * (0.6 + 0.4 * max(0.0, dot(n, towardKey)));
  }
  if (mode > 3) return heatColor(found.z, mode == 4);
  if (isBare) {
    vec3 n = unpackNormal(found.z);
    return vec3(bare * (0.62 + 0.22 * max(0.0, dot(n, normalize(vec3(0.3, 0.6, 0.75)))) + 0.16 * n.y));
  }
  int number = int(texelFetch(parts, ivec2(int(found.w) - 1, 0), 0).g * 255.0 + 0.5);
  vec4 t = readSheet(number, uv, wide);
  vec3 color = t.a == 1.0 ? t.rgb : mix(vec3(bare), t.rgb, t.a);
  if (mode == 1) {
    vec3 n = unpackNormal(found.z);
    vec3 light = mix(groundColor, skyColor, n.y * 0.5 + 0.5) + 0.75 * max(0.0, dot(n, towardKey));
    if (back > 0.0) light += back * max(0.0, dot(n, normalize(vec3(-towardKey.x, towardKey.y * 0.4, -towardKey.z))));
    return color * light;
  }
  if (mode == 2) {
    // Value as painters judge it: luminance of the light, shown in even steps (IEC 61966-2-1 both ways).
    vec3 l = mix(color / 12.92, pow((color + 0.055) / 1.055, vec3(2.4)), step(0.04045, color));
    float y = dot(l, vec3(0.2126, 0.7152, 0.0722));
    return vec3(y <= 0.0031308 ? y * 12.92 : 1.055 * pow(y, 1.0 / 2.4) - 0.055);
  }
  return color;
}

void main() {
  ivec2 at = ivec2(gl_FragCoord.xy) - origin;
  vec4 found = texelFetch(lookup0, at, 0);
  vec2 place = texelFetch(kind, at, 0).rg;
  float wide = place.r > 0.0 ? exp2(place.r * 16.0 - 16.0) : 0.0;
  bool isFar = !exact && wide * float(textureSize(sheet0, 0).x) >= 1.5;
  vec3 color = colorOf(found, wide);
  if (samples > 1 && (place.g > 0.5 || isFar)) {
    color += colorOf(texelFetch(lookup1, at, 0), wide);
    color += colorOf(texelFetch(lookup2, at, 0), wide);
    color += colorOf(texelFetch(lookup3, at, 0), wide);
    color *= 0.25;
  }
  if (someChosen) {
    bool inside = chosenAt(at);
    bool edge = false;
    for (int i = -2; i <= 2; i++) edge = edge || chosenAt(at + ivec2(i, 0)) != inside || chosenAt(at + ivec2(0, i)) != inside;
    if (edge) color = inside ? vec3(1.0) : vec3(0.13);
    else if (inside) color = mix(color, ${CHOSEN_COLOR}, 0.28);
  }
  if (outlined > 0.0) {
    bool inside = floor(found.w) == outlined;
    bool edge = false;
    for (int i = -2; i <= 2; i++) {
      edge = edge || (partAt(at + ivec2(i, 0)) == outlined) != inside || (partAt(at + ivec2(0, i)) == outlined) != inside;
    }
    if (edge) color = inside ? vec3(1.0) : vec3(0.13);
  }
  outColor = vec4(color, 1.0);
}`;

/** Colours a view of the model from what was looked up for it. */
export class ModelPass {
  private readonly pass;
  private readonly buffers: ModelBuffers;

  constructor(sheets: readonly Texture[], buffers: ModelBuffers, letters: DataTexture) {
    this.buffers = buffers;
    this.pass = new ScreenPass(fragment(sheets.length), {
      ...Object.fromEntries(sheets.map((texture, k) => [`sheet${k}`, { value: texture as unknown }])),
      lookup0: { value: null as unknown },
      lookup1: { value: null as unknown },
      lookup2: { value: null as unknown },
      lookup3: { value: null as unknown },
      kind: { value: null as unknown },
      parts: { value: buffers.parts },
      letters: { value: letters },
      origin: { value: new Vector2() },
      paneSize: { value: new Vector2() },
      samples: { value: 1 },
      ground: { value: 0.5 },
      bare: { value: BARE },
      isBare: { value: false },
      exact: { value: false },
      mode: { value: 0 },
      outlined: { value: 0 },
      someChosen: { value: false },
      towardKey: { value: new Vector3() },
      back: { value: 0 },
      skyColor: { value: new Vector3() },
      groundColor: { value: new Vector3() },
    });
  }

  draw(renderer: WebGLRenderer, target: ViewTarget, rect: DeviceRect, look: ModelLook): void {
    const u = this.pass.uniforms;
    const few = target.samples < 2;
    u.lookup0.value = target.lookups(0).texture;
    u.lookup1.value = target.lookups(few ? 0 : 1).texture;
    u.lookup2.value = target.lookups(few ? 0 : 2).texture;
    u.lookup3.value = target.lookups(few ? 0 : 3).texture;
    u.kind.value = target.kind.texture;
    u.samples.value = target.samples;
    u.origin.value.set(rect.x, rect.y);
    u.paneSize.value.set(rect.width, rect.height);
    u.mode.value = MODES[look.mode];
    u.ground.value = look.ground;
    u.exact.value = look.exact;
    u.isBare.value = look.isBare;
    u.outlined.value = look.outlined + 1;
    u.someChosen.value = this.buffers.someChosen;
    u.towardKey.value.set(...look.lights.key);
    u.back.value = look.lights.back ? 0.55 : 0;
    putColor(u.skyColor.value, look.lights.sky);
    putColor(u.groundColor.value, look.lights.ground);
    this.pass.draw(renderer);
  }

  dispose(): void {
    this.pass.dispose();
  }
}

function putColor(out: Vector3, hex: string): void {
  const { r, g, b } = hexToRgb(hex);
  out.set(r / 255, g / 255, b / 255);
}
