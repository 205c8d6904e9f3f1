import type { GradePart } from '../../core/grade';
import { useListening } from '../viewport/mix/listening';
import { flipPart } from './gradingStore';
import desk from '../desk/desk.module.css';

/** Leaves a part of the grade out of the picture, for judging; nothing of it is stored. */
export function PartSwitch({ part, name }: { part: GradePart; name: string }) {
  const isOff = useListening((s) => s.off.includes(part));
  return (
    <button
      type="button"
      className={desk.quiet}
      aria-pressed={!isOff}
      aria-label={`${name} in the picture`}
      title="For judging alone: what is stored stays. Key X switches the part that was changed last"
      onClick={() => flipPart(part)}
    >
      {isOff ? 'left out' : 'shown'}
    </button>
  );
}
