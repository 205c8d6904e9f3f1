import { clockText } from '../desk/quantity';
import { useStudio } from '../state/context';
import { currentCue } from '../state/studioStore';
import { useView } from '../viewport/viewStore';
import { useCompare, type SideChoice } from './compareStore';
import { sideText } from './sideText';

/** The two sides in words. */
export function useSideNames(): [string, string] {
  const rig = useStudio((s) => s.rig);
  const cue = useStudio(currentCue);
  const hour = useStudio((s) => s.hour);
  const sides = useCompare((s) => s.sides);
  const kept = useCompare((s) => s.kept);
  const now = hour === null ? cue.name : clockText(hour, false);
  const others = useView((v) => v.others);
  const bake = ({ bakeId }: SideChoice) => bakeId && (others.includes(bakeId) ? 'another bake' : 'another bake, being read');
  return [sideText(sides[0], rig, kept, now, bake(sides[0])), sideText(sides[1], rig, kept, now, bake(sides[1]))];
}
