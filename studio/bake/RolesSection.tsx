import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { removeRole, setObjectRoles, setRole } from '../../core/rig';
import { PLAIN_ROLE, READY_ROLES, type ReadyRole, type Role, type RoleRule, type RoleTarget } from '../../core/roles';
import { sameJson } from '../../core/units';
import { PickRow } from '../desk/PickRow';
import { Section } from '../desk/Section';
import { shortened } from '../desk/shortened';
import { SwitchRow } from '../desk/SwitchRow';
import { chooseObjects } from '../objects/objectChoice';
import { useStudio } from '../state/context';
import { useRigEdit } from '../state/useRigEdit';
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
type RuleBy = Exclude<RoleTarget['by'], 'object'>;
/** Objects of one role that are listed one by one, at most; more stand in one line. */
const LISTED = 4;
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
      {gathered(roles).map((rules) =>
        rules.length > LISTED ? <SameRules key={rules[0]!.id} rules={rules} /> : rules.map((rule) => <Rule key={rule.id} rule={rule} />),
      )}
      <AddRole />
    </Section>
  );
}

/** Rules about single objects that say the same stand together, at the place of the first. */
function gathered(roles: readonly RoleRule[]): RoleRule[][] {
  const groups = new Map<string, RoleRule[]>();
  for (const rule of roles) {
    const key = rule.by === 'object' ? JSON.stringify([rule.as, rule.role]) : rule.id;
    const group = groups.get(key);
    if (group) group.push(rule);
    else groups.set(key, [rule]);
  }
  return [...groups.values()];
}

/** Many objects with the same role. */
function SameRules({ rules }: { rules: RoleRule[] }) {
  const changeRig = useRigEdit();
  const names = rules.map((r) => r.name);
  const what = `${rules.length} objects`;
  const { as } = rules[0]!;
  return (
    <div className={styles.role}>
      <div className={desk.pick}>
        <span>{what}</span>
        <span className={desk.text}>{as === 'own' ? 'switches of their own' : READY_ROLES[as].name}</span>
      </div>
      <div className={desk.actions}>
        <button type="button" className={desk.quiet} onClick={() => chooseObjects(names)}>
          choose them
        </button>
        <button
          type="button"
          className={desk.quiet}
          aria-label={`Take the role of ${what} away`}
          onClick={() => changeRig(`${what} as they are`, (r) => setObjectRoles(r, names, null))}
        >
          as they are
        </button>
      </div>
    </div>
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
  const names = useView((s) => s.names);
  const [by, setBy] = useState<RuleBy>('material');
  const [chosen, setChosen] = useState<string[]>([]);
  const [as, setAs] = useState<ReadyRole>('opening');
  const all = by === 'material' ? (names?.().materials ?? []) : (names?.().groups ?? []);
  const add = () => {
    const what = chosen.length === 1 ? chosen[0]! : `${chosen.length} ${by}s`;
    changeRig(`${what}: ${READY_ROLES[as].name.toLowerCase()}`, (r) => chosen.forEach((name) => setRole(r, { by, name }, as)));
    setChosen([]);
  };
  return (
    <>
      <PickRow<RuleBy>
        label="Role of"
        value={by}
        options={BY.filter((o): o is { value: RuleBy; label: string } => o.value !== 'object')}
        onChange={(next) => {
          setBy(next);
          setChosen([]);
        }}
      />
      {by === 'pattern' ? (
        <Input
          size="small"
          aria-label="Pattern of names that get a role"
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
      <p className={desk.text}>Single objects get a role where they are chosen, in Objects.</p>
    </>
  );
}

/** Whether surfaces have their own role already. */
export const hasRole = (roles: readonly RoleRule[], { by, name }: RoleTarget): boolean =>
  roles.some((r) => r.by === by && r.name === name && !sameJson(r.role, PLAIN_ROLE));
