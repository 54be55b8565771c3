/** First pass: for every pixel where on the sheet it looks (uv), which way it faces, and the part it belongs to. */
export const LOOKUP_VERTEX = /* glsl */ `
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

export const LOOKUP_FRAGMENT = /* glsl */ `
precision highp float;
in vec2 vUv;
in vec3 vNormal;
in float vHeat;
in float vChosen;
flat in float vPart;
uniform bool showHeat;
uniform sampler2D parts;
uniform float partCount;
out vec4 outColor;
void main() {
  if (texelFetch(parts, ivec2(int(vPart), 0), 0).r > 0.5) discard;
  vec3 n = normalize(vNormal) * (gl_FrontFacing ? 1.0 : -1.0);
  // Two 12-bit numbers fit the 24 bits of a float exactly.
  vec2 p = n.xy / (abs(n.x) + abs(n.y) + abs(n.z));
  if (n.z < 0.0) p = (1.0 - abs(p.yx)) * vec2(p.x >= 0.0 ? 1.0 : -1.0, p.y >= 0.0 ? 1.0 : -1.0);
  vec2 q = floor((p * 0.5 + 0.5) * 4095.0 + 0.5);
  // What is chosen is marked by a fraction.
  outColor = vec4(vUv, showHeat ? vHeat : q.x * 4096.0 + q.y, vPart + 1.0 + (vChosen > 0.5 ? 0.25 : 0.0));
}`;

export const SCREEN_VERTEX = /* glsl */ `
in vec3 position;
void main() { gl_Position = vec4(position.xy, 0.0, 1.0); }`;

/** Colours of distortion, readable by colour-blind people: orange, grey and blue apart in lightness too; or pale to dark. */
const HEAT_COLORS = /* glsl */ `
vec3 heatColor(float x, bool bothWays) {
  if (!bothWays) return mix(mix(vec3(0.93, 0.92, 0.88), vec3(0.62, 0.55, 0.70), min(1.0, x * 2.0)), vec3(0.22, 0.12, 0.36), max(0.0, x * 2.0 - 1.0));
  vec3 middle = vec3(0.82, 0.82, 0.80);
  return x < 0.5 ? mix(vec3(0.80, 0.42, 0.08), middle, x * 2.0) : mix(middle, vec3(0.08, 0.25, 0.55), x * 2.0 - 1.0);
}`;

/**
 * Reads the sheet of a number; samplers can't be picked by a variable. Only as many as there are: without a GPU every one of them is
 * read for every pixel.
 */
const readSheet = (count: number): string => {
  const numbers = Array.from({ length: count }, (_, k) => k);
  return /* glsl */ `
${numbers.map((k) => `uniform sampler2D sheet${k};`).join('\n')}
vec4 readTexel(sampler2D sheet, vec2 uv) {
  int size = textureSize(sheet, 0).x;
  ivec2 texel = clamp(ivec2(int(uv.x * float(size)), int((1.0 - uv.y) * float(size))), ivec2(0), ivec2(size - 1));
  return texelFetch(sheet, texel, 0);
}
vec4 readSheet(int number, vec2 uv) {
${numbers
  .slice(1)
  .map((k) => `  if (number == ${k}) return readTexel(sheet${k}, uv);`)
  .join('\n')}
  return readTexel(sheet0, uv);
}`;
};

/** Second pass: the texel's bytes go to the screen as they are; nothing converts them. */
export const modelFragment = (sheets: number): string => /* glsl */ `
precision highp float;
precision highp sampler2D;
${HEAT_COLORS}
uniform sampler2D letters;
uniform sampler2D lookup;
uniform sampler2D parts;
${readSheet(sheets)}
uniform ivec2 origin;
uniform ivec2 paneSize;
uniform float ground;
uniform float bare;
uniform int mode;
uniform float hoverPart;
uniform bool someChosen;
uniform vec3 lightDirection;
out vec4 outColor;

vec3 unpackNormal(float packedPair) {
  float x = floor(packedPair / 4096.0);
  vec2 p = vec2(x, packedPair - x * 4096.0) / 4095.0 * 2.0 - 1.0;
  vec3 n = vec3(p, 1.0 - abs(p.x) - abs(p.y));
  if (n.z < 0.0) n.xy = (1.0 - abs(n.yx)) * vec2(n.x >= 0.0 ? 1.0 : -1.0, n.y >= 0.0 ? 1.0 : -1.0);
  return normalize(n);
}

float partAt(ivec2 p) {
  return floor(texelFetch(lookup, clamp(p, ivec2(0), paneSize - 1), 0).w);
}

bool chosenAt(ivec2 p) {
  return fract(texelFetch(lookup, clamp(p, ivec2(0), paneSize - 1), 0).w) > 0.1;
}

void main() {
  ivec2 at = ivec2(gl_FragCoord.xy) - origin;
  vec4 found = texelFetch(lookup, at, 0);
  vec3 color = vec3(ground);
  if (found.w > 0.0) {
    vec2 uv = fract(found.xy);
    int number = int(texelFetch(parts, ivec2(int(found.w) - 1, 0), 0).g * 255.0 + 0.5);
    vec4 t = readSheet(number, uv);
    color = t.a == 1.0 ? t.rgb : mix(vec3(bare), t.rgb, t.a);
    if (mode == 1) {
      vec3 n = unpackNormal(found.z);
      color *= 0.35 + 0.75 * max(0.0, dot(n, lightDirection));
    } else if (mode == 2) {
      // Value as painters judge it: luminance of the light, shown in even steps (IEC 61966-2-1 both ways).
      vec3 l = mix(color / 12.92, pow((color + 0.055) / 1.055, vec3(2.4)), step(0.04045, color));
      float y = dot(l, vec3(0.2126, 0.7152, 0.0722));
      color = vec3(y <= 0.0031308 ? y * 12.92 : 1.055 * pow(y, 1.0 / 2.4) - 0.055);
    } else if (mode == 3) {
      color = texture(letters, vec2(uv.x, 1.0 - uv.y)).rgb;
      vec3 n = unpackNormal(found.z);
      color *= 0.6 + 0.4 * max(0.0, dot(n, lightDirection));
    } else if (mode > 3) {
      color = heatColor(found.z, mode < 6);
    }
  }
  if (someChosen) {
    bool inside = chosenAt(at);
    bool edge = false;
    for (int i = -2; i <= 2; i++) edge = edge || chosenAt(at + ivec2(i, 0)) != inside || chosenAt(at + ivec2(0, i)) != inside;
    if (edge) color = inside ? vec3(1.0) : vec3(0.13);
    else if (inside) color = mix(color, vec3(0.94, 0.48, 0.22), 0.28);
  }
  if (hoverPart > 0.0) {
    bool inside = floor(found.w) == hoverPart;
    bool edge = false;
    for (int i = -2; i <= 2; i++) {
      edge = edge || (partAt(at + ivec2(i, 0)) == hoverPart) != inside || (partAt(at + ivec2(0, i)) == hoverPart) != inside;
    }
    if (edge) color = inside ? vec3(1.0) : vec3(0.13);
  }
  outColor = vec4(color, 1.0);
}`;

/** The sheet itself, seen flat. */
export const SHEET_FRAGMENT = /* glsl */ `
precision highp float;
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
    vec4 t = texelFetch(sheet, ivec2(p), 0);
    if (checker) { outColor = vec4(mix(texture(letters, p / float(size)).rgb, vec3(ground), 0.55), 1.0); return; }
    float check = mod(floor(p.x / 16.0) + floor(p.y / 16.0), 2.0) * 0.02;
    color = t.a == 1.0 ? t.rgb : mix(vec3(ground + 0.05 - check), t.rgb, t.a);
  }
  outColor = vec4(color, 1.0);
}`;

/** What lies on another sheet than the one that is shown is left out. */
const ONLY_SHOWN = /* glsl */ `
in float sheet;
uniform float sheetNumber;
vec4 onlyShown(vec4 place) {
  return abs(sheet - sheetNumber) < 0.5 ? place : vec4(2.0, 2.0, 2.0, 1.0);
}`;

export const LINE_VERTEX = /* glsl */ `
in vec2 uv;
${ONLY_SHOWN}
uniform vec2 corner;
uniform float sheetPixels;
uniform vec2 paneSize;
void main() {
  vec2 p = corner + vec2(uv.x, 1.0 - uv.y) * sheetPixels;
  gl_Position = onlyShown(vec4(p.x / paneSize.x * 2.0 - 1.0, 1.0 - p.y / paneSize.y * 2.0, 0.0, 1.0));
}`;

export const LINE_FRAGMENT = /* glsl */ `
precision highp float;
uniform vec4 color;
out vec4 outColor;
void main() { outColor = color; }`;

/** Triangles on the sheet: distortion, and what is chosen. */
export const FLAT_VERTEX = /* glsl */ `
in vec2 uv;
${ONLY_SHOWN}
in float heat;
in float chosen;
uniform vec2 corner;
uniform float sheetPixels;
uniform vec2 paneSize;
uniform mat3 move;
out float vHeat;
out float vChosen;
void main() {
  vHeat = heat;
  vChosen = chosen;
  vec2 at = chosen > 0.5 ? (move * vec3(uv, 1.0)).xy : uv;
  vec2 p = corner + vec2(at.x, 1.0 - at.y) * sheetPixels;
  gl_Position = onlyShown(vec4(p.x / paneSize.x * 2.0 - 1.0, 1.0 - p.y / paneSize.y * 2.0, 0.0, 1.0));
}`;

export const FLAT_FRAGMENT = /* glsl */ `
precision highp float;
${HEAT_COLORS}
in float vHeat;
in float vChosen;
uniform int mode;
out vec4 outColor;
void main() {
  bool picked = vChosen > 0.5;
  if (mode > 3) outColor = vec4(mix(heatColor(vHeat, mode < 6), vec3(0.94, 0.48, 0.22), picked ? 0.3 : 0.0), 1.0);
  else if (picked) outColor = vec4(0.94, 0.48, 0.22, 0.4);
  else discard;
}`;

/** Lines on the model, some pixels wide: each a quad between two points, left out where the model lies before it. */
export const SEAM_VERTEX = /* glsl */ `
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
  float width = kind > 1.5 ? pixels * 0.5 : pixels;
  vec4 p = mix(a, b, position.x);
  vec2 shift = across * position.y * width + along / l * (position.x * 2.0 - 1.0) * width * 0.4;
  p.xy += shift / (paneSize * 0.5) * p.w;
  vKind = kind;
  vAcross = position.y;
  vAlong = position.x * l;
  gl_Position = p;
}`;

export const SEAM_FRAGMENT = /* glsl */ `
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
  // 0 seam, 1 paint edge (broken by light gaps), 2 border of an island, 3 what is about to be drawn.
  bool rim = abs(vAcross) > 0.55;
  vec3 color = rim ? vec3(0.1) : vec3(0.98, 0.56, 0.25);
  if (vKind > 0.5 && vKind < 1.5 && mod(vAlong, 10.0) < 5.0) color = rim ? vec3(0.1) : vec3(1.0);
  if (vKind > 1.5 && vKind < 2.5) color = vec3(0.12);
  if (vKind > 2.5) color = vec3(1.0);
  outColor = vec4(color, 1.0);
}`;
