/** A share in words, with a decimal under 10 %: "2.5 %", "40 %". */
export const percent = (share: number): string => `${(share * 100).toFixed(Math.abs(share) < 0.0995 ? 1 : 0)} %`;
