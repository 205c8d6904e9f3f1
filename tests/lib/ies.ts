/** The text of an IES file with given angles and intensities, for tests. */
export function iesText({
  first = 'IESNA:LM-63-2002',
  type = 1,
  lumens = -1,
  multiplier = 1,
  ballast = [1, 1],
  vertical,
  horizontal,
  candela,
}: {
  first?: string;
  type?: number;
  lumens?: number;
  multiplier?: number;
  ballast?: [number, number];
  vertical: number[];
  horizontal: number[];
  candela(verticalDeg: number, horizontalDeg: number): number;
}): string {
  return [
    first,
    '[TEST] made up',
    '[MANUFAC] none',
    'TILT=NONE',
    `1 ${lumens} ${multiplier} ${vertical.length} ${horizontal.length} ${type} 2 0.2 0.2 0`,
    `${ballast.join(' ')} 60`,
    vertical.join(' '),
    horizontal.join(' '),
    ...horizontal.map((h) => vertical.map((v) => candela(v, h)).join(' ')),
    '',
  ].join('\n');
}
