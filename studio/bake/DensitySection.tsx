import { Button, Select } from 'antd';
import type { Draft } from 'immer';
import { useState } from 'react';
import { setDensities, type Rig } from '../../core/rig';
import { NumberRow } from '../desk/NumberRow';
import { logarithmic } from '../desk/quantity';
import { calledObjects, chooseObjects } from '../objects/objectChoice';
import { useStudio } from '../state/context';
import { useRigEdit } from '../state/useRigEdit';
import { useView } from '../viewport/viewStore';
import desk from '../desk/desk.module.css';

const FACTOR = logarithmic('×', 1 / 16, 16, { digits: 3 });
/** Objects of one density that are listed one by one, at most; more stand in one line. */
const LISTED = 4;

/** Objects and groups that have more or fewer texels than the rest of the level, or none. */
export function DensitySection() {
  const { densities, groupDensities } = useStudio((s) => s.rig.bake);
  const edit = useRigEdit();
  const names = useView((s) => s.names);
  const [adding, setAdding] = useState(false);
  const setGroup = (name: string, factor: number | null) =>
    edit(
      said(`Group ${name}`, factor),
      ({ bake }: Draft<Rig>) => {
        if (factor === null) delete bake.groupDensities[name];
        else bake.groupDensities[name] = factor;
      },
      `group density ${name}`,
    );
  const setObjects = (objects: string[], factor: number | null) =>
    edit(said(calledObjects(objects), factor), (r) => setDensities(r, objects, factor), `density ${objects.length} ${objects[0]}`);
  return (
    <>
      {Object.entries(groupDensities).map(([name, factor]) => (
        <Given key={name} name={`All of ${name}`} factor={factor} set={(v) => setGroup(name, v)} />
      ))}
      {gathered(densities).map(({ objects, factor }) => (
        <Given
          key={objects[0]}
          name={calledObjects(objects)}
          factor={factor}
          set={(v) => setObjects(objects, v)}
          choose={objects.length > 1 ? () => chooseObjects(objects) : undefined}
        />
      ))}
      {adding ? (
        <div className={desk.pick}>
          <Select
            aria-label="Group that gets a density of its own"
            size="small"
            showSearch
            autoFocus
            defaultOpen
            style={{ width: 210 }}
            options={(names?.().groups ?? []).filter((n) => !Object.hasOwn(groupDensities, n)).map((value) => ({ value, label: value }))}
            onChange={(name: string) => {
              setGroup(name, 2);
              setAdding(false);
            }}
          />
          <button type="button" className={desk.quiet} onClick={() => setAdding(false)}>
            cancel
          </button>
        </div>
      ) : (
        <div className={desk.actions}>
          <Button
            size="small"
            title="Gives all that lies under a node of the file a texel density of its own"
            onClick={() => setAdding(true)}
          >
            Density of a group
          </Button>
        </div>
      )}
      <p className={desk.text}>Objects get a density of their own where they are chosen, in Objects.</p>
    </>
  );
}

interface GivenProps {
  name: string;
  factor: number;
  set(factor: number | null): void;
  choose?(): void;
}

/** What has a density of its own, or is left out. */
function Given({ name, factor, set, choose }: GivenProps) {
  if (factor !== 0)
    return (
      <NumberRow
        label={name}
        value={factor}
        preset={1}
        held={{ is: true, release: () => set(null), follows: 'the level' }}
        quantity={FACTOR}
        hint="Times the level’s density; a double click gives the level’s again"
        onChange={set}
      />
    );
  return (
    <div className={desk.pick}>
      <span title="Casts shadows and sends light back, and keeps no light of its own">{name}</span>
      {choose && (
        <button type="button" className={desk.quiet} onClick={choose}>
          choose
        </button>
      )}
      <span className={desk.text}>left out</span>
      <Button size="small" aria-label={`Bake ${name} again`} onClick={() => set(null)}>
        Take in
      </Button>
    </div>
  );
}

/** Objects by their density; many of one stand together. */
function gathered(densities: Readonly<Record<string, number>>): { objects: string[]; factor: number }[] {
  const groups = new Map<number, string[]>();
  for (const [name, factor] of Object.entries(densities)) groups.set(factor, [...(groups.get(factor) ?? []), name]);
  return [...groups].flatMap(([factor, objects]) =>
    objects.length > LISTED ? [{ objects, factor }] : objects.map((name) => ({ objects: [name], factor })),
  );
}

/** What giving an object a density is called. */
function said(name: string, factor: number | null): string {
  if (factor === 0) return `${name}: left out of the bake`;
  return factor === null ? `${name}: the level’s texel density` : `${name}: texel density × ${FACTOR.format(factor)}`;
}
