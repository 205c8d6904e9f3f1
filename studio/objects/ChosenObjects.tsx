import { Button, Input, Select } from 'antd';
import { memo, useMemo, useState } from 'react';
import { chooseBy, longestSide, type ObjectFacts, type ObjectRule } from '../../core/objects';
import { setDensities, setObjectRoles, setOpenings, showObjects, type Rig } from '../../core/rig';
import { PLAIN_ROLE, READY_ROLES, type ReadyRole } from '../../core/roles';
import { sameJson } from '../../core/units';
import { evaluate } from '../desk/expression';
import { NumberRow } from '../desk/NumberRow';
import { PickRow } from '../desk/PickRow';
import { grouped, logarithmic, readable } from '../desk/quantity';
import { DeskSubject, Section } from '../desk/Section';
import { shortened } from '../desk/shortened';
import { SwitchRow } from '../desk/SwitchRow';
import { useStudio } from '../state/context';
import { currentCue } from '../state/studioStore';
import { useRigEdit } from '../state/useRigEdit';
import { useView } from '../viewport/viewStore';
import { calledObjects, chooseAllLike, chooseObjects, useObjectChoice } from './objectChoice';
import desk from '../desk/desk.module.css';
import styles from './objects.module.css';

const FACTOR = logarithmic('×', 1 / 16, 16, { digits: 3 });
const ROLES: { value: ReadyRole | 'plain' | 'own'; label: string; title?: string }[] = [
  { value: 'plain', label: 'As made' },
  ...(Object.keys(READY_ROLES) as ReadyRole[]).map((value) => ({
    value,
    label: READY_ROLES[value].name,
    title: READY_ROLES[value].hint,
  })),
];
const NO_FACTS: readonly ObjectFacts[] = [];

/** The chosen objects that the level has, in its order. */
export function useChosenObjects(): ObjectFacts[] {
  const chosen = useObjectChoice((s) => s.chosen);
  // Facts come with the level, after the view itself.
  const drawn = useView((s) => s.drawn);
  const facts = useView((s) => s.facts);
  return useMemo(
    () => (chosen.size === 0 ? [] : (facts?.() ?? NO_FACTS).filter((o) => chosen.has(o.name))),
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [chosen, facts, drawn],
  );
}

interface Props {
  /** Whether the rows that a bake goes by are shown. */
  edits?: boolean;
  /** Bakes some objects alone; where it is not there, that is not offered. */
  bakeAlone?(objects: string[]): void;
}

/** The objects that are chosen in the picture: which they are, how more are chosen, and what is set for all of them at once. */
export const ChosenObjects = memo(function ChosenObjects({ edits = false, bakeAlone }: Props) {
  const objects = useChosenObjects();
  return (
    <DeskSubject value={objects}>
      <Section title="Objects" note={objects.length === 0 ? 'none chosen' : `${grouped(objects.length)} chosen`}>
        {objects.length === 0 ? (
          <p className={desk.text}>Click an object in the picture. Ctrl adds it, a drag with Shift draws a rectangle.</p>
        ) : (
          <Choice objects={objects} />
        )}
        <ChooseByRule />
        {edits && objects.length > 0 && <EditRows objects={objects} />}
        {bakeAlone && objects.length > 0 && (
          <div className={desk.actions}>
            <Button
              size="small"
              title="Traces these anew, over the bake that is done; the rest keeps its light"
              onClick={() => bakeAlone(objects.map((o) => o.name))}
            >
              Bake {objects.length === 1 ? 'it' : 'these'} alone
            </Button>
          </div>
        )}
      </Section>
    </DeskSubject>
  );
});

function Choice({ objects }: { objects: ObjectFacts[] }) {
  const [open, setOpen] = useState(false);
  const triangles = objects.reduce((sum, o) => sum + o.triangles, 0);
  const [first] = objects;
  const what =
    objects.length === 1
      ? `${shortened(first!.name, 24)}, ${readable(longestSide(first!))} m, ${grouped(triangles)} triangles`
      : `${grouped(objects.length)} objects, ${grouped(triangles)} triangles`;
  return (
    <>
      <p className={desk.text} title={objects.length === 1 ? first!.name : undefined}>
        {what}
      </p>
      <div className={desk.actions}>
        <Button size="small" title="Chooses all equal objects, as the one that was clicked last" onClick={chooseAllLike}>
          All like it
        </Button>
        <Button size="small" title="Chooses none" onClick={() => chooseObjects([])}>
          None
        </Button>
        <Button size="small" aria-expanded={open} onClick={() => setOpen(!open)}>
          List
        </Button>
      </div>
      {open && <ObjectList objects={objects} />}
    </>
  );
}

/** Chosen objects by their names, to leave single ones out. */
export function ObjectList({ objects }: { objects: readonly ObjectFacts[] }) {
  return (
    <ul className={styles.list} aria-label="Chosen objects">
      {objects.slice(0, MOST_LISTED).map(({ name }) => (
        <li key={name}>
          <label>
            <input type="checkbox" checked onChange={() => chooseObjects([name], 'flip')} />
            {name}
          </label>
        </li>
      ))}
      {objects.length > MOST_LISTED && <li className={desk.text}>and {objects.length - MOST_LISTED} more</li>}
    </ul>
  );
}

/** Names that the list shows at most: a longer one is chosen from in the picture. */
const MOST_LISTED = 200;

type RuleBy = ObjectRule['by'] | 'seen';
const RULES: { value: RuleBy; label: string }[] = [
  { value: 'pattern', label: 'Name' },
  { value: 'material', label: 'Material' },
  { value: 'group', label: 'Group' },
  { value: 'smaller', label: 'Smaller than' },
  { value: 'farther', label: 'Farther than' },
  { value: 'seen', label: 'In the picture' },
];

/** Chooses all objects of a name, material or group, or by their size or their distance from the eye. */
function ChooseByRule() {
  const facts = useView((s) => s.facts);
  const names = useView((s) => s.names);
  const inPicture = useView((s) => s.inPicture);
  const [by, setBy] = useState<RuleBy>('pattern');
  const [value, setValue] = useState('');
  const metres = evaluate(value, 0);
  const rule = (): ObjectRule | null => {
    if (by === 'smaller') return metres === null ? null : { by, thanM: metres };
    if (by === 'farther') {
      const eye = useView.getState().vantage?.().eye;
      return metres === null || !eye ? null : { by, thanM: metres, from: eye };
    }
    return by !== 'seen' && value.trim() ? { by, name: value.trim() } : null;
  };
  const choose = () => {
    const wanted = rule();
    if (by === 'seen') chooseObjects(inPicture?.() ?? []);
    else if (wanted) chooseObjects(chooseBy(facts?.() ?? NO_FACTS, wanted));
  };
  const listed = by === 'material' ? names?.().materials : by === 'group' ? names?.().groups : null;
  return (
    <div className={styles.by}>
      <Select<RuleBy>
        size="small"
        aria-label="Choose objects by"
        value={by}
        options={RULES}
        onChange={(next) => {
          setBy(next);
          setValue('');
        }}
      />
      {listed ? (
        <Select
          size="small"
          showSearch
          aria-label={by === 'material' ? 'Material' : 'Group'}
          placeholder={listed.length === 0 ? 'There are none' : 'Choose'}
          value={value || undefined}
          options={listed.map((name) => ({ value: name, label: name }))}
          onChange={setValue}
        />
      ) : by === 'seen' ? (
        <span className={desk.text}>as it is now</span>
      ) : (
        <Input
          size="small"
          aria-label={by === 'pattern' ? 'Pattern of names' : 'Metres'}
          placeholder={by === 'pattern' ? 'hut*' : by === 'smaller' ? 'longest side, m' : 'from the eye, m'}
          maxLength={120}
          value={value}
          onChange={(event) => setValue(event.target.value)}
          onPressEnter={choose}
        />
      )}
      <Button size="small" disabled={by !== 'seen' && rule() === null} onClick={choose}>
        Choose
      </Button>
    </div>
  );
}

/** Whether the chosen objects are seen: in the cue that is shown, and in all that say nothing else. */
function ShownRows({
  names,
  edit,
  traced,
}: {
  names: readonly string[];
  edit(label: string, recipe: (rig: Rig) => void): void;
  traced: boolean;
}) {
  const cue = useStudio(currentCue);
  const hidden = useStudio((s) => s.rig.hidden);
  const isOpening = useStudio((s) => s.rig.openings.includes(names[0]!));
  const own = cue.holds.objects?.[names[0]!];
  const byDay = hidden.includes(names[0]!);
  const value = own === undefined ? 'day' : own ? 'shown' : 'hidden';
  const isHidden = own === undefined ? byDay : !own;
  return (
    <>
      <PickRow<'day' | 'shown' | 'hidden'>
        label={`In ${shortened(cue.name, 16)}`}
        value={value}
        options={[
          { value: 'day', label: 'as the day' },
          { value: 'shown', label: 'shown' },
          { value: 'hidden', label: 'hidden' },
        ]}
        onChange={(next) =>
          edit(`${next === 'day' ? 'as the day has it' : next} in ${cue.name}`, (r) =>
            showObjects(r, { cueId: cue.id }, names, next === 'day' ? null : next === 'shown'),
          )
        }
      />
      <SwitchRow
        label="Hidden by the day"
        on={byDay}
        onChange={(on) => edit(on ? 'hidden by the day' : 'shown by the day', (r) => showObjects(r, 'day', names, !on))}
      />
      <SwitchRow
        label={<span title="Light comes in where a cue hides it: what it affects is baked without it too">Opening</span>}
        name="Opening"
        on={isOpening}
        onChange={(on) => edit(on ? 'opening' : 'no opening', (r) => setOpenings(r, names, on))}
      />
      {isHidden && traced && !isOpening && (
        <p className={desk.text}>Not seen here, but the bake has traced it: its shadow and its bounce stay.</p>
      )}
      {isHidden && isOpening && <p className={desk.text}>Open here: what it affects is lit by a bake without it.</p>}
      {!isHidden && !traced && <p className={desk.text}>The bake has not traced it: it is lit live, and casts no baked shadow.</p>}
    </>
  );
}

/** What all chosen objects are given at once. */
function EditRows({ objects }: { objects: ObjectFacts[] }) {
  const densities = useStudio((s) => s.rig.bake.densities);
  const roles = useStudio((s) => s.rig.roles);
  const changeRig = useRigEdit();
  const names = objects.map((o) => o.name);
  const what = calledObjects(names);
  const edit = (label: string, recipe: (rig: Rig) => void, key?: string) => changeRig(`${what}: ${label}`, recipe, key);
  const ofObject = useMemo(() => new Map(roles.filter((r) => r.by === 'object').map((r) => [r.name, r])), [roles]);
  const factors = new Set(names.map((name) => densities[name] ?? 1));
  const rules = names.map((name) => ofObject.get(name));
  const [factor] = factors;
  const [rule] = rules;
  const differ = factors.size > 1 || rules.some((r) => r?.role !== rule?.role && !sameJson(r?.role, rule?.role));
  const role = rule?.role ?? PLAIN_ROLE;
  const isOut = factor === 0;
  return (
    <>
      {differ && <p className={desk.text}>They differ; what is set here is set for all.</p>}
      {!isOut && (
        <NumberRow
          label="Their density"
          value={factor!}
          preset={1}
          held={{
            is: names.some((n) => Object.hasOwn(densities, n)),
            release: () => edit('the level’s density', (r) => setDensities(r, names, null)),
            follows: 'the level',
          }}
          quantity={FACTOR}
          hint="Times the level’s texel density; a double click gives them the level’s again"
          onChange={(v) =>
            edit(`texel density × ${FACTOR.format(v)}`, (r) => setDensities(r, names, v), `density ${names.length} ${names[0]}`)
          }
        />
      )}
      <ShownRows names={names} edit={edit} traced={!isOut && role.traced} />
      <SwitchRow
        label="Left out of the bake"
        name="Left out of the bake"
        on={isOut}
        onChange={(on) => edit(on ? 'left out of the bake' : 'baked again', (r) => setDensities(r, names, on ? 0 : null))}
      />
      <PickRow<ReadyRole | 'plain' | 'own'>
        label="Role"
        as="list"
        value={rule?.as ?? 'plain'}
        options={rule?.as === 'own' ? [...ROLES, { value: 'own', label: 'Switches of its own' }] : ROLES}
        onChange={(next) =>
          next !== 'own' &&
          edit(next === 'plain' ? 'as made' : READY_ROLES[next].name.toLowerCase(), (r) =>
            setObjectRoles(r, names, next === 'plain' ? null : next),
          )
        }
      />
      <SwitchRow
        label="Casts live shadows"
        name="Chosen objects cast live shadows"
        on={role.shadow}
        onChange={(on) =>
          edit(on ? 'casts live shadows' : 'casts no live shadows', (r) => setObjectRoles(r, names, { ...role, shadow: on }))
        }
      />
    </>
  );
}
