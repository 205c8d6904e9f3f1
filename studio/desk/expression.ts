/**
 * The number that a typed text stands for: `+ - * / ( )`, decimal comma or point, `k` for thousand, mixed fractions
 * ("12 2/3", "12 ⅔"), clock times ("17:50"), a unit at the end. A text that begins with `*` or `/` goes on from the value
 * as it stands. Null for what is no number.
 */
export function evaluate(text: string, present: number): number | null {
  const time = /^\s*(\d{1,2}):(\d{2})\s*$/.exec(text);
  if (time) return Number(time[1]) + Number(time[2]) / 60;
  const plain = text
    .replace(/[\s\u2009]+(?=\d{3}(?!\d))/g, '')
    .replace(/−/g, '-')
    .replace(/(\d),(\d)/g, '$1.$2')
    .replace(/(\d)?\s*⅓/g, (_, d?: string) => (d ? `${d} 1/3` : '1/3'))
    .replace(/(\d)?\s*⅔/g, (_, d?: string) => (d ? `${d} 2/3` : '2/3'))
    .replace(/(\d)\s+(\d+\s*\/)/g, '$1+$2')
    .replace(/\s*(lx|cd\/m2|cd\/m²|K|EV|°|deg|m|s)?\s*$/, '')
    .replace(/(\d)k\b/g, '$1e3');
  const parser = new Parser(/^\s*[*/]/.test(plain) ? `${present}${plain}` : plain);
  const value = parser.sum();
  return value !== null && parser.atEnd && Number.isFinite(value) ? value : null;
}

const NUMBER = /^\s*(\d+\.?\d*(e[+-]?\d+)?|\.\d+(e[+-]?\d+)?)/i;

/** Recursive descent over sum := product (+|- product)*, product := factor (*|/ factor)*, factor := -factor | (sum) | number. */
class Parser {
  constructor(private rest: string) {}

  get atEnd(): boolean {
    return this.rest.trim() === '';
  }

  private take(...symbols: string[]): string | null {
    const trimmed = this.rest.trimStart();
    if (!symbols.includes(trimmed[0] ?? '')) return null;
    this.rest = trimmed.slice(1);
    return trimmed[0]!;
  }

  sum(): number | null {
    let value = this.product();
    for (let sign = this.take('+', '-'); sign; sign = this.take('+', '-')) {
      const next = this.product();
      if (value === null || next === null) return null;
      value += sign === '+' ? next : -next;
    }
    return value;
  }

  private product(): number | null {
    let value = this.factor();
    for (let sign = this.take('*', '/'); sign; sign = this.take('*', '/')) {
      const next = this.factor();
      if (value === null || next === null) return null;
      value = sign === '*' ? value * next : value / next;
    }
    return value;
  }

  private factor(): number | null {
    if (this.take('-')) {
      const value = this.factor();
      return value === null ? null : -value;
    }
    if (this.take('(')) {
      const value = this.sum();
      return this.take(')') ? value : null;
    }
    const found = NUMBER.exec(this.rest);
    if (!found) return null;
    this.rest = this.rest.slice(found[0].length);
    return Number(found[1]);
  }
}
