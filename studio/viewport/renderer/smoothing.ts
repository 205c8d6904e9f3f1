/** Edges smoothed along where neighbouring points differ most: luma edges found and blurred along their way (after Lottes 2009). */
export const SMOOTHING_GLSL = /* glsl */ `
uniform sampler2D picture;
uniform vec2 texel;
float lumaAt(vec2 at) { return dot(textureLod(picture, at, 0.0).rgb, vec3(0.299, 0.587, 0.114)); }
void main() {
  vec3 own = textureLod(picture, uv0, 0.0).rgb;
  float m = dot(own, vec3(0.299, 0.587, 0.114));
  float nw = lumaAt(uv0 + texel * vec2(-1.0, 1.0)), ne = lumaAt(uv0 + texel);
  float sw = lumaAt(uv0 - texel), se = lumaAt(uv0 + texel * vec2(1.0, -1.0));
  float low = min(m, min(min(nw, ne), min(sw, se))), high = max(m, max(max(nw, ne), max(sw, se)));
  outColor = vec4(own, 1.0);
  if (high - low < max(0.03, high * 0.12)) return;
  vec2 way = vec2((sw + se) - (nw + ne), (nw + sw) - (ne + se));
  way = clamp(way / (min(abs(way.x), abs(way.y)) + max((nw + ne + sw + se) * 0.03125, 0.0078)), -8.0, 8.0) * texel;
  vec3 near = 0.5 * (textureLod(picture, uv0 - way / 6.0, 0.0).rgb + textureLod(picture, uv0 + way / 6.0, 0.0).rgb);
  vec3 wide = 0.5 * near + 0.25 * (textureLod(picture, uv0 - way * 0.5, 0.0).rgb + textureLod(picture, uv0 + way * 0.5, 0.0).rgb);
  float luma = dot(wide, vec3(0.299, 0.587, 0.114));
  outColor = vec4(luma < low || luma > high ? near : wide, 1.0);
}`;
