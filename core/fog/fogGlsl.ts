import { BODY_LAMPS, LENGTH_STEPS, NEAREST_LAMP_M } from './look';
import { BODY_STEPS } from './volume';

/** Suns and lamps that a picture's fog is lit by at once. */
export const FOG_SUNS = 2;
export const FOG_LAMPS = 16;
/** Bodies of fog of their own that a picture shows at once. */
export const FOG_BODIES = 4;
/** Places along a look, with shadows and without, and along a lamp's halo. */
const LAMP_STEPS = 8;

/**
 * `lookThrough` in GLSL. `float fogThrough(eyeM, rise, distance)` is what of a thing reaches the eye through the fog,
 * `vec3 fogScattered(eye, look, distance, jitter)` what the fog sends; a distance over {@link SKY_M} is the sky's. What shades the fog is asked
 * of `float fogSunShade(vec3 place, int sun)`, `float fogLampShade(vec3 place, int lamp)` and `float fogSkyShade(vec3 place)`, which stand before this.
 * `FOG_STEPS` is how many places of a look are looked up. With `BODIES`, `void fogBodies(eye, look, distance, inout scattered)` puts bodies of fog into it, given with
 * the nearest first, and `float fogBodiesThrough(eye, look, distance)` is what they let through.
 */
export const FOG_GLSL = /* glsl */ `
uniform float fogExtinction;
uniform float fogBase;
uniform float fogThinning;
uniform float fogStart;
uniform float fogMost;
uniform float fogForward;
uniform vec3 fogAlbedo;
uniform float fogOverSky;
uniform vec3 fogSky[9];
uniform int fogSunCount;
uniform vec3 fogSunDirection[${FOG_SUNS}];
uniform vec3 fogSunLight[${FOG_SUNS}];
uniform int fogLampCount;
uniform vec3 fogLampAt[${FOG_LAMPS}];
uniform vec3 fogLampCandela[${FOG_LAMPS}];
uniform vec3 fogLampAxis[${FOG_LAMPS}];
uniform vec2 fogLampCone[${FOG_LAMPS}];
const float FOG_PI = 3.14159265;
const float FOG_SKY = ${(1e7).toFixed(1)};
float fogDecayed(float x) { return abs(x) < 1e-4 ? 1.0 - 0.5 * x : (1.0 - exp(-x)) / x; }
float fogThinned(float y) { return fogExtinction * exp(-max(0.0, y - fogBase) * fogThinning); }
// What is thicker above: its height, 1 / its soft height, and its gain.
#ifdef FOG_ABOVE
uniform vec3 fogAbove;
float fogExtra(float y) { return fogAbove.z * fogThinned(y) * exp(-max(0.0, fogAbove.x - y) * fogAbove.y); }
float fogAboveDepth(float from, float rise, float len) {
  vec2 passes = abs(rise) < 1e-6 ? vec2(0.0) : clamp((vec2(fogBase, fogAbove.x) - from) / rise, 0.0, len);
  float cuts[4] = float[4](0.0, min(passes.x, passes.y), max(passes.x, passes.y), len);
  float depth = 0.0;
  for (int i = 0; i < 3; i++) {
    float start = cuts[i], end = cuts[i + 1];
    if (end <= start) continue;
    float middle = from + rise * 0.5 * (start + end);
    float k = rise * ((middle > fogBase ? fogThinning : 0.0) - (middle < fogAbove.x ? fogAbove.y : 0.0));
    depth += fogExtra(from + rise * (k > 0.0 ? start : end)) * (end - start) * fogDecayed(abs(k) * (end - start));
  }
  return depth;
}
float fogAt(float y) { return fogThinned(y) + fogExtra(y); }
#else
float fogAt(float y) { return fogThinned(y); }
#endif
float fogOver(float from, float rise, float len) {
  float k = rise * fogThinning;
  return fogThinned(from) * len * fogDecayed(max(k * len, -80.0));
}
float fogThinnedDepth(float from, float rise, float len) {
  if (len <= 0.0) return 0.0;
  bool under = from < fogBase || (from == fogBase && rise < 0.0);
  float cut = abs(rise) < 1e-6 ? -1.0 : (fogBase - from) / rise;
  if (cut > 0.0 && cut < len) {
    return under ? fogExtinction * cut + fogOver(fogBase, rise, len - cut) : fogOver(from, rise, cut) + fogExtinction * (len - cut);
  }
  return under ? fogExtinction * len : fogOver(from, rise, len);
}
// Optical depth of a fog that is 1 / fogMost as thick as it is seen.
float fogDepth(float from, float rise, float len) {
  float depth = fogThinnedDepth(from, rise, len);
  #ifdef FOG_ABOVE
    if (len > 0.0) depth += fogAboveDepth(from, rise, len);
  #endif
  return depth;
}
float fogLengthOver(float start, float k, float depth) {
  float x = k * depth / start;
  if (abs(x) < 1e-4) return depth / start * (1.0 + 0.5 * x);
  return x >= 1.0 ? 1e6 : -log(1.0 - x) / k;
}
float fogThinnedLength(float from, float rise, float depth) {
  bool under = from < fogBase || (from == fogBase && rise < 0.0);
  float cut = abs(rise) < 1e-6 ? -1.0 : (fogBase - from) / rise;
  float k = rise * fogThinning;
  if (under) {
    if (cut <= 0.0 || depth <= fogExtinction * cut) return depth / fogExtinction;
    return cut + fogLengthOver(fogExtinction, k, depth - fogExtinction * cut);
  }
  if (cut > 0.0) {
    float first = fogOver(from, rise, cut);
    if (depth > first) return cut + (depth - first) / fogExtinction;
  }
  return fogLengthOver(fogThinned(from), k, depth);
}
float fogLength(float from, float rise, float depth) {
  float most = fogThinnedLength(from, rise, depth);
  #ifdef FOG_ABOVE
    float low = fogThinnedLength(from, rise, depth / (1.0 + fogAbove.z)), high = min(most, 1e6), at = low;
    for (int i = 0; i < ${LENGTH_STEPS}; i++) {
      float over = fogDepth(from, rise, at) - depth;
      if (over > 0.0) high = at; else low = at;
      float next = at - over / fogAt(from + rise * at);
      at = next >= low && next <= high ? next : 0.5 * (low + high);
    }
    return at;
  #endif
  return most;
}
float fogPhase(float cosine) {
  float g = fogForward;
  return 3.0 / (8.0 * FOG_PI) * (1.0 - g * g) / (2.0 + g * g) * (1.0 + cosine * cosine) / pow(1.0 + g * g - 2.0 * g * cosine, 1.5);
}
float fogHidden(float eyeHeight, float rise, float dist) {
  return 1.0 - exp(-fogDepth(eyeHeight + rise * fogStart, rise, dist - fogStart));
}
float fogThrough(float eyeHeight, float rise, float dist) {
  return 1.0 - (dist >= FOG_SKY ? fogOverSky : 1.0) * fogMost * fogHidden(eyeHeight, rise, dist);
}
vec3 fogSkyward(vec3 d) {
  return max(vec3(0.0), fogSky[0] + fogSky[1] * -d.z + fogSky[2] * d.y + fogSky[3] * d.x + fogSky[4] * (d.x * -d.z) + fogSky[5] * (-d.z * d.y)
    + fogSky[6] * (3.0 * d.y * d.y - 1.0) + fogSky[7] * (d.x * d.y) + fogSky[8] * (d.x * d.x - d.z * d.z));
}
float fogCone(int lamp, vec3 fromLamp) {
  vec2 cone = fogLampCone[lamp];
  return cone.x < -1.0 ? 1.0 : smoothstep(cone.y, cone.x, dot(normalize(fromLamp), fogLampAxis[lamp]));
}
vec3 fogHalo(int lamp, vec3 eye, vec3 look, float dist) {
  vec3 to = fogLampAt[lamp] - eye;
  float nearest = dot(to, look);
  float apart = max(0.01, sqrt(max(0.0, dot(to, to) - nearest * nearest)));
  float first = atan(fogStart - nearest, apart);
  float last = atan(dist - nearest, apart);
  if (last <= first) return vec3(0.0);
  float sum = 0.0;
  for (int i = 0; i < ${LAMP_STEPS}; i++) {
    float angle = mix(first, last, (float(i) + 0.5) / ${LAMP_STEPS}.0);
    float at = nearest + apart * tan(angle);
    vec3 place = eye + look * at;
    float far = apart / cos(angle);
    float share = fogCone(lamp, place - fogLampAt[lamp]);
    if (share == 0.0) continue;
    float depth = fogDepth(eye.y + look.y * fogStart, look.y, at - fogStart) + fogDepth(place.y, (fogLampAt[lamp].y - place.y) / far, far);
    sum += share * fogLampShade(place, lamp) * fogAt(place.y) * fogPhase(-sin(angle)) * exp(-depth);
  }
  return fogLampCandela[lamp] * (sum / ${LAMP_STEPS}.0 * (last - first) / apart);
}
// Of the suns and the sky that reach a place.
vec3 fogByDay(vec3 skyward, vec3 look, vec3 place) {
  vec3 lit = skyward * fogSkyShade(place);
  for (int k = 0; k < ${FOG_SUNS}; k++) {
    if (k >= fogSunCount) break;
    vec3 d = fogSunDirection[k];
    // An even fog has no top; in one that thins the light comes down through what is over it.
    float arrives = fogThinning > 0.0 ? exp(-fogThinned(place.y) / (fogThinning * d.y) - fogExtinction * max(0.0, fogBase - place.y) / d.y) : 1.0;
    #ifdef FOG_ABOVE
      if (fogThinning > 0.0) arrives *= exp(-fogAboveDepth(place.y, d.y, 1e6));
    #endif
    lit += fogSunLight[k] * (arrives * fogPhase(dot(look, d)) * fogSunShade(place, k));
  }
  return lit;
}
vec3 fogScattered(vec3 eye, vec3 look, float dist, float jitter) {
  float from = eye.y + look.y * fogStart;
  float hidden = min(0.9999, fogHidden(eye.y, look.y, dist));
  vec3 sum = vec3(0.0);
  if (hidden > 0.0) {
    vec3 skyward = fogSkyward(look);
    for (int i = 0; i < FOG_STEPS; i++) {
      float t = fogStart + fogLength(from, look.y, -log(1.0 - (float(i) + jitter) / float(FOG_STEPS) * hidden));
      sum += fogByDay(skyward, look, eye + look * t);
    }
    sum *= hidden / float(FOG_STEPS);
    for (int k = 0; k < ${FOG_LAMPS}; k++) {
      if (k >= fogLampCount) break;
      sum += fogHalo(k, eye, look, min(dist, 2000.0));
    }
  }
  return sum * fogAlbedo * (fogMost * (dist >= FOG_SKY ? fogOverSky : 1.0));
}
#ifdef BODIES
uniform int bodyCount;
uniform vec3 bodyAt[${FOG_BODIES}];
uniform vec3 bodyHalf[${FOG_BODIES}];
// Cosine and sine of its turn, 1 for a ball, and its softness.
uniform vec4 bodyTurn[${FOG_BODIES}];
uniform vec4 bodyColor[${FOG_BODIES}];
vec3 inBody(int b, vec3 v) {
  vec4 turn = bodyTurn[b];
  return vec3(v.x * turn.x + v.z * turn.y, v.y, v.z * turn.x - v.x * turn.y) / bodyHalf[b];
}
vec2 bodyWay(int b, vec3 eye, vec3 look, float dist) {
  vec3 o = inBody(b, eye - bodyAt[b]);
  vec3 d = inBody(b, look);
  vec2 way;
  if (bodyTurn[b].z > 0.5) {
    float aa = dot(d, d), bb = dot(o, d), root = bb * bb - aa * (dot(o, o) - 1.0);
    if (root <= 0.0) return vec2(0.0);
    way = vec2(-bb - sqrt(root), -bb + sqrt(root)) / aa;
  } else {
    vec3 safe = mix(d, vec3(1e-6), lessThan(abs(d), vec3(1e-6)));
    vec3 p = (-1.0 - o) / safe, q = (1.0 - o) / safe;
    vec3 low = min(p, q), high = max(p, q);
    way = vec2(max(low.x, max(low.y, low.z)), min(high.x, min(high.y, high.z)));
  }
  return vec2(max(0.0, way.x), min(way.y, dist));
}
float bodyDensity(int b, vec3 place) {
  vec3 p = abs(inBody(b, place - bodyAt[b]));
  float soft = max(1e-3, bodyTurn[b].w);
  if (bodyTurn[b].z > 0.5) return 1.0 - smoothstep(1.0 - soft, 1.0, length(p));
  vec3 edge = 1.0 - smoothstep(vec3(1.0 - soft), vec3(1.0), p);
  return edge.x * edge.y * edge.z;
}
float fogBodiesThrough(vec3 eye, vec3 look, float dist) {
  float depth = 0.0;
  for (int b = 0; b < ${FOG_BODIES}; b++) {
    if (b >= bodyCount) break;
    vec2 way = bodyWay(b, eye, look, dist);
    float len = (way.y - way.x) / ${BODY_STEPS}.0;
    if (len <= 0.0) continue;
    for (int i = 0; i < ${BODY_STEPS}; i++) depth += bodyColor[b].a * len * bodyDensity(b, eye + look * (way.x + (float(i) + 0.5) * len));
  }
  return exp(-depth);
}
vec3 fogLit(vec3 skyward, vec3 look, vec3 place) {
  vec3 lit = fogByDay(skyward, look, place);
  for (int k = 0; k < ${BODY_LAMPS}; k++) {
    if (k >= fogLampCount) break;
    vec3 to = fogLampAt[k] - place;
    float far = max(${NEAREST_LAMP_M}, length(to));
    lit += fogLampCandela[k] * (fogCone(k, -to) * fogLampShade(place, k) * fogPhase(dot(look, to) / far) / (far * far));
  }
  return lit;
}
void fogBodies(vec3 eye, vec3 look, float dist, inout vec3 scattered) {
  float whole = fogHidden(eye.y, look.y, dist);
  vec3 ofBodies = vec3(0.0);
  vec3 skyward = fogSkyward(look);
  float through = 1.0, kept = 0.0, before = 0.0;
  for (int b = 0; b < ${FOG_BODIES}; b++) {
    if (b >= bodyCount) break;
    vec2 way = bodyWay(b, eye, look, dist);
    float len = (way.y - way.x) / ${BODY_STEPS}.0;
    if (len <= 0.0) continue;
    float here = fogHidden(eye.y, look.y, way.x);
    kept += (here - before) * through;
    for (int i = 0; i < ${BODY_STEPS}; i++) {
      vec3 place = eye + look * (way.x + (float(i) + 0.5) * len);
      float after = fogHidden(eye.y, look.y, way.x + (float(i) + 1.0) * len);
      float next = through * exp(-bodyColor[b].a * len * bodyDensity(b, place));
      kept += (after - here) * 0.5 * (through + next);
      if (through - next > 1e-5) ofBodies += (through - next) * bodyColor[b].rgb * (1.0 - fogMost * 0.5 * (here + after)) * fogLit(skyward, look, place);
      through = next;
      here = after;
    }
    before = here;
  }
  kept += (whole - before) * through;
  if (whole > 0.0) scattered *= kept / whole;
  scattered += ofBodies;
}
#endif`;

/** A distance that stands for the sky in the picture, metres. */
export const SKY_M = 1e7;
