import { Button } from 'antd';
import { useState } from 'react';
import type { Foreseen } from '../../core/api';
import { groupLines, type PreflightGroup } from '../../core/preflight';
import { setRole } from '../../core/rig';
import { READY_ROLES } from '../../core/roles';
import { hasRole } from './RolesSection';
import { shortened } from '../desk/shortened';
import { useStudio } from '../state/context';
import { useRigEdit } from '../state/useRigEdit';
import { useView } from '../viewport/viewStore';
import { vantageOn } from './looking';
import desk from '../desk/desk.module.css';
import styles from './bake.module.css';

type Line = Foreseen['lines'][number];

/** Lines of a group that are listed at once. */
const SHOWN = 40;

/** What would spoil a bake, kind by kind, the worst first: each kind opens to its objects, each object leads to its place. */
export function PreflightGroups({ lines }: { lines: readonly Line[] }) {
  return (
    <div className={styles.groups} role="group" aria-label="Remarks">
      {groupLines(lines).map((group) => (
        <Group key={group.code} group={group} />
      ))}
    </div>
  );
}

function Group({ group: { code, title, remedy, lines } }: { group: PreflightGroup<Line> }) {
  const [open, setOpen] = useState(false);
  const [all, setAll] = useState(false);
  return (
    <section data-code={code}>
      <h3>
        <button type="button" aria-expanded={open} onClick={() => setOpen(!open)}>
          {title}
        </button>
        {remedy === 'leave-out' && <LeaveOut lines={lines} />}
        {remedy === 'roles' && <GiveRoles lines={lines} />}
      </h3>
      {open && (
        <>
          {lines.slice(0, all ? lines.length : SHOWN).map((line, i) => (
            <Place key={i} line={line} isNamed={lines.length > 1 && line.object !== null} />
          ))}
          {!all && lines.length > SHOWN && (
            <button type="button" className={desk.quiet} onClick={() => setAll(true)}>
              {lines.length - SHOWN} more
            </button>
          )}
        </>
      )}
    </section>
  );
}

/** A line of a group: by the object's name alone where there are more of its kind, whole where it is the only one. */
function Place({ line: { text, object, atM }, isNamed }: { line: Line; isNamed: boolean }) {
  const stand = useView((s) => s.stand);
  return (
    <button type="button" className={styles.place} disabled={!atM} title={text} onClick={() => atM && stand?.(vantageOn(atM))}>
      {isNamed ? shortened(object!) : text}
    </button>
  );
}

/** Leaves out of the bake what a group is about, all of it in one step. */
function LeaveOut({ lines }: { lines: readonly Line[] }) {
  const densities = useStudio((s) => s.rig.bake.densities);
  const changeRig = useRigEdit();
  const names = lines.flatMap(({ object }) =>
    object === null || (Object.hasOwn(densities, object) && densities[object] === 0) ? [] : [object],
  );
  if (names.length === 0) return <span className={desk.note}>left out</span>;
  return (
    <Button
      size="small"
      title="They cast shadows and send light back, and keep no light of their own"
      onClick={() =>
        changeRig(`${names.length === 1 ? names[0] : `${names.length} objects`} left out of the bake`, ({ bake }) =>
          names.forEach((name) => (bake.densities[name] = 0)),
        )
      }
    >
      Leave {names.length === 1 ? 'it' : 'them'} out
    </Button>
  );
}

/** Gives all that a group is about the roles that are proposed, in one step. */
function GiveRoles({ lines }: { lines: readonly Line[] }) {
  const roles = useStudio((s) => s.rig.roles);
  const changeRig = useRigEdit();
  const proposed = lines.flatMap(({ role }) => (role && !hasRole(roles, role.target) ? [role] : []));
  const [first] = proposed;
  if (!first) return <span className={desk.note}>roles given</span>;
  const { name, hint } = READY_ROLES[first.as];
  return (
    <Button
      size="small"
      title={hint}
      onClick={() =>
        changeRig(`${proposed.length === 1 ? first.target.name : `${proposed.length} surfaces`}: ${name.toLowerCase()}`, (r) =>
          proposed.forEach(({ target, as }) => setRole(r, target, as)),
        )
      }
    >
      {first.as === 'opening' ? 'Open to the sky' : 'Ignore'}
    </Button>
  );
}
