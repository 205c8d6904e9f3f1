import { forgetGrade, gradeSets, keepGrade, resolveCue, takeGrade, type Cue, type Holder, type Rig } from '../../core/rig';
import type { Grade } from '../../core/grade';
import { sameJson } from '../../core/units';
import { Section } from '../desk/Section';
import { ShelfRows } from '../desk/ShelfRows';
import { useStudio } from '../state/context';
import type { ChangeRig } from '../state/useRigEdit';

interface Props {
  rig: Rig;
  cue: Cue;
  holder: Holder;
  /** What is set now. */
  grade: Grade;
  changeRig: ChangeRig;
}

/** Grades of the shelf: taken as a copy, kept from what is set. */
export function SetsSection({ rig, cue, holder, grade, changeRig }: Props) {
  const images = useStudio((s) => s.images);
  const sets = gradeSets(rig);
  const chosen = sets.find((s) => isSame(s.grade, grade));
  return (
    <Section title="Grades of the shelf" note={chosen?.name.toLowerCase()}>
      <ShelfRows
        label="Grades"
        sets={sets}
        chosen={chosen}
        isOwn={rig.grades.some((g) => g.id === chosen?.id)}
        lighting={(set) =>
          resolveCue(rig, { ...cue, holds: { ...cue.holds, grade: { ...set.grade, smoothing: grade.smoothing } } }, images)
        }
        of={cue.id}
        onTake={(set) =>
          changeRig(`${holder === 'day' ? 'Grade' : `${cue.name}: grade`} as ${set.name}`, (r) => takeGrade(r, holder, set.grade))
        }
        onForget={({ id, name }) => changeRig(`${name} forgotten`, (r) => forgetGrade(r, id))}
        keep={{
          label: 'Keep this grade',
          wanted: 'Grade',
          as: (id, name) => changeRig(`${name} kept`, (r) => keepGrade(r, id, name, grade)),
        }}
      />
    </Section>
  );
}

/** Whether two grades say the same, smoothing of edges aside: it belongs to the picture. */
const isSame = (a: Grade, b: Grade) => sameJson({ ...a, smoothing: false }, { ...b, smoothing: false });
