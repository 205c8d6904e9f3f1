import { useDeferredValue, useState } from 'react';

/**
 * A value of a row as its hand set it last, until the rows have followed (see {@link useFollowed}): then what it has become, also where it was refused.
 *
 * @returns the value to show and to step from, and the function that sets it
 */
export function useAsked<T>(value: T, onChange: (value: T) => void): [shown: T, ask: (value: T) => void] {
  const [asked, setAsked] = useState<{ value: T; before: T } | null>(null);
  const followed = useDeferredValue(asked);
  const ask = (next: T) => {
    setAsked({ value: next, before: value });
    onChange(next);
  };
  const isBehind = asked !== null && asked !== followed && Object.is(value, asked.before);
  return [isBehind ? asked.value : value, ask];
}
