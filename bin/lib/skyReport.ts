import { hourAt, momentAt, moonEvents, moonIlluminance, moonOver, sunEvents, sunOver, type Place } from '../../core/almanac';
import type { Lighting } from '../../core/rig';
import { CLEAR_AIR, illuminanceBelow, paintPanorama, panoramaIlluminance, skyRadiance, visibleDisc } from '../../core/sky';
import { anglesFromDirection, kelvinFromRgb, luminance, rgbFromKelvin, scaleRgb } from '../../core/units';

/** The sky of a moment as a panorama and in numbers. */
export function skyReport(lighting: Lighting, width: number) {
  const panorama = paintPanorama(lighting.sky, width);
  const direct = lighting.suns.reduce((sum, s) => sum + luminance(s.illuminance) * Math.max(0, s.direction[1]), 0);
  const diffuse = luminance(panoramaIlluminance(panorama));
  return {
    panorama,
    report: {
      width: panorama.width,
      height: panorama.height,
      unit: 'cd/m2, without the discs of sun and moon',
      directHorizontalLux: direct,
      diffuseHorizontalLux: diffuse,
      zenithCdM2: luminance(skyRadiance(lighting.sky)([0, 1, 0])),
      lights: lighting.suns.map(({ kind, azimuthDeg, elevationDeg, discDeg, illuminance }) => ({
        kind,
        azimuthDeg,
        elevationDeg,
        discDeg,
        normalLux: luminance(illuminance),
        colorK: kelvinFromRgb(illuminance),
        rgbLux: illuminance,
      })),
      /** Discs that are seen, also of bodies that give no light. */
      discs: lighting.discs.map(({ direction, discDeg, litShare, illuminance, halo }) => ({
        ...anglesFromDirection(direction),
        discDeg,
        litShare,
        normalLux: luminance(illuminance),
        haloLux: halo ? luminance(halo.illuminance) : 0,
      })),
      /** How bright the stars are, as a share of what they are in clear air. */
      stars: lighting.stars.weight,
      exposure: lighting.exposure,
    },
  };
}

interface Asked extends Omit<Place, 'date'> {
  moment: Date;
}

/** Sun and moon over a place: where they stand, the events of the local date, and their light through clear air. */
export function almanacOf({ moment, ...where }: Asked) {
  const date = new Date(moment.getTime() + where.utcOffsetH * 3_600_000).toISOString().slice(0, 10);
  const place: Place = { ...where, date };
  const clock = (hour: number | null) => (hour === null ? null : momentAt(place, hour).toISOString());
  const sun = sunOver(place, moment);
  const moon = moonOver(place, moment);
  const events = sunEvents(place);
  const moons = moonEvents(place);
  const light = (above: number, kelvin: number, elevationDeg: number, discDeg: number) =>
    luminance(illuminanceBelow(CLEAR_AIR, place.heightM, elevationDeg, scaleRgb(rgbFromKelvin(kelvin), above))) *
    visibleDisc(elevationDeg, discDeg);
  const aboveMoon = moonIlluminance(moon.phaseAngleDeg, moon.distanceKm);
  const pair = ([dawn, dusk]: [number | null, number | null]) => ({ dawn: clock(dawn), dusk: clock(dusk) });
  return {
    place: { ...place, localHour: hourAt(place, moment) },
    at: moment.toISOString(),
    sun: {
      ...sun,
      rise: clock(events.rise),
      transit: clock(events.transit),
      set: clock(events.set),
      twilight: { civil: pair(events.civil), nautical: pair(events.nautical), astronomical: pair(events.astronomical) },
      illuminanceAboveLux: 133_000,
      illuminanceLux: light(133_000, 5772, sun.elevationDeg, sun.diameterDeg),
    },
    moon: {
      ...moon,
      rise: clock(moons.rise),
      transit: clock(moons.transit),
      set: clock(moons.set),
      illuminanceAboveLux: aboveMoon,
      illuminanceLux: light(aboveMoon, 4150, moon.elevationDeg, moon.diameterDeg),
    },
  };
}
