import { useState, type ChangeEvent, type KeyboardEvent } from 'react';

/** What is wrong with a name among others, in words, or null. */
export function nameFault(name: string, taken: string[]): string | null {
  if (name.length < 1 || name.length > 80) return 'A name has 1 to 80 letters.';
  return taken.some((t) => t.toLowerCase() === name.toLowerCase()) ? 'Another has that name.' : null;
}

/**
 * A name being typed: taken when Enter is pressed or the field is left, kept with a word where it cannot be taken, given up by
 * Escape. Answers what its field is drawn with.
 */
export function useName(value: string, taken: string[], onChange: (name: string) => void) {
  const [text, setText] = useState<string | null>(null);
  const name = (text ?? value).trim();
  const wrong = nameFault(name, taken);
  return {
    wrong,
    field: {
      value: text ?? value,
      'aria-invalid': wrong !== null,
      onChange: (event: ChangeEvent<HTMLInputElement>) => setText(event.currentTarget.value),
      onBlur: () => {
        if (wrong) return;
        setText(null);
        if (name !== value) onChange(name);
      },
      onKeyDown: (event: KeyboardEvent<HTMLInputElement>) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') setText(null);
      },
    },
  };
}
