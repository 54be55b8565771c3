/** Shader text that several passes share. */

export const SCREEN_VERTEX = /* glsl */ `
in vec3 position;
void main() { gl_Position = vec4(position.xy, 0.0, 1.0); }`;

/** A triangle over everything, without any buffer. */
export const TRIANGLE_VERTEX = /* glsl */ `
void main() { gl_Position = vec4(gl_VertexID == 1 ? 3.0 : -1.0, gl_VertexID == 2 ? 3.0 : -1.0, 0.0, 1.0); }`;

/** Half as many texels: the mean of four, in which the empty ones have no say. That is what bleeding would give. */
export const HALVING_FRAGMENT = /* glsl */ `
precision highp float;
uniform sampler2D sheet;
out vec4 outColor;
void main() {
  ivec2 p = ivec2(gl_FragCoord.xy) * 2;
  vec4 sum = vec4(0.0);
  float covered = 0.0;
  for (int k = 0; k < 4; k++) {
    vec4 t = texelFetch(sheet, p + ivec2(k & 1, k >> 1), 0);
    sum += vec4(t.rgb * t.a, t.a);
    covered += t.a > 0.0 ? 1.0 : 0.0;
  }
  outColor = covered > 0.0 ? vec4(sum.rgb / sum.a, sum.a / covered) : vec4(0.0);
}`;

/** Texels melt into each other where a pixel is no wider than so many of them. */
export const MELTS = 0.8;

/** How texels are read: nearer than one a pixel, from a halving that stands for the sheet, or neither. */
export type Reading = 'plain' | 'near' | 'coarse';

/**
 * How a sheet is read: `smoothTexel` at a place in texels, from the sheet's upper left. One texel a pixel is read as it is; nearer,
 * texels melt into each other (cubic B-spline and Catmull-Rom in equal parts after Mitchell and Netravali 1988), if NEAR is defined;
 * farther, they are read from the halvings. If COARSE is, a halving stands for the sheet: its four nearest texels are mixed. What isn't
 * needed is left out, since a renderer without a GPU is slowed down even by what it doesn't come to.
 */
export const READ_TEXEL = /* glsl */ `
uniform bool exact;
/** The halving that stands for the sheet until that is there; 0 for the sheet itself. */
uniform int leastLevel;

vec4 oneTexel(sampler2D sheet, vec2 place, int level) {
  int size = textureSize(sheet, 0).x >> level;
  return texelFetch(sheet, clamp(ivec2(place / float(1 << level)), ivec2(0), ivec2(size - 1)), level);
}

#ifdef NEAR
vec4 mitchell(float t) {
  float t2 = t * t;
  float t3 = t2 * t;
  return vec4(
    1.0 - 9.0 * t + 15.0 * t2 - 7.0 * t3,
    16.0 - 36.0 * t2 + 21.0 * t3,
    1.0 + 9.0 * t + 27.0 * t2 - 21.0 * t3,
    -6.0 * t2 + 7.0 * t3
  ) / 18.0;
}

vec4 softTexel(sampler2D sheet, vec2 place) {
  vec2 from = place - 0.5;
  ivec2 corner = ivec2(floor(from));
  vec2 t = from - floor(from);
  vec4 across = mitchell(t.x);
  vec4 down = mitchell(t.y);
  ivec2 last = textureSize(sheet, 0) - 1;
  vec4 sum = vec4(0.0);
  float covered = 0.0;
  for (int y = 0; y < 4; y++) {
    for (int x = 0; x < 4; x++) {
      vec4 c = texelFetch(sheet, clamp(corner + ivec2(x - 1, y - 1), ivec2(0), last), 0);
      float w = across[x] * down[y];
      sum += vec4(c.rgb * c.a, c.a) * w;
      if (c.a > 0.0) covered += w;
    }
  }
  // Empty texels beside paint are the sheet's bare places, or what lies beyond an island: the first show through, the second don't
  // matter, since paint reaches past the border.
  return sum.a > 0.003 ? vec4(clamp(sum.rgb / sum.a, 0.0, 1.0), clamp(sum.a, 0.0, 1.0)) : vec4(0.0);
}
#endif

#ifdef COARSE
/** Between the four nearest texels, those that are empty left out. */
vec4 coarseTexel(sampler2D sheet, vec2 place) {
  vec2 from = place / float(1 << leastLevel) - 0.5;
  ivec2 corner = ivec2(floor(from));
  vec2 t = from - floor(from);
  ivec2 last = (textureSize(sheet, 0) >> leastLevel) - 1;
  vec4 sum = vec4(0.0);
  float covered = 0.0;
  for (int k = 0; k < 4; k++) {
    vec4 c = texelFetch(sheet, clamp(corner + ivec2(k & 1, k >> 1), ivec2(0), last), leastLevel);
    float w = ((k & 1) == 1 ? t.x : 1.0 - t.x) * (k > 1 ? t.y : 1.0 - t.y);
    sum += vec4(c.rgb * c.a, c.a) * w;
    if (c.a > 0.0) covered += w;
  }
  return sum.a > 0.003 ? vec4(sum.rgb / sum.a, sum.a / covered) : vec4(0.0);
}
#endif

/** @param texels that a pixel is wide */
vec4 smoothTexel(sampler2D sheet, vec2 place, float texels) {
#ifdef COARSE
  return coarseTexel(sheet, place);
#else
#ifdef NEAR
  if (!exact && texels <= ${MELTS}) return softTexel(sheet, place);
#endif
  return oneTexel(sheet, place, exact || texels < 1.5 ? 0 : clamp(int(log2(texels) + 0.1), 0, 3));
#endif
}`;

/** What lies on another sheet than the one that is shown is left out. */
export const ONLY_SHOWN = /* glsl */ `
in float sheet;
uniform float sheetNumber;
vec4 onlyShown(vec4 place) {
  return abs(sheet - sheetNumber) < 0.5 ? place : vec4(2.0, 2.0, 2.0, 1.0);
}`;

/** The colour of what is chosen, laid over it. */
export const CHOSEN_COLOR = 'vec3(0.94, 0.48, 0.22)';
