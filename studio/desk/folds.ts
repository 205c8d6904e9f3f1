import { create } from 'zustand';

/** Which groups of the desk are folded, by title, where that was changed by hand; kept while the page is open. */
export const useFolds = create<{ folded: Record<string, boolean>; fold(title: string, yes: boolean): void }>((set) => ({
  folded: {},
  fold: (title, yes) => set(({ folded }) => ({ folded: { ...folded, [title]: yes } })),
}));
