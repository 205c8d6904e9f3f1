/** A value of the desk: how it reads, how it is stepped, and what it may be. */
export interface Quantity {
  unit: string;
  min: number;
  max: number;
  /** Text of a value, without its unit. */
  format(value: number): string;
  /** Where a value lies along its slider, 0..1, and back; even steps of it are even to the eye. */
  toScale(value: number): number;
  fromScale(position: number): number;
  /** The nearest value on the grid that sliding and scrubbing move on. */
  snap(value: number): number;
  /** Where the range comes round: 370 degrees are 10. */
  period?: number;
}

/** Digits grouped by thin spaces, so that lux read at a glance. */
export function grouped(value: number, decimals = 0): string {
  const [whole, part] = Math.abs(value).toFixed(decimals).split('.');
  const digits = whole!.replace(/\B(?=(\d{3})+$)/g, '\u2009');
  return `${value < 0 && Number(value.toFixed(decimals)) !== 0 ? '−' : ''}${digits}${part ? `.${part}` : ''}`;
}

/** Three or so significant digits, grouped: right for anything from starlight to the sun. */
/** Bytes in words: MB, and GB from a thousand of those. */
export const inBytes = (bytes: number): string =>
  bytes < 1e9 ? `${Math.max(1, Math.round(bytes / 1e6))} MB` : `${(bytes / 1e9).toFixed(1)} GB`;

export function readable(value: number): string {
  const size = Math.abs(value);
  if (size === 0) return '0';
  if (size < 0.01) return value.toExponential(1).replace('-', '−');
  if (size >= 1000) return grouped(Number(value.toPrecision(3)));
  return grouped(value, size >= 100 ? 0 : size >= 10 ? 1 : 2);
}

/** Even steps between two ends. */
export function linear(unit: string, min: number, max: number, step: number, decimals: number, period?: number): Quantity {
  return {
    unit,
    min,
    max,
    period,
    format: (v) => grouped(v, decimals),
    toScale: (v) => (v - min) / (max - min),
    fromScale: (s) => min + s * (max - min),
    snap: (v) => Number((Math.round(v / step) * step).toFixed(6)),
  };
}

/** Even ratios: each step is as large a share of the value as the last. The lowest end stands for nought where `zero` says so. */
export function logarithmic(unit: string, min: number, max: number, { zero = false, digits = 3 } = {}): Quantity {
  const span = Math.log(max / min);
  return {
    unit,
    min: zero ? 0 : min,
    max,
    format: readable,
    toScale: (v) => (v <= min ? 0 : Math.log(v / min) / span),
    fromScale: (s) => (zero && s <= 0 ? 0 : min * Math.exp(s * span)),
    snap: (v) => Number(v.toPrecision(digits)),
  };
}

/** Colour temperature: even steps in mired (1e6 / K), as the eye sees them. */
export function kelvin(min: number, max: number): Quantity {
  const [warm, cold] = [1e6 / min, 1e6 / max];
  return {
    unit: 'K',
    min,
    max,
    format: (v) => grouped(v),
    toScale: (v) => (warm - 1e6 / v) / (warm - cold),
    fromScale: (s) => 1e6 / (warm - s * (warm - cold)),
    snap: (v) => (v >= 10_000 ? Math.round(v / 100) * 100 : Math.round(v / 50) * 50),
  };
}

const THIRDS = ['', ' ⅓', ' ⅔'];

/** Exposure values in thirds. */
export function exposureValue(min: number, max: number): Quantity {
  return {
    ...linear('EV', min, max, 1 / 3, 2),
    format(v) {
      const thirds = Math.round(v * 3);
      if (Math.abs(v * 3 - thirds) > 0.02) return grouped(v, 2);
      const whole = Math.trunc(thirds / 3);
      const part = THIRDS[Math.abs(thirds % 3)]!;
      const sign = thirds < 0 && whole === 0 ? '−' : '';
      return whole === 0 && part ? `${sign}${part.trim()}` : `${sign}${grouped(whole)}${part}`;
    },
  };
}

/** Hours of the day, as clock time. */
export const hourOfDay: Quantity = {
  ...linear('', 0, 24 - 1 / 60, 1 / 12, 2, 24),
  format: clock,
};

/** "17:50" of an hour 0..24; the end of a day is "24:00". */
export function clock(hour: number): string {
  if (hour === 24) return '24:00';
  const minutes = Math.round(hour * 60) % 1440;
  return `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;
}

/** An hour by a 24-hour clock ("17:50") or a 12-hour one ("5:50 pm", "12:00 am" at midnight, "12:00 pm" at noon). */
export function clockText(hour: number, twelve: boolean): string {
  const text = clock(hour);
  if (!twelve) return text;
  const h = Number(text.slice(0, 2));
  return `${h % 12 || 12}${text.slice(2)} ${h < 12 ? 'am' : 'pm'}`;
}

/** A value brought into the quantity's range: round where it has a period, to the nearer end where it has none. */
export function within(value: number, { min, max, period }: Quantity): number {
  return period ? ((value % period) + period) % period : Math.min(max, Math.max(min, value));
}

/** "from −90 to 90 °": what a quantity may be. */
export function rangeText({ min, max, unit, format }: Quantity): string {
  return `from ${format(min)} to ${format(max)}${unit ? ` ${unit}` : ''}`;
}
