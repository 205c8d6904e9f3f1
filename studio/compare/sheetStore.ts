import { create } from 'zustand';
import type { Lighting, Vantage } from '../../core/rig';
import type { LostShares } from '../../core/compare';

/** One picture of a sheet. */
export interface SheetCell {
  label: string;
  note: string;
  lighting: Lighting;
  /** Null is the view at the time the picture is made. */
  from: Vantage | null;
}

/** A picture that is made. */
export interface MadePicture {
  url: string;
  lost: LostShares;
}

/** Pictures side by side, each made when the one before stands. */
export interface Sheet {
  id: number;
  title: string;
  /** What the file of it is called. */
  fileName: string;
  cells: readonly SheetCell[];
  /** Whether shares of burnt and black are told. */
  tellsLost: boolean;
  /** What a click on a picture does; null where it does nothing. */
  take: ((cell: number) => void) | null;
  made: readonly (MadePicture | null)[];
}

/** The sheet that lies over the picture, while one does. */
export const useSheet = create<{ sheet: Sheet | null }>(() => ({ sheet: null }));

let count = 0;

/** Lays a sheet over the picture, in place of another. */
export function openSheet(sheet: Pick<Sheet, 'title' | 'fileName' | 'cells'> & Partial<Pick<Sheet, 'tellsLost' | 'take'>>): void {
  closeSheet();
  useSheet.setState({ sheet: { tellsLost: false, take: null, ...sheet, id: ++count, made: sheet.cells.map(() => null) } });
}

/** Puts a picture into the sheet that asked for it. */
export function putPicture(id: number, cell: number, picture: MadePicture): void {
  const { sheet } = useSheet.getState();
  if (sheet?.id !== id) return URL.revokeObjectURL(picture.url);
  useSheet.setState({ sheet: { ...sheet, made: sheet.made.map((m, k) => (k === cell ? picture : m)) } });
}

export function closeSheet(): void {
  for (const made of useSheet.getState().sheet?.made ?? []) if (made) URL.revokeObjectURL(made.url);
  useSheet.setState({ sheet: null });
}
