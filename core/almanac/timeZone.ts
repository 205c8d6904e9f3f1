/**
 * Hours that clocks of a time zone of the tz database are ahead of UTC at noon of a date, daylight saving included.
 * Throws a RangeError for a zone that this runtime does not know.
 */
export function zoneOffsetH(timeZone: string, date: string): number {
  const noon = new Date(`${date}T12:00:00Z`);
  const format = new Intl.DateTimeFormat('en', { timeZone, hourCycle: 'h23', dateStyle: 'short', timeStyle: 'medium' });
  const part = Object.fromEntries(format.formatToParts(noon).map((p) => [p.type, Number(p.value)]));
  const local = Date.UTC(noon.getUTCFullYear(), part.month! - 1, part.day, part.hour, part.minute, part.second);
  // Historic zones are odd by seconds; a quarter of an hour is the finest step in use since.
  return Math.round((local - noon.getTime()) / 900_000) / 4;
}
