import { openGroundLight, type Lighting } from '../../core/rig';
import { luminance } from '../../core/units';
import {
  dryingMin,
  dropSpeed,
  medianDropMm,
  rainExtinction,
  rainWord,
  snowExtinction,
  waterReflectance,
  type Weather,
} from '../../core/weather';

const rounded = (v: number) => Number(v.toPrecision(5));

/** What a moment's weather and water are and do, in numbers. */
export function weatherReport(lighting: Lighting, weather: Weather) {
  const { weather: now, water, fog } = lighting;
  const { sun, sky } = openGroundLight(lighting);
  const [rain, snow] = [now?.rainMmH ?? 0, now?.snowMmH ?? 0];
  return {
    weather,
    word: rainWord(weather.rateMmH),
    rainMmH: rounded(rain),
    snowMmH: rounded(snow),
    /** Of the drops that half the water lies over. */
    dropMm: rain > 0 ? rounded(medianDropMm(rain)) : null,
    dropMps: rain > 0 ? rounded(dropSpeed(medianDropMm(rain))) : null,
    /** What falls takes of light per metre. */
    extinctionPerM: rounded(rainExtinction(rain) + snowExtinction(snow, weather.temperatureC)),
    visibilityM: fog && fog.fog.visibilityM !== Infinity ? rounded(fog.fog.visibilityM) : null,
    ground: now?.ground ?? { wet: 0, puddles: 0, snow: 0, dust: 0 },
    dryingMin: rounded(dryingMin(weather)),
    openGroundLux: { sun: rounded(luminance(sun)), sky: rounded(luminance(sky)) },
    /** Share of light that the water's surface reflects, looked at straight down and at 80 degrees off. */
    water: water && { ...water, reflects: [1, Math.cos((80 * Math.PI) / 180)].map((c) => rounded(waterReflectance(c))) },
  };
}
