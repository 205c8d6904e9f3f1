import { Button } from 'antd';
import { useState } from 'react';
import { airShelf, copyHeld, heldDifferences, type Cue, type HeldPath, type Rig } from '../../core/rig';
import { PickRow } from '../desk/PickRow';
import { Section } from '../desk/Section';
import type { ChangeRig } from '../state/useRigEdit';
import { colorOf, heldLabel, heldText } from './heldText';
import desk from '../desk/desk.module.css';
import styles from './cues.module.css';

/** What the cue and another one hold differently, value by value, and the way to take each over. */
export function DifferencesSection({ rig, cue, changeRig }: { rig: Rig; cue: Cue; changeRig: ChangeRig }) {
  const [otherId, setOtherId] = useState<string | null>(null);
  const choices = rig.cues.filter((c) => c.id !== cue.id);
  const other = choices.find((c) => c.id === otherId) ?? choices[0];
  if (!other) return null;
  const differences = heldDifferences(cue, other);
  const airs = airShelf(rig);
  const take = (paths: readonly HeldPath[], what: string) =>
    changeRig(`${cue.name}: ${what} of ${other.name}`, (r) => {
      for (const path of paths) copyHeld(r, other.id, [cue.id], path);
    });
  return (
    <Section title="Beside another cue" note={differences.length === 0 ? 'the same' : `${differences.length} differ`}>
      <PickRow<string>
        label="Other cue"
        as="list"
        value={other.id}
        options={choices.map(({ id, name }) => ({ value: id, label: name }))}
        onChange={setOtherId}
      />
      {differences.length > 0 && (
        <table className={styles.differences}>
          <thead>
            <tr>
              <th>Held value</th>
              <th>{cue.name}</th>
              <th>{other.name}</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {differences.map((d) => {
              const label = heldLabel(d, rig);
              return (
                <tr key={`${d.part} ${d.key}`}>
                  <th scope="row">{label}</th>
                  <Value text={heldText(d, d.a, airs)} color={colorOf(d.a)} isDays={d.a === undefined} />
                  <Value text={heldText(d, d.b, airs)} color={colorOf(d.b)} isDays={d.b === undefined} />
                  <td>
                    <button
                      type="button"
                      className={desk.quiet}
                      aria-label={`Take ${label} of ${other.name}`}
                      title={d.b === undefined ? `Follow the day, as ${other.name} does` : `Hold what ${other.name} holds`}
                      onClick={() => take([d], label.toLowerCase())}
                    >
                      take
                    </button>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      {differences.length > 1 && (
        <div className={desk.actions}>
          <Button size="small" onClick={() => take(differences, 'all')}>
            Take all of {other.name}
          </Button>
        </div>
      )}
    </Section>
  );
}

function Value({ text, color, isDays }: { text: string; color: string | null; isDays: boolean }) {
  return (
    <td data-days={isDays}>
      {color && <i style={{ background: color }} />}
      {text}
    </td>
  );
}
