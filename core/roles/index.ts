export { bySurface } from './bySurface';
export {
  PLAIN_ROLE,
  READY_ROLES,
  lastRule,
  lightmapFinder,
  mappedRules,
  roleFinder,
  tracedRules,
  type MappedRule,
  type NamedSurface,
  type ReadyRole,
  type Role,
  type RoleRule,
  type RoleTarget,
  type TracedRule,
} from './roles';
export { GLOW_UNIT, glowOf, type GlowScope, type GlowSurface } from './glowOf';
