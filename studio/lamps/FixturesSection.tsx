import { Button } from 'antd';
import { memo, useState } from 'react';
import type { Rig } from '../../core/rig';
import { NameField } from '../desk/NameField';
import { Section } from '../desk/Section';
import { choose, useLampTool } from './lampTool';
import { ModelRow } from './ModelRow';
import { LampRows } from './LampSection';
import type { ChangeRig } from '../state/useRigEdit';
import desk from '../desk/desk.module.css';
import styles from './lamps.module.css';

/** The fixtures: placed many times, edited once for all. */
export const FixturesSection = memo(function FixturesSection({ rig, edit }: { rig: Rig; edit: ChangeRig }) {
  const [open, setOpen] = useState<string | null>(null);
  const placing = useLampTool((s) => (s.mode === 'place' ? s.fixtureId : null));
  const fixture = rig.fixtures.find((f) => f.id === open);
  return (
    <Section title="Fixtures" note={rig.fixtures.length === 0 ? 'none yet' : String(rig.fixtures.length)}>
      {rig.fixtures.length === 0 && (
        <p className={desk.text}>Choose lamps and make a fixture of them: its copies are all edited at once.</p>
      )}
      {rig.fixtures.map((f) => {
        const copies = rig.placed.filter((p) => p.fixtureId === f.id);
        return (
          <div key={f.id} className={styles.thing}>
            <NameField
              name={f.name}
              onRename={(name) => edit(`${f.name}: named ${name}`, (r) => void (r.fixtures.find((x) => x.id === f.id)!.name = name))}
            />
            <button
              type="button"
              className={desk.quiet}
              title="Choose its copies"
              onClick={() => choose(copies.flatMap((c) => f.lamps.map((l) => `${c.id}.${l.id}`)))}
            >
              {copies.length}
            </button>
            <button
              type="button"
              className={desk.quiet}
              aria-pressed={placing === f.id}
              onClick={() =>
                useLampTool.setState(placing === f.id ? { mode: 'choose', fixtureId: null } : { mode: 'place', fixtureId: f.id })
              }
            >
              place
            </button>
            <button type="button" className={desk.quiet} aria-expanded={open === f.id} onClick={() => setOpen(open === f.id ? null : f.id)}>
              edit
            </button>
          </div>
        );
      })}
      {fixture && (
        <>
          <ModelRow fixture={fixture} edit={edit} />
          {fixture.lamps.map((lamp, i) => (
            <div key={lamp.id}>
              <div
                className={desk.bandTitle}
              >{`${lamp.name} of ${fixture.name}, in all ${rig.placed.filter((p) => p.fixtureId === fixture.id).length} copies`}</div>
              <LampRows
                lamp={lamp}
                rig={rig}
                change={(what, recipe, key) =>
                  edit(
                    `${fixture.name}: ${what}`,
                    (r) => recipe(r.fixtures.find((f) => f.id === fixture.id)!.lamps[i]!),
                    key && `${fixture.id} ${lamp.id} ${key}`,
                  )
                }
              />
            </div>
          ))}
          <div className={desk.actions}>
            <Button
              size="small"
              disabled={rig.placed.some((p) => p.fixtureId === fixture.id)}
              onClick={() => edit(`Took ${fixture.name} away`, (r) => void (r.fixtures = r.fixtures.filter((f) => f.id !== fixture.id)))}
            >
              Remove the fixture
            </Button>
          </div>
        </>
      )}
    </Section>
  );
});
