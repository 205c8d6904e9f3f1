/** Whether a name is of a pattern, in which `*` stands for any letters; letters are alike large and small. */
export function matchesPattern(pattern: string, name: string): boolean {
  const parts = pattern.split('*').map((part) => part.replace(/[.+?^${}()|[\]\\]/g, '\\$&'));
  return new RegExp(`^${parts.join('.*')}$`, 'i').test(name);
}
