import { FOG_GLSL } from '../../../core/fog';
import { BLOOM_LEVELS, COLOR_GRADE_GLSL, DIRT_GAIN, LENS_GLSL } from '../../../core/grade';
import { LAY_FOG_GLSL, LOOK_GLSL } from './fogPass';
import { BRIGHTEST } from './fullScreen';

/** How far to both sides of an edge its colours are looked for, texels, and by what ratio of distances it is one. */
const EDGE_TEXELS = 2;
const EDGE_RATIO = 1.5;

/** The picture without its grade: what was drawn, under fog and air where there are any. */
export const SCENE_GLSL = /* glsl */ `
uniform sampler2D scenePicture;
#ifdef FALL
uniform sampler2D fallPicture;
#endif
#ifdef FOG
${LOOK_GLSL}
float fogSunShade(vec3 place, int sun) { return 1.0; }
float fogLampShade(vec3 place, int lamp) { return 1.0; }
float fogSkyShade(vec3 place) { return 1.0; }
${FOG_GLSL}
${LAY_FOG_GLSL}
vec3 foggedAt(vec2 uv) { return layFog(textureLod(scenePicture, uv, 0.0).rgb, uv); }
/**
 * Where near meets far a point has the colour of both and the depth of one, and with it fog that is wrong for the other: it is kept between its sides,
 * across and upright. Along an edge the sides are as wrong as the point itself, so the narrower bounds count.
 */
vec3 foggedColor(vec2 uv) {
  vec2 off = ${EDGE_TEXELS.toFixed(1)} / vec2(textureSize(sceneDepth, 0));
  vec3 color = foggedAt(uv);
  vec3 low = vec3(0.0);
  vec3 high = vec3(${BRIGHTEST.toFixed(1)});
  for (int axis = 0; axis < 2; axis++) {
    vec2 side = axis == 0 ? vec2(off.x, 0.0) : vec2(0.0, off.y);
    float one = 1.0 - textureLod(sceneDepth, uv - side, 0.0).r;
    float other = 1.0 - textureLod(sceneDepth, uv + side, 0.0).r;
    if (max(one, other) < ${EDGE_RATIO.toFixed(1)} * max(min(one, other), 1e-7)) continue;
    vec3 a = foggedAt(uv - side);
    vec3 b = foggedAt(uv + side);
    low = max(low, min(a, b));
    high = min(high, max(a, b));
  }
  return min(max(color, low), high);
}
#endif
vec3 sceneColor(vec2 uv) {
#ifdef FOG
  vec3 color = foggedColor(uv);
#else
  vec3 color = textureLod(scenePicture, uv, 0.0).rgb;
#endif
#ifdef FALL
  // What falls before it, its colour times its share.
  vec4 fall = textureLod(fallPicture, uv, 0.0);
  color = color * (1.0 - fall.a) + fall.rgb;
#endif
  return color;
}`;

/** The finished picture of scene values: bloom, vignette, grade and grain, encoded. */
export const DEVELOP = /* glsl */ `
${SCENE_GLSL}
${LENS_GLSL}
${COLOR_GRADE_GLSL}
uniform sampler2D bloomLevels[${BLOOM_LEVELS}];
uniform float bloomAmount;
uniform sampler2D lensDirt;
uniform float dirtAmount;
uniform vec2 vignette;
uniform vec2 grain;
uniform vec2 pictureSize;
uniform float markOver;
vec3 encode(vec3 c) { return mix(1.055 * pow(max(c, vec3(1e-9)), vec3(1.0 / 2.4)) - 0.055, 12.92 * c, lessThanEqual(c, vec3(0.0031308))); }
void main() {
  vec3 rgb = sceneColor(uv0);
#ifdef MARK
  float peak = max(rgb.r, max(rgb.g, rgb.b));
#endif
#ifdef BLOOM
  vec3 spread = ${Array.from({ length: BLOOM_LEVELS }, (_, i) => `textureLod(bloomLevels[${i}], uv0, 0.0).rgb`).join(' + ')};
  rgb += bloomAmount * spread * (1.0 + dirtAmount * ${DIRT_GAIN.toFixed(1)} * textureLod(lensDirt, vec2(uv0.x, 1.0 - uv0.y), 0.0).r);
#endif
#ifdef VIGNETTE
  rgb *= vignetteGain(vignette, uv0, pictureSize.x / pictureSize.y);
#endif
  vec3 shown = encode(clamp(colorGrade(rgb), 0.0, 1.0));
#ifdef GRAIN
  float luma = dot(shown, vec3(0.2126, 0.7152, 0.0722));
  shown += grainAt(grain, vec2(gl_FragCoord.x, pictureSize.y - 1.0 - floor(gl_FragCoord.y)), luma);
#endif
#ifdef MARK
  // What bloom spreads, in stripes.
  if (peak > exp2(markOver)) shown = mix(shown, vec3(0.55, 0.75, 0.3), step(0.5, fract((gl_FragCoord.x + gl_FragCoord.y) / 8.0)));
#endif
  outColor = vec4(shown, 1.0);
}`;
