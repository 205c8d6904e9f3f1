/** Where and when a level lies. */
export interface Place {
  /** North positive, -90..90. */
  latitudeDeg: number;
  /** East positive, -180..180. */
  longitudeDeg: number;
  /** Metres above the sea. */
  heightM: number;
  /** Hours that the place's clock is ahead of UTC. */
  utcOffsetH: number;
  /** Local date, `YYYY-MM-DD`. */
  date: string;
}

const DAY_MS = 86_400_000;

/** The moment at which the place's clock shows `hour` (any number; 25 is one in the morning of the next day) of its date. */
export function momentAt({ date, utcOffsetH }: Pick<Place, 'date' | 'utcOffsetH'>, hour: number): Date {
  return new Date(Date.parse(`${date}T00:00:00Z`) + (hour - utcOffsetH) * 3_600_000);
}

/** Hours since midnight of the place's date at a moment; under 0 or over 24 on other days. */
export function hourAt({ date, utcOffsetH }: Pick<Place, 'date' | 'utcOffsetH'>, moment: Date): number {
  return (moment.getTime() - Date.parse(`${date}T00:00:00Z`)) / 3_600_000 + utcOffsetH;
}

/** The date `days` later, `YYYY-MM-DD`. */
export function dateAfter(date: string, days: number): string {
  return new Date(Date.parse(`${date}T00:00:00Z`) + days * DAY_MS).toISOString().slice(0, 10);
}

/** Whether a text is a date of the calendar, `YYYY-MM-DD`, between the years 1700 and 2200 that the ephemeris is good for. */
export function isDate(text: string): boolean {
  if (!/^\d{4}-\d{2}-\d{2}$/.test(text)) return false;
  const time = Date.parse(`${text}T00:00:00Z`);
  const year = Number(text.slice(0, 4));
  return Number.isFinite(time) && new Date(time).toISOString().startsWith(text) && year >= 1700 && year <= 2200;
}
