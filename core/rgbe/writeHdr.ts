/**
 * A Radiance HDR file (RGBE, new run-length coding; Ward 1991): linear RGB, eight bits and a shared exponent. Alpha is left out;
 * negative values are written as nought.
 *
 * @param rgba width x height x 4 numbers, top row first; the width must lie between 8 and 32767
 */
export function writeHdr(rgba: Float32Array, width: number, height: number): Uint8Array {
  if (width < 8 || width > 32_767) throw new RangeError(`A run-length coded HDR row has 8 to 32767 pixels, not ${width}.`);
  const header = new TextEncoder().encode(`#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y ${height} +X ${width}\n`);
  const bytes: number[] = [];
  const row = [0, 1, 2, 3].map(() => new Uint8Array(width));
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = (y * width + x) * 4;
      const rgb = [0, 1, 2].map((c) => Math.max(0, rgba[at + c]!));
      const peak = Math.max(...rgb);
      const exponent = peak > 1e-32 ? Math.min(127, Math.floor(Math.log2(peak)) + 1) : -128;
      const scale = exponent === -128 ? 0 : 256 / 2 ** exponent;
      rgb.forEach((v, c) => (row[c]![x] = Math.min(255, Math.round(v * scale))));
      row[3]![x] = exponent + 128;
    }
    bytes.push(2, 2, width >> 8, width & 255);
    for (const channel of row) pushRuns(channel, bytes);
  }
  const out = new Uint8Array(header.length + bytes.length);
  out.set(header);
  out.set(bytes, header.length);
  return out;
}

/** Runs of equal bytes (128 + count, value) and stretches of differing ones (count, values). */
function pushRuns(channel: Uint8Array, out: number[]): void {
  const runAt = (i: number) => {
    let n = 1;
    while (n < 127 && channel[i + n] === channel[i]) n++;
    return n;
  };
  for (let i = 0; i < channel.length;) {
    const run = Math.min(runAt(i), channel.length - i);
    if (run >= 3) {
      out.push(128 + run, channel[i]!);
      i += run;
      continue;
    }
    let end = i + 1;
    while (end < channel.length && end - i < 128 && runAt(end) < 3) end++;
    out.push(end - i, ...channel.subarray(i, end));
    i = end;
  }
}
