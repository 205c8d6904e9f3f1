/** A long name without its middle: objects named by paths differ at their ends. */
export function shortened(name: string, most = 38): string {
  if (name.length <= most) return name;
  const head = Math.floor((most - 1) * 0.4);
  return `${name.slice(0, head)}…${name.slice(name.length - (most - 1 - head))}`;
}
