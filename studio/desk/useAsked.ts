import { useDeferredValue, useState } from 'react';

/**
 * A value of a row as its hand set it last, until the rows have followed (see `Section`): then what it has become, also where it was refused.
 *
 * @returns the value to show and to step from, and the function that sets it
 */
export function useAsked<T>(value: T, onChange: (value: T) => void): [shown: T, ask: (value: T) => void] {
  const [asked, setAsked] = useState<{ value: T } | null>(null);
  const followed = useDeferredValue(asked);
  const ask = (next: T) => {
    setAsked({ value: next });
    onChange(next);
  };
  return [asked !== null && asked !== followed ? asked.value : value, ask];
}
