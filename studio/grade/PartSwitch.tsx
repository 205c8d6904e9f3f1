import type { GradePart } from '../../core/grade';
import { useListening } from '../viewport/mix/listening';
import desk from '../desk/desk.module.css';

/** Leaves parts of the grade out of the picture, for judging; nothing of it is stored. */
export function PartSwitch({ parts, name }: { parts: readonly GradePart[]; name: string }) {
  const isOff = useListening((s) => parts.every((part) => s.off.includes(part)));
  const flip = () =>
    useListening.setState(({ off }) => {
      const others = off.filter((part) => !parts.includes(part));
      return { off: isOff ? others : [...others, ...parts] };
    });
  return (
    <button
      type="button"
      className={desk.quiet}
      aria-pressed={!isOff}
      aria-label={`${name} in the picture`}
      title="For judging alone: what is stored stays. Key X switches the part that was changed last"
      onClick={flip}
    >
      {isOff ? 'left out' : 'shown'}
    </button>
  );
}
