import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { removeRole, setRole } from '../../core/rig';
import { PLAIN_ROLE, READY_ROLES, type ReadyRole, type Role, type RoleRule, type RoleTarget } from '../../core/roles';
import { sameJson } from '../../core/units';
import { ActionRow } from '../desk/ActionRow';
import { PickRow } from '../desk/PickRow';
import { Section } from '../desk/Section';
import { shortened } from '../desk/shortened';
import { SwitchRow } from '../desk/SwitchRow';
import { useStudio } from '../state/context';
import { useRigEdit } from '../state/useRigEdit';
import { useObjectPicker } from '../viewport/gestures/useObjectPicker';
import { useView } from '../viewport/viewStore';
import desk from '../desk/desk.module.css';
import styles from './bake.module.css';

const READY = Object.entries(READY_ROLES) as [ReadyRole, (typeof READY_ROLES)[ReadyRole]][];
const BY: { value: RoleTarget['by']; label: string }[] = [
  { value: 'object', label: 'Object' },
  { value: 'material', label: 'Material' },
  { value: 'group', label: 'Group' },
  { value: 'pattern', label: 'Name' },
];
const SWITCHES: { key: Exclude<keyof Role, 'bothSides'>; label: string }[] = [
  { key: 'drawn', label: 'Drawn' },
  { key: 'traced', label: 'Blocks traced light' },
  { key: 'shadow', label: 'Casts live shadows' },
  { key: 'lit', label: 'Receives light' },
  { key: 'lightmap', label: 'Has a lightmap' },
];

/** What surfaces of the level take part in: rules by object, material, group or name, each a ready role or switches of its own. */
export function RolesSection() {
  const roles = useStudio((s) => s.rig.roles);
  return (
    <Section
      title="Roles"
      note={roles.length === 0 ? 'all as they are' : roles.length === 1 ? '1 rule' : `${roles.length} rules`}
      rare={roles.length === 0}
    >
      {roles.map((rule) => (
        <Rule key={rule.id} rule={rule} />
      ))}
      <AddRole />
    </Section>
  );
}

function Rule({ rule }: { rule: RoleRule }) {
  const changeRig = useRigEdit();
  const [open, setOpen] = useState(false);
  const { by, name, as, role } = rule;
  const give = (next: ReadyRole | Role, what: string) =>
    changeRig(`${name}: ${what}`, (r) => setRole(r, { by, name }, next), `role ${rule.id}`);
  return (
    <div className={styles.role}>
      <div className={desk.pick}>
        <span title={`${BY.find((b) => b.value === by)!.label}: ${name}`}>{shortened(name, 24)}</span>
        <Select<ReadyRole | 'own'>
          aria-label={`Role of ${name}`}
          size="small"
          style={{ width: 150 }}
          value={as}
          options={[
            ...READY.map(([value, { name: label, hint }]) => ({ value, label, title: hint })),
            { value: 'own' as const, label: 'Switches of its own' },
          ]}
          onChange={(next) => (next === 'own' ? give(role, 'switches of its own') : give(next, READY_ROLES[next].name.toLowerCase()))}
        />
      </div>
      <div className={desk.actions}>
        <button type="button" className={desk.quiet} aria-expanded={open} onClick={() => setOpen(!open)}>
          switches
        </button>
        <button
          type="button"
          className={desk.quiet}
          aria-label={`Take the role of ${name} away`}
          onClick={() => changeRig(`${name} as it is`, (r) => removeRole(r, rule.id))}
        >
          as it is
        </button>
      </div>
      {open && (
        <>
          {SWITCHES.map(({ key, label }) => (
            <SwitchRow
              key={key}
              label={label}
              name={`${label}: ${name}`}
              on={role[key]}
              onChange={(on) => give({ ...role, [key]: on }, `${label.toLowerCase()} ${on ? 'on' : 'off'}`)}
            />
          ))}
          <PickRow<string>
            label="Blocks from"
            value={role.bothSides === null ? 'material' : role.bothSides ? 'both' : 'front'}
            options={[
              { value: 'material', label: 'As made' },
              { value: 'front', label: 'Front' },
              { value: 'both', label: 'Both' },
            ]}
            onChange={(v) => give({ ...role, bothSides: v === 'material' ? null : v === 'both' }, 'sides')}
          />
        </>
      )}
    </div>
  );
}

function AddRole() {
  const changeRig = useRigEdit();
  const objects = useView((s) => s.objects);
  const names = useView((s) => s.names);
  const inPicture = useView((s) => s.inPicture);
  const [by, setBy] = useState<RoleTarget['by']>('object');
  const [chosen, setChosen] = useState<string[]>([]);
  const [as, setAs] = useState<ReadyRole>('opening');
  const [clicking, setClicking] = useState(false);
  useObjectPicker(
    clicking && by === 'object',
    (object) => setChosen((now) => (now.includes(object) ? now.filter((name) => name !== object) : [...now, object])),
    () => setClicking(false),
  );
  const all = by === 'object' ? (objects?.() ?? []) : by === 'material' ? (names?.().materials ?? []) : (names?.().groups ?? []);
  const add = () => {
    const what = chosen.length === 1 ? chosen[0]! : `${chosen.length} ${by}s`;
    changeRig(`${what}: ${READY_ROLES[as].name.toLowerCase()}`, (r) => chosen.forEach((name) => setRole(r, { by, name }, as)));
    setChosen([]);
  };
  return (
    <>
      <PickRow<RoleTarget['by']>
        label="Role of"
        value={by}
        options={BY}
        onChange={(next) => {
          setBy(next);
          setChosen([]);
        }}
      />
      {by === 'pattern' ? (
        <Input
          size="small"
          aria-label="Pattern of names"
          placeholder="*sky*"
          value={chosen[0] ?? ''}
          maxLength={120}
          onChange={(event) => setChosen(event.target.value.trim() ? [event.target.value.trim()] : [])}
        />
      ) : (
        <Select
          mode="multiple"
          aria-label={`${BY.find((b) => b.value === by)!.label}s that get a role`}
          placeholder={all.length === 0 ? 'There are none' : 'Choose'}
          size="small"
          style={{ width: '100%' }}
          maxTagCount={3}
          value={chosen}
          options={all.map((value) => ({ value, label: value }))}
          onChange={setChosen}
        />
      )}
      {by === 'object' && (
        <>
          <ActionRow
            label={clicking ? 'Click objects; again to leave them, Escape to end' : ''}
            action={clicking ? 'end' : 'by clicks in the picture'}
            onClick={() => setClicking(!clicking)}
          />
          <ActionRow label="" action="those that the picture shows" onClick={() => setChosen(inPicture?.() ?? [])} />
        </>
      )}
      <PickRow<ReadyRole>
        label="Becomes"
        as="list"
        value={as}
        options={READY.map(([value, { name: label, hint: title }]) => ({ value, label, title }))}
        onChange={setAs}
      />
      <div className={desk.actions}>
        <Button size="small" disabled={chosen.length === 0} onClick={add}>
          Give the role
        </Button>
      </div>
    </>
  );
}

/** Whether surfaces have their own role already. */
export const hasRole = (roles: readonly RoleRule[], { by, name }: RoleTarget): boolean =>
  roles.some((r) => r.by === by && r.name === name && !sameJson(r.role, PLAIN_ROLE));
