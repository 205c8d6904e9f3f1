import { GLSL3, NoBlending, ShaderMaterial, Vector2, Vector3, type Texture } from 'three';
import type { Codes } from './codes';
import { ROW } from './places';

const VERTEX = /* glsl */ `
void main() {
  gl_Position = vec4(position.xy, 0.0, 1.0);
}`;

/** Most layers of halves that take part in one mix; the weakest of more are left out. */
export const MOST_LAYERS = 64;
/** Most compact colours, straight and bounced, and most suns' direct light, that take part in one. */
export const MOST_COLORS = 64;
export const MOST_DIRECT = 4;
/** Groups of layers in compact parts, at most. */
export const MOST_GROUPS = 2;

const FRAGMENT = /* glsl */ `
precision highp sampler2DArray;
precision highp isampler2D;
precision highp usampler2DArray;
uniform isampler2D places;
uniform int top;
uniform bool asDirection;
layout(location = 0) out vec4 mixed;

ivec2 cell(int place) {
  return ivec2(place % ROW, place / ROW);
}

#ifdef HALVES
uniform sampler2DArray stems;
uniform int count;
uniform int layers[LAYERS];
uniform vec3 colors[LAYERS];
uniform vec3 fourths[LAYERS];
vec3 ofHalves(int place) {
  vec3 sum = vec3(0.0);
  for (int k = 0; k < count; k++) {
    vec4 texel = texelFetch(stems, ivec3(cell(place), layers[k]), 0);
    sum += colors[k] * texel.rgb + fourths[k] * texel.a;
  }
  return sum;
}
#endif

#ifdef CODES
uniform usampler2DArray codes;
uniform isampler2D codePlaces;

// Of each group: its first plane, how many fine and coarse coefficients it has, and whether it takes part.
uniform ivec4 groups[GROUPS];
uniform highp sampler2D table0;
uniform highp sampler2D table1;
// Of each colour its first plane, and its gains times what a share of its largest sum stands for.
uniform int colorCount;
uniform int colorPlanes[COLORS];
uniform vec3 colorGains[COLORS];
uniform int directCount;
uniform int directPlanes[DIRECT];
uniform vec3 directGains[DIRECT];
uniform int noisePlane;
uniform vec3 gatheredGain;
uniform vec3 allGain;
uniform vec3 noiseGains[3];

uint byteAt(ivec2 at, int plane) {
  return texelFetch(codes, ivec3(at, plane >> 2), 0)[plane & 3];
}

vec3 ofGroup(ivec2 at, ivec4 group, highp sampler2D table) {
  int plane = group.x;
  uint scale = byteAt(at, plane + 1) | (byteAt(at, plane + 2) << 8u);
  if (scale == 0u) return vec3(0.0);
  int row = int(byteAt(at, plane));
  float fine = exp2((float(byteAt(at, plane + 3)) - 96.0) / 8.0) / 127.0;
  float coarse = exp2((float(byteAt(at, plane + 4)) - 96.0) / 8.0) / 7.5;
  vec3 sum = texelFetch(table, ivec2(0, row), 0).rgb;
  plane += 5;
  for (int n = 0; n < group.y; n++) {
    float v = (float(byteAt(at, plane + n)) - 128.0) * fine;
    sum += v * texelFetch(table, ivec2(1 + n, row), 0).rgb;
  }
  plane += group.y;
  int first = 1 + group.y;
  for (int n = 0; n < group.z; n += 2) {
    uint pair = byteAt(at, plane + (n >> 1));
    sum += (float(pair & 15u) - 7.5) * coarse * texelFetch(table, ivec2(first + n, row), 0).rgb;
    if (n + 1 < group.z) sum += (float(pair >> 4u) - 7.5) * coarse * texelFetch(table, ivec2(first + n + 1, row), 0).rgb;
  }
  return sum * exp2((float(scale) - 40000.0) / 1024.0);
}

vec3 ofColor(ivec2 at, int plane) {
  uint code = byteAt(at, plane) | (byteAt(at, plane + 1) << 8u) | (byteAt(at, plane + 2) << 16u);
  uint level = code & 1023u;
  if (level == 0u) return vec3(0.0);
  float red = float((code >> 10u) & 127u);
  float green = float((code >> 17u) & 127u);
  return exp2((float(level) - 1023.0) * 22.0 / 1023.0) / 127.0 * vec3(red, green, 127.0 - red - green);
}

float noiseOf(uint code) {
  return code == 0u ? 0.0 : exp2((float(code) - 1.0) / 9.0 - 10.0);
}

vec3 ofCodes(int place) {
  ivec2 at = cell(place);
  vec3 sum = vec3(0.0);
  if (groups[0].w != 0) sum += ofGroup(at, groups[0], table0);
  if (groups[1].w != 0) sum += ofGroup(at, groups[1], table1);
  for (int k = 0; k < colorCount; k++) sum += colorGains[k] * ofColor(at, colorPlanes[k]);
  for (int k = 0; k < directCount; k++) {
    float root = float(byteAt(at, directPlanes[k])) / 255.0;
    sum += directGains[k] * (root * root);
  }
  if (noisePlane >= 0) {
    uint first = byteAt(at, noisePlane);
    vec3 noise = vec3(noiseOf(first & 127u), noiseOf(byteAt(at, noisePlane + 1) & 127u), noiseOf(byteAt(at, noisePlane + 2) & 127u));
    sum += gatheredGain * float(first >> 7u) + allGain * max(noise.x, max(noise.y, noise.z));
    sum += noiseGains[0] * noise.x + noiseGains[1] * noise.y + noiseGains[2] * noise.z;
  }
  return sum;
}
#endif

void main() {
  ivec2 own = ivec2(gl_FragCoord.xy);
  int place = texelFetch(places, own - ivec2(0, top), 0).r;
  mixed = vec4(0.0, 0.0, 0.0, 1.0);
  if (place < 0) return;
  vec3 sum = vec3(0.0);
#ifdef HALVES
  sum += ofHalves(place);
#endif
#ifdef CODES
  int below = texelFetch(codePlaces, own, 0).r;
  if (below >= 0) sum += ofCodes(below);
#endif
  // What is shown is to be the number itself, so the display's curve is taken out.
  if (asDirection) mixed.rgb = dot(sum, sum) > 0.0 ? pow(normalize(sum) * 0.4 + 0.4, vec3(2.2)) : vec3(0.0);
  else mixed.rgb = max(sum, vec3(0.0));
}`;

const ENLARGE = /* glsl */ `
uniform sampler2D coarse;
uniform vec2 size;
layout(location = 0) out vec4 enlarged;
void main() {
  enlarged = texture(coarse, gl_FragCoord.xy / size);
}`;

const OFF = { depthTest: false, depthWrite: false, blending: NoBlending } as const;
const vectors = (count: number) => Array.from({ length: count }, () => new Vector3());

/** What draws a mix, of halves and of compact parts where there are any; its source sets what it reads. */
export function mixMaterial(codes: Codes | null): ShaderMaterial {
  return new ShaderMaterial({
    glslVersion: GLSL3,
    defines: {
      ROW,
      LAYERS: MOST_LAYERS,
      COLORS: MOST_COLORS,
      DIRECT: MOST_DIRECT,
      GROUPS: MOST_GROUPS,
      ...(codes ? { CODES: 1 } : {}),
    },
    uniforms: {
      places: { value: null },
      top: { value: 0 },
      asDirection: { value: false },
      stems: { value: null },
      count: { value: 0 },
      layers: { value: new Int32Array(MOST_LAYERS) },
      colors: { value: vectors(MOST_LAYERS) },
      fourths: { value: vectors(MOST_LAYERS) },
      codes: { value: codes?.texture ?? null },
      codePlaces: { value: codes?.places ?? null },
      groups: { value: new Int32Array(MOST_GROUPS * 4) },
      table0: { value: null },
      table1: { value: null },
      colorCount: { value: 0 },
      colorPlanes: { value: new Int32Array(MOST_COLORS) },
      colorGains: { value: vectors(MOST_COLORS) },
      directCount: { value: 0 },
      directPlanes: { value: new Int32Array(MOST_DIRECT) },
      directGains: { value: vectors(MOST_DIRECT) },
      noisePlane: { value: -1 },
      gatheredGain: { value: new Vector3() },
      allGain: { value: new Vector3() },
      noiseGains: { value: vectors(3) },
    },
    vertexShader: VERTEX,
    fragmentShader: FRAGMENT,
    ...OFF,
  });
}

/** What draws a texture in another size. */
export function enlargeMaterial(texture: Texture, width: number, height: number): ShaderMaterial {
  const uniforms = { coarse: { value: texture }, size: { value: new Vector2(width, height) } };
  return new ShaderMaterial({ glslVersion: GLSL3, uniforms, vertexShader: VERTEX, fragmentShader: ENLARGE, ...OFF });
}
