import { chromaticity, mixRgb, rgbFromHex, scaleRgb, type Rgb } from '../../units';
import { STEMS, type Holds, type StemName } from '../document/types';

/** RGB per stem. */
export type StemGains = Readonly<Record<StemName, Rgb>>;

/** What a cue's trims, or a blend of them, multiply each stem by. */
export function stemGains(held: readonly { mix: Holds['mix']; share: number }[]): StemGains {
  const gainOf = (stem: StemName): Rgb => {
    const sum: Rgb = [0, 0, 0];
    for (const { mix, share } of held) {
      const trim = mix?.[stem];
      const own: Rgb = trim ? scaleRgb(chromaticity(rgbFromHex(trim.tint)), trim.level) : [1, 1, 1];
      for (let c = 0; c < 3; c++) sum[c]! += share * own[c]!;
    }
    return sum;
  };
  return Object.fromEntries(STEMS.map((stem) => [stem, gainOf(stem)])) as unknown as StemGains;
}

/** Gains part of the way from one lighting's to another's. */
export const mixStemGains = (from: StemGains, to: StemGains, t: number): StemGains =>
  Object.fromEntries(STEMS.map((stem) => [stem, mixRgb(from[stem], to[stem], t)])) as unknown as StemGains;

/** Stems that the sun makes, and those that shade has its light from. */
const SUNNY: readonly StemName[] = ['sun', 'bounce'];
const SHADY: readonly StemName[] = ['sky', 'skyBounce'];

/**
 * Lightens shade against the sun, the light of open ground kept: sun and bounce by one gain, the sky by another that is `shadeEv` stops more.
 *
 * @param groundLux what sun and sky each give open, level ground
 */
export function withShade(gains: StemGains, shadeEv: number, groundLux: { sun: number; sky: number }): StemGains {
  if (shadeEv === 0 || groundLux.sun <= 0 || groundLux.sky <= 0) return gains;
  const more = 2 ** shadeEv;
  const sun = (groundLux.sun + groundLux.sky) / (groundLux.sun + more * groundLux.sky);
  const scaled = STEMS.map((stem) => [
    stem,
    SUNNY.includes(stem) ? scaleRgb(gains[stem], sun) : SHADY.includes(stem) ? scaleRgb(gains[stem], sun * more) : gains[stem],
  ]);
  return Object.fromEntries(scaled) as unknown as StemGains;
}
