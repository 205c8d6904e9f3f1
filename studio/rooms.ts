import dynamic from 'next/dynamic';

const viewport = () => import('./viewport/Viewport').then((m) => m.Viewport);
/** The picture is drawn in the browser alone, and its code comes while the project is still asked for. */
export const Viewport = dynamic(viewport, { ssr: false });

/** Parts of the studio that are not there from the beginning: each is loaded when it is shown first, or when the page has nothing else to do. */
const load = {
  day: () => import('./day/DayDesk').then((m) => m.DayDesk),
  lamps: () => import('./lamps/LampsDesk').then((m) => m.LampsDesk),
  bake: () => import('./bake/BakeDesk').then((m) => m.BakeDesk),
  grade: () => import('./grade/GradeDesk').then((m) => m.GradeDesk),
  compare: () => import('./compare/CompareDesk').then((m) => m.CompareDesk),
  ladder: () => import('./compare/LadderPanel').then((m) => m.LadderPanel),
  sheet: () => import('./compare/SheetPanel').then((m) => m.SheetPanel),
  cueTable: () => import('./cues/CueTable').then((m) => m.CueTable),
  history: () => import('./history/HistoryPanel').then((m) => m.HistoryPanel),
  kept: () => import('./shelf/KeptPanel').then((m) => m.KeptPanel),
  dimmers: () => import('./lamps/DimmerPlan').then((m) => m.DimmerPlan),
  sky: () => import('./skies/SkyDesk').then((m) => m.SkyDesk),
};

export const DayDesk = dynamic(load.day, { ssr: false });
export const LampsDesk = dynamic(load.lamps, { ssr: false });
export const BakeDesk = dynamic(load.bake, { ssr: false });
export const GradeDesk = dynamic(load.grade, { ssr: false });
export const CompareDesk = dynamic(load.compare, { ssr: false });
export const LadderPanel = dynamic(load.ladder, { ssr: false });
export const SheetPanel = dynamic(load.sheet, { ssr: false });
export const CueTable = dynamic(load.cueTable, { ssr: false });
export const HistoryPanel = dynamic(load.history, { ssr: false });
export const KeptPanel = dynamic(load.kept, { ssr: false });
export const DimmerPlan = dynamic(load.dimmers, { ssr: false });
export const SkyDesk = dynamic(load.sky, { ssr: false });

/** Begins to load what every project shows first. */
export function loadFirst(): void {
  for (const part of [viewport, load.day]) part().catch(() => undefined);
}

/** Loads what is not there yet, one after the other. What cannot be fetched now is asked for again when it is shown. */
export async function loadRooms(): Promise<void> {
  for (const part of Object.values(load)) await part().catch(() => undefined);
}
