export * from './angles';
export { Failure, type FailureCode } from './failure';
export { chromaticity, decodeSrgb, encodeSrgb, hexFromRgb, rgbFromHex, rgbFromXyz } from './color';
export * from './exposure';
export { KELVIN_RANGE, chromaticityOfKelvin, daylightChromaticity, kelvinFromRgb, planckianChromaticity, rgbFromKelvin } from './kelvin';
export { LUMINANCE_WEIGHTS, discSolidAngle, luminance, mixRgb, scaleRgb, type Rgb } from './photometry';
export { orderedJson, sameJson } from './orderedJson';
export { percent } from './percent';
export { smoothstep } from './smoothstep';
