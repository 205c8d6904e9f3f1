import cities from 'city-timezones';
import type { CityView } from '../../core/api';

const LIMIT = 8;

/** Letters without their accents, small: "São" is found by "sao". */
const plain = (text: string) => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();

// Some dozens of small places come without a time zone, and so without a clock.
const named = cities.cityMapping
  .filter(({ timezone }) => timezone)
  .map((city) => ({ city, keys: [plain(city.city), plain(city.city_ascii), plain(city.country)] }));

/**
 * Cities whose name begins with the text, then those whose country does, the larger first; none for an empty text. Places,
 * inhabitants and time zones are those of the package city-timezones.
 */
export function findCities(text: string): CityView[] {
  const wanted = plain(text.trim());
  if (wanted === '') return [];
  const rank = ({ keys }: (typeof named)[number]) =>
    keys[0]!.startsWith(wanted) || keys[1]!.startsWith(wanted) ? 2 : keys[2]!.startsWith(wanted) ? 1 : 0;
  return named
    .map((entry) => ({ ...entry, rank: rank(entry) }))
    .filter((entry) => entry.rank > 0)
    .sort((a, b) => b.rank - a.rank || b.city.pop - a.city.pop)
    .slice(0, LIMIT)
    .map(({ city }) => ({
      name: city.city,
      country: city.country,
      latitudeDeg: Number(city.lat.toFixed(4)),
      longitudeDeg: Number(city.lng.toFixed(4)),
      timeZone: city.timezone,
    }));
}
