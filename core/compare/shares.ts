/** Encoded levels, of 255, from which a channel is burnt and up to which a whole point is black. */
const BURNT = 254;
const BLACK = 5;

/** Shares of a finished picture that show nothing any more. */
export interface LostShares {
  /** A channel has reached the display's white. */
  burnt: number;
  /** All channels are at the display's black, 2 % of the code at the most. */
  black: number;
}

/** @param shown encoded sRGB bytes, RGBA */
export function lostShares(shown: ArrayLike<number>): LostShares {
  const count = Math.max(1, shown.length / 4);
  let [burnt, black] = [0, 0];
  for (let i = 0; i < shown.length; i += 4) {
    const most = Math.max(shown[i]!, shown[i + 1]!, shown[i + 2]!);
    if (most >= BURNT) burnt++;
    else if (most <= BLACK) black++;
  }
  return { burnt: burnt / count, black: black / count };
}
