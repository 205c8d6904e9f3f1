/** Spacing of pictures in a sheet, pixels. */
export const GAP = 12;
/** Room for the words under each picture, pixels. */
export const WORDS = 30;
/** Width over height of the pictures. */
export const ASPECT = 1.5;

/** How many columns show so many pictures the largest in an area. */
export function bestColumns(count: number, width: number, height: number): { columns: number; pictureWidth: number } {
  let best = { columns: 1, pictureWidth: -1 };
  for (let columns = 1; columns <= Math.max(1, count); columns++) {
    const rows = Math.ceil(count / columns);
    const byWidth = (width - GAP * (columns + 1)) / columns;
    const byHeight = ((height - GAP * (rows + 1)) / rows - WORDS) * ASPECT;
    const pictureWidth = Math.floor(Math.min(byWidth, byHeight));
    if (pictureWidth > best.pictureWidth) best = { columns, pictureWidth };
  }
  return best;
}
