export { FAIR_WEATHER, SHIPPED_WEATHERS, mixWeather, rainWord, type NamedWeather, type Weather } from './weather';
export { FLAKE_SPEED, dropSpeed, medianDropMm, rainExtinction, seenDrops, snowExtinction, snowShare } from './falling';
export { CUE_MIN, GROUND, dryingMin, groundAfter, groundAt, type Ground } from './ground';
export { flashLux, lightningAt } from './lightning';
export { NO_WATER, WATER_INDEX, throughWater, waterExtinction, waterReflectance, waveSlope, wetAlbedo, type Water } from './water';
export {
  NOISE_GLSL,
  SNOW_ALBEDO,
  WATER_REFLECTANCE_GLSL,
  WEATHERED_GLSL,
  groundNoise,
  weatheredSurface,
  type WeatheredSurface,
} from './surface';
export { sharesOf, type MaterialRule, type MaterialShares } from './materials';
