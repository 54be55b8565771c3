import { HEAT_GLSL } from '../../shared/heat-colors';
import { CHOSEN_COLOR, READ_TEXEL } from './glsl';
import { RAMP_SHIFT } from './ramp-layout';

/**
 * Reads the sheet of a number; samplers can't be picked by a variable. Only as many as there are: without a GPU every one of them is
 * read for every pixel.
 */
const readSheet = (count: number, name = 'sheet'): string => {
  const numbers = Array.from({ length: count }, (_, k) => k);
  const read = (k: number): string => /* glsl */ `{
    float size = float(textureSize(${name}${k}, 0).x);
    return smoothTexel(${name}${k}, vec2(uv.x, 1.0 - uv.y) * size, wide * size);
  }`;
  return /* glsl */ `
${numbers.map((k) => `uniform sampler2D ${name}${k};`).join('\n')}
vec4 ${name}Texel(int number, vec2 uv, float wide) {
${numbers
  .slice(1)
  .map((k) => `  if (number == ${k}) ${read(k)}`)
  .join('\n')}
  ${read(0)}
}`;
};

/** The colour beside a bare texel of a backdrop: its rim is cut between texels. */
const readBeside = (count: number): string => {
  const numbers = Array.from({ length: count }, (_, k) => k);
  return /* glsl */ `
vec4 besideIn(sampler2D sheet, vec2 uv) {
  ivec2 last = textureSize(sheet, 0) - 1;
  ivec2 corner = ivec2(floor(vec2(uv.x, 1.0 - uv.y) * vec2(last + 1) - 0.5));
  vec4 sum = vec4(0.0);
  for (int k = 0; k < 4; k++) {
    vec4 c = texelFetch(sheet, clamp(corner + ivec2(k & 1, k >> 1), ivec2(0), last), 0);
    sum += vec4(c.rgb * c.a, c.a);
  }
  return vec4(sum.rgb / max(sum.a, 0.001), 1.0);
}
vec4 besideTexel(int number, vec2 uv) {
${numbers
  .slice(1)
  .map((k) => `  if (number == ${k}) return besideIn(sheet${k}, uv);`)
  .join('\n')}
  return besideIn(sheet0, uv);
}`;
};

/** The texel's bytes go to the screen as they are; nothing converts them. @param defines what this picture needs of it */
export const modelShader = (sheets: number, defines: readonly string[]): string => /* glsl */ `
${defines.map((name) => `#define ${name}`).join('\n')}
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
${defines.includes('DETAIL') ? readSheet(sheets, 'detail') : ''}
${defines.includes('BACKDROPS') ? readBeside(sheets) : ''}
uniform ivec2 origin;
uniform ivec2 paneSize;
uniform float ground;
uniform float bare;
#ifdef BACKDROPS
uniform float firstBackdrop;
#endif
uniform bool bothWays;
uniform float outlined;
uniform bool someChosen;
uniform vec3 towardKey;
uniform float back;
uniform int tones;
uniform float toneEdge;
uniform vec3 shade;
uniform vec3 highlight;
uniform vec3 towardEye;
uniform vec3 skyColor;
uniform vec3 groundColor;
out vec4 outColor;

#ifdef RAMPS
uniform sampler2D ramps;
/** Between the four nearest texels, as engines filter. */
vec4 rampTexel(vec2 uv) {
  ivec2 size = textureSize(ramps, 0);
  vec2 place = vec2(uv.x, 1.0 - uv.y) * vec2(size);
  if (exact) return texelFetch(ramps, clamp(ivec2(place), ivec2(0), size - 1), 0);
  vec2 from = place - 0.5;
  ivec2 corner = ivec2(floor(from));
  vec2 t = from - floor(from);
  vec4 c[4];
  for (int k = 0; k < 4; k++) c[k] = texelFetch(ramps, clamp(corner + ivec2(k & 1, k >> 1), ivec2(0), size - 1), 0);
  return mix(mix(c[0], c[1], t.x), mix(c[2], c[3], t.x), t.y);
}
#endif

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
#ifdef CHECKER
  vec3 n = unpackNormal(found.z);
  return texture(letters, vec2(uv.x, 1.0 - uv.y)).rgb * (0.6 + 0.4 * max(0.0, dot(n, towardKey)));
#endif
#ifdef HEAT
  return heatColor(found.z, bothWays);
#endif
#ifdef BARE
  vec3 n = unpackNormal(found.z);
  return vec3(bare * (0.62 + 0.22 * max(0.0, dot(n, normalize(vec3(0.3, 0.6, 0.75)))) + 0.16 * n.y));
#endif
#ifdef PAINT
  int number = int(texelFetch(parts, ivec2(int(found.w) - 1, 0), 0).g * 255.0 + 0.5);
#ifdef RAMPS
  bool isOnRamp = found.x < -${(RAMP_SHIFT / 2).toFixed(1)};
  vec4 t = isOnRamp ? rampTexel(found.xy + vec2(${RAMP_SHIFT.toFixed(1)}, 0.0)) : sheetTexel(number, uv, wide);
#else
  vec4 t = sheetTexel(number, uv, wide);
#endif
#ifdef BACKDROPS
  // What isn't cut out of a backdrop is shown as it is stored, and no lamp falls on it.
  bool isFlat = floor(found.w) > firstBackdrop;
  if (isFlat && t.a == 0.0) t = besideTexel(number, uv);
#else
  const bool isFlat = false;
#endif
  vec3 color = t.a == 1.0 || isFlat ? t.rgb : mix(vec3(bare), t.rgb, t.a);
#ifndef VALUES
  if (isFlat) return color;
#endif
#ifdef FORMED
  // A mask is flat: without a little shading nobody would know where on the model they are.
  vec3 n = unpackNormal(found.z);
  color *= 0.78 + 0.16 * max(0.0, dot(n, normalize(vec3(0.3, 0.6, 0.75)))) + 0.06 * n.y;
#endif
#ifdef LIT
  vec3 n = unpackNormal(found.z);
  vec3 light = mix(groundColor, skyColor, n.y * 0.5 + 0.5) + 0.75 * max(0.0, dot(n, towardKey));
  if (back > 0.0) light += back * max(0.0, dot(n, normalize(vec3(-towardKey.x, towardKey.y * 0.4, -towardKey.z))));
  color *= light;
#endif
#ifdef TOON
  // See stepped() in core/light; what looks away from the lamp is dark.
  vec3 n = unpackNormal(found.z);
  float lit = dot(n, towardKey) * 0.5 + 0.5;
#ifdef DETAIL
  vec4 detail = detailTexel(number, uv, wide);
#ifdef RAMPS
  if (isOnRamp) detail = vec4(0.0);
#endif
  // 128 of 255 leaves the light as it is.
  if (detail.a > 0.0) lit += detail.r - 128.0 / 255.0;
#endif
  float at = lit * float(tones);
  float tone = 0.0;
  for (int k = 1; k < tones; k++) tone += smoothstep(float(k) - toneEdge, float(k) + toneEdge, at);
  color *= mix(shade, vec3(1.0), tone / float(tones - 1));
#ifdef DETAIL
  // The more of a highlight is kept, the farther round from where lamp and eye meet it reaches.
  float glint = max(0.0, dot(n, normalize(towardKey + towardEye)));
  float least = mix(1.0, 0.9, detail.b);
  if (detail.a > 0.0 && detail.b > 0.004) color = mix(color, highlight, smoothstep(least - 0.004, least + 0.004, glint));
#endif
#endif
#ifdef VALUES
  // Value as painters judge it: luminance of the light, shown in even steps (IEC 61966-2-1 both ways).
  vec3 l = mix(color / 12.92, pow((color + 0.055) / 1.055, vec3(2.4)), step(0.04045, color));
  float y = dot(l, vec3(0.2126, 0.7152, 0.0722));
  color = vec3(y <= 0.0031308 ? y * 12.92 : 1.055 * pow(y, 1.0 / 2.4) - 0.055);
#endif
  return color;
#endif
}

void main() {
  ivec2 at = ivec2(gl_FragCoord.xy) - origin;
  vec4 found = texelFetch(lookup0, at, 0);
  vec2 place = texelFetch(kind, at, 0).rg;
  float wide = place.r > 0.0 ? exp2(place.r * 16.0 - 16.0) : 0.0;
  vec3 color = colorOf(found, wide);
#ifdef SMOOTH
  bool isFar = !exact && wide * float(textureSize(sheet0, 0).x) >= 1.5;
  // In a loop, so that the other places are only looked at where there is need.
  int last = place.g > 0.5 || isFar ? 3 : 0;
  for (int k = 1; k <= last; k++) {
    vec4 other = k == 1 ? texelFetch(lookup1, at, 0) : k == 2 ? texelFetch(lookup2, at, 0) : texelFetch(lookup3, at, 0);
    color += colorOf(other, wide);
  }
  if (last > 0) color *= 0.25;
#endif
#ifdef MARKED
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
#endif
  outColor = vec4(color, 1.0);
}`;
