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

/** Whether a rule is about a surface. */
export function isOf({ by, name }: RoleTarget, { object, groups, material }: NamedSurface): boolean {
  switch (by) {
    case 'object':
      return object === name;
    case 'material':
      return material === name;
    case 'group':
      return groups.includes(name);
    case 'pattern':
      return matchesPattern(name, object) || matchesPattern(name, material);
  }
}

/** The role of a surface: by the last rule that is about it. */
export const roleOf = (rules: readonly RoleRule[], surface: NamedSurface): Role =>
  rules.findLast((r) => isOf(r, surface))?.role ?? PLAIN_ROLE;

/** What of the roles decides how lightmaps are laid out; none where all have one. */
export type MappedRule = RoleTarget & Pick<Role, 'lightmap'>;

export function mappedRules(rules: readonly RoleRule[]): MappedRule[] {
  const own = rules.map(({ by, name, role }): MappedRule => ({ by, name, lightmap: role.lightmap && role.lit }));
  return own.some((r) => !r.lightmap) ? own : [];
}

/** Whether a surface has a lightmap by such rules. */
export const hasLightmap = (rules: readonly MappedRule[], surface: NamedSurface): boolean =>
  rules.findLast((r) => isOf(r, surface))?.lightmap ?? true;

/** What of the roles decides what light is traced on; none where all is as its material says. */
export type TracedRule = RoleTarget & Pick<Role, 'traced' | 'bothSides'>;

export function tracedRules(rules: readonly RoleRule[]): TracedRule[] {
  const own = rules.map(({ by, name, role }): TracedRule => ({ by, name, traced: role.traced, bothSides: role.bothSides }));
  return own.some((r) => !r.traced || r.bothSides !== null) ? own : [];
}
