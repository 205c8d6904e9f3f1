import { emissionOf, measuredFlux, readIes } from '../../core/lamps';
import { lampsOf, type Rig } from '../../core/rig';
import { kelvinFromRgb } from '../../core/units';

const rounded = (v: number) => Number(v.toPrecision(6));

/** What an IES file holds, as it is printed. `lumens` is the flux that its candela come to; `ratedLumens` what the file says its lamps give. */
export function iesReport(text: string) {
  const file = readIes(text);
  const { vertical, horizontal, candela, lumensPerLamp, lamps, ballast } = file;
  const lumens = measuredFlux(file);
  const rated = lumensPerLamp === null ? null : lumensPerLamp * lamps;
  return {
    edition: file.edition,
    photometry: lumensPerLamp === null ? 'absolute' : 'relative',
    type: file.type,
    verticalAngles: vertical.length,
    horizontalAngles: horizontal.length,
    verticalRangeDeg: [vertical[0]!, vertical.at(-1)!],
    horizontalRangeDeg: [horizontal[0]!, horizontal.at(-1)!],
    lamps,
    ratedLumens: rated,
    ballastFactor: ballast,
    lumens: rounded(lumens),
    /** Of the lamps' rated flux, what leaves the luminaire; the ballast left out. */
    efficiency: rated === null || rated === 0 ? null : rounded(lumens / ballast / rated),
    peakCandela: rounded(candela.reduce((a, b) => Math.max(a, b), 0)),
    openingM: file.opening.map(rounded),
    watts: file.watts,
    keywords: file.keywords,
    remarks: file.remarks,
  };
}

/** Every lamp that stands in a rig's level, as it is printed. */
export function lampsReport(rig: Rig) {
  const circuits = new Map(rig.circuits.map((c) => [c.id, c.name]));
  const fixtureOf = new Map(rig.placed.map((p) => [p.id, rig.fixtures.find((f) => f.id === p.fixtureId)!.name]));
  return lampsOf(rig).map((lamp) => {
    const { flux, peak, color } = emissionOf(lamp, rig.profiles);
    return {
      id: lamp.id,
      name: lamp.name,
      kind: lamp.shape.kind,
      fixture: lamp.placedId === null ? null : fixtureOf.get(lamp.placedId)!,
      circuit: lamp.circuitId === null ? null : circuits.get(lamp.circuitId)!,
      baked: lamp.kept,
      lumens: rounded(flux),
      peakCandela: rounded(peak),
      kelvin: lamp.color.by === 'kelvin' ? lamp.color.kelvin : Math.round(kelvinFromRgb(color) ?? 0) || null,
      atM: lamp.at,
      aimDeg: [lamp.aim.azimuthDeg, lamp.aim.elevationDeg, lamp.aim.rollDeg],
      reachM: lamp.reachM,
    };
  });
}
