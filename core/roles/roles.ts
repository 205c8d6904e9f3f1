import { matchesPattern } from '../units';

/** What a surface takes part in. */
export interface Role {
  /** Seen in the picture. */
  drawn: boolean;
  /** Stands in the way of traced light, and sends it back. */
  traced: boolean;
  /** Casts the shadows of suns and lamps that are live. */
  shadow: boolean;
  /** Takes light; without it, it is shown in its own colours, as bright at every exposure. */
  lit: boolean;
  /** Keeps light of its own on a lightmap. */
  lightmap: boolean;
  /** Stands in the way from both sides; null is as its material says. */
  bothSides: boolean | null;
}

export const PLAIN_ROLE: Role = { drawn: true, traced: true, shadow: true, lit: true, lightmap: true, bothSides: null };

/** Roles that set all switches together, by their ids. */
export const READY_ROLES = {
  opening: {
    name: 'Opening to the sky',
    hint: 'Only marks where the sky is: not drawn, and light passes',
    role: { drawn: false, traced: false, shadow: false, lit: true, lightmap: false, bothSides: null },
  },
  helper: {
    name: 'Helper',
    hint: 'Stops players, starts an event or hides: ignored',
    role: { drawn: false, traced: false, shadow: false, lit: true, lightmap: false, bothSides: null },
  },
  moving: {
    name: 'Moving',
    hint: 'Does not stand still: no baked shadow, a live one',
    role: { drawn: true, traced: false, shadow: true, lit: true, lightmap: false, bothSides: null },
  },
  'unseen-blocker': {
    name: 'Unseen blocker',
    hint: 'Not drawn, and light does not pass',
    role: { drawn: false, traced: true, shadow: true, lit: true, lightmap: false, bothSides: true },
  },
  'lets-light-pass': {
    name: 'Seen, blocks no light',
    hint: 'Drawn and lit, and light passes',
    role: { drawn: true, traced: false, shadow: false, lit: true, lightmap: true, bothSides: null },
  },
  backdrop: {
    name: 'Backdrop',
    hint: 'A painted sky or distance: in its own colours, without light, and light passes',
    role: { drawn: true, traced: false, shadow: false, lit: false, lightmap: false, bothSides: null },
  },
  solid: {
    name: 'Blocks from both sides',
    hint: 'Light does not come through it from behind',
    role: { ...PLAIN_ROLE, bothSides: true },
  },
} as const satisfies Record<string, { name: string; hint: string; role: Role }>;
export type ReadyRole = keyof typeof READY_ROLES;

/** What a rule is told by: an object, a named group of the file, a material, or a pattern of objects' and materials' names. */
export type RoleTarget = { by: 'object' | 'group' | 'material' | 'pattern'; name: string };

/** A role for some of a level's surfaces. */
export interface RoleRule extends RoleTarget {
  id: string;
  /** The ready role that it is, or switches of its own. */
  as: ReadyRole | 'own';
  role: Role;
}

/** A surface as rules know it. */
export interface NamedSurface {
  object: string;
  /** Names of the nodes that its object lies under. */
  groups: readonly string[];
  material: string;
}

/**
 * Prepares rules to be asked for the last one that is about a surface. Rules by a name are looked up, so that hundreds of them cost no
 * more than one.
 */
export function lastRule<R extends RoleTarget>(rules: readonly R[]): (surface: NamedSurface) => R | undefined {
  const named = { object: new Map<string, number>(), group: new Map<string, number>(), material: new Map<string, number>() };
  const patterns: number[] = [];
  rules.forEach(({ by, name }, i) => {
    if (by === 'pattern') patterns.unshift(i);
    else named[by].set(name, i);
  });
  return ({ object, groups, material }) => {
    const found = [named.object.get(object), named.material.get(material), ...groups.map((g) => named.group.get(g))];
    const last = found.reduce<number>((most, i) => Math.max(most, i ?? -1), -1);
    const isMatched = (i: number) => matchesPattern(rules[i]!.name, object) || matchesPattern(rules[i]!.name, material);
    return rules[patterns.find((i) => i > last && isMatched(i)) ?? last];
  };
}

/** Prepares rules to be asked for the role of a surface: by the last one that is about it. */
export function roleFinder(rules: readonly RoleRule[]): (surface: NamedSurface) => Role {
  const find = lastRule(rules);
  return (surface) => find(surface)?.role ?? PLAIN_ROLE;
}

/** What of the roles decides how lightmaps are laid out; none where all have one. */
export type MappedRule = RoleTarget & Pick<Role, 'lightmap'>;

export function mappedRules(rules: readonly RoleRule[]): MappedRule[] {
  const own = rules.map(({ by, name, role }): MappedRule => ({ by, name, lightmap: role.lightmap && role.lit }));
  return own.some((r) => !r.lightmap) ? own : [];
}

/** Prepares such rules to be asked whether a surface has a lightmap. */
export function lightmapFinder(rules: readonly MappedRule[]): (surface: NamedSurface) => boolean {
  const find = lastRule(rules);
  return (surface) => find(surface)?.lightmap ?? true;
}

/** What of the roles decides what light is traced on; none where all is as its material says. */
export type TracedRule = RoleTarget & Pick<Role, 'traced' | 'bothSides'>;

export function tracedRules(rules: readonly RoleRule[]): TracedRule[] {
  const own = rules.map(({ by, name, role }): TracedRule => ({ by, name, traced: role.traced, bothSides: role.bothSides }));
  return own.some((r) => !r.traced || r.bothSides !== null) ? own : [];
}
