import { LUMINANCE_WEIGHTS } from '../units';
import { MID_GREY } from './midGrey';
import { NIGHT_VISION_GLSL } from './nightVision';
import { TONE_CURVE_GLSL } from './toneCurve';
import { ZONE_EDGE_EV } from './zones';

const LUMA = `vec3(${LUMINANCE_WEIGHTS.join(', ')})`;

/**
 * `colorGrade` in GLSL, `vec3 colorGrade(vec3)`, step for step, by uniforms of the same meaning. A step is left out where its define is
 * not set: `NIGHT`, `BALANCE`, `CDL`, `ZONES`, `CONTRAST`.
 */
export const COLOR_GRADE_GLSL = /* glsl */ `
${TONE_CURVE_GLSL}
${NIGHT_VISION_GLSL}
uniform float gradeWhite;
uniform float gradeNight;
uniform mat3 gradeBalance;
uniform vec3 gradeSlope;
uniform vec3 gradeOffset;
uniform vec3 gradePower;
uniform float gradeSaturation;
uniform vec3 gradeStops[3];
uniform vec2 gradeLimits;
uniform vec2 gradeContrast;
uniform vec4 gradeCurves;
vec3 colorGrade(vec3 rgb) {
#ifdef NIGHT
  rgb = nightVision(rgb * gradeWhite, gradeNight) / gradeWhite;
#endif
#ifdef BALANCE
  rgb = gradeBalance * rgb;
#endif
#ifdef CDL
  rgb = pow(max(vec3(0.0), rgb * gradeSlope + gradeOffset), gradePower);
  float luma = dot(rgb, ${LUMA});
  rgb = max(vec3(0.0), luma + gradeSaturation * (rgb - luma));
#endif
#ifdef ZONES
  float y = dot(rgb, ${LUMA});
  if (y > 0.0) {
    float ev = log2(y / ${MID_GREY});
    float shadows = 1.0 - smoothstep(gradeLimits.x - ${ZONE_EDGE_EV}, gradeLimits.x + ${ZONE_EDGE_EV}, ev);
    float lights = smoothstep(gradeLimits.y - ${ZONE_EDGE_EV}, gradeLimits.y + ${ZONE_EDGE_EV}, ev) * (1.0 - shadows);
    rgb *= exp2(shadows * gradeStops[0] + (1.0 - shadows - lights) * gradeStops[1] + lights * gradeStops[2]);
  }
#endif
#ifdef CONTRAST
  rgb = gradeContrast.y * pow(max(vec3(0.0), rgb) / gradeContrast.y, vec3(gradeContrast.x));
#endif
  return blendCurves(rgb, gradeCurves);
}`;
