import { matchesPattern } from '../units';

/** What share of the weather's traces the materials of a name take, each 0..1. */
export interface MaterialRule {
  id: string;
  /** A material's name, with `*` for any letters. */
  pattern: string;
  wet: number;
  puddles: number;
  snow: number;
  dust: number;
}

export type MaterialShares = Pick<MaterialRule, 'wet' | 'puddles' | 'snow' | 'dust'>;

const ALL: MaterialShares = { wet: 1, puddles: 1, snow: 1, dust: 1 };

/** What a material takes: by the last rule that its name is of, all where there is none. */
export function sharesOf(rules: readonly MaterialRule[], name: string): MaterialShares {
  const { wet, puddles, snow, dust } = [...rules].reverse().find((rule) => matchesPattern(rule.pattern, name)) ?? ALL;
  return { wet, puddles, snow, dust };
}
