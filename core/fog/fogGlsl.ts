/** Suns and lamps that a picture's fog is lit by at once. */
export const FOG_SUNS = 2;
export const FOG_LAMPS = 16;
/** Places along a look, with shadows and without, and along a lamp's halo. */
const LAMP_STEPS = 8;

/**
 * `lookThrough` in GLSL. `float fogThrough(eyeM, rise, distance)` is what of a thing reaches the eye through the fog,
 * `vec3 fogScattered(eye, look, distance, jitter)` what the fog sends; a distance over {@link SKY_M} is the sky's. What shades the fog is asked
 * of `float fogSunShade(vec3 place, int sun)`, `float fogLampShade(vec3 place, int lamp)` and `float fogSkyShade(vec3 place)`, which stand before this.
 * `FOG_STEPS` is how many places of a look are looked up.
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
float fogAt(float height) { return fogExtinction * exp(-max(0.0, height - fogBase) * fogThinning); }
float fogOver(float from, float rise, float len) {
  float k = rise * fogThinning;
  return fogAt(from) * len * fogDecayed(min(k * len, 80.0));
}
// Optical depth of a fog that is 1 / fogMost as thick as it is seen.
float fogDepth(float from, float rise, float len) {
  if (len <= 0.0) return 0.0;
  bool under = from < fogBase || (from == fogBase && rise < 0.0);
  float cut = abs(rise) < 1e-6 ? -1.0 : (fogBase - from) / rise;
  if (cut > 0.0 && cut < len) {
    return under ? fogExtinction * cut + fogOver(fogBase, rise, len - cut) : fogOver(from, rise, cut) + fogExtinction * (len - cut);
  }
  return under ? fogExtinction * len : fogOver(from, rise, len);
}
float fogLengthOver(float start, float k, float depth) {
  float x = k * depth / start;
  if (abs(x) < 1e-4) return depth / start * (1.0 + 0.5 * x);
  return x >= 1.0 ? 1e6 : -log(1.0 - x) / k;
}
float fogLength(float from, float rise, float depth) {
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
  return fogLengthOver(fogAt(from), k, depth);
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
vec3 fogScattered(vec3 eye, vec3 look, float dist, float jitter) {
  float from = eye.y + look.y * fogStart;
  float hidden = min(0.9999, fogHidden(eye.y, look.y, dist));
  vec3 sum = vec3(0.0);
  if (hidden > 0.0) {
    vec3 skyward = fogSkyward(look);
    for (int i = 0; i < FOG_STEPS; i++) {
      float t = fogStart + fogLength(from, look.y, -log(1.0 - (float(i) + jitter) / float(FOG_STEPS) * hidden));
      vec3 place = eye + look * t;
      sum += skyward * fogSkyShade(place);
      for (int k = 0; k < ${FOG_SUNS}; k++) {
        if (k >= fogSunCount) break;
        vec3 d = fogSunDirection[k];
        // An even fog has no top; in one that thins the light comes down through what is over it.
        float arrives = fogThinning > 0.0 ? exp(-fogAt(place.y) / (fogThinning * d.y) - fogExtinction * max(0.0, fogBase - place.y) / d.y) : 1.0;
        sum += fogSunLight[k] * (arrives * fogPhase(dot(look, d)) * fogSunShade(place, k));
      }
    }
    sum *= hidden / float(FOG_STEPS);
    for (int k = 0; k < ${FOG_LAMPS}; k++) {
      if (k >= fogLampCount) break;
      sum += fogHalo(k, eye, look, min(dist, 2000.0));
    }
  }
  return sum * fogAlbedo * (fogMost * (dist >= FOG_SKY ? fogOverSky : 1.0));
}`;

/** A distance that stands for the sky in the picture, metres. */
export const SKY_M = 1e7;
