import { Button } from 'antd';
import { memo, useState } from 'react';
import { freeNumber, isInMotion, lampsOf, removeCircuit, type Rig } from '../../core/rig';
import { NameField } from '../desk/NameField';
import { NumberRow } from '../desk/NumberRow';
import { logarithmic } from '../desk/quantity';
import { Section } from '../desk/Section';
import { SwitchRow } from '../desk/SwitchRow';
import { Toggle } from '../desk/Toggle';
import { flipMuteCircuit, flipSoloCircuit } from '../bake/looking';
import { useListening } from '../viewport/mix/listening';
import { ruleText } from './DimmerPlan';
import { FlickerRows } from './FlickerRows';
import { choose, useLampTool } from './lampTool';
import { RuleRows } from './RuleRows';
import type { ChangeRig } from '../state/useRigEdit';
import desk from '../desk/desk.module.css';
import styles from './lamps.module.css';

const BOUNCE = logarithmic('×', 0.125, 8, { zero: true, digits: 3 });

/** The circuits: their names, when they burn by themselves, and their lamps. */
export const CircuitsSection = memo(function CircuitsSection({ rig, edit }: { rig: Rig; edit: ChangeRig }) {
  const [open, setOpen] = useState<string | null>(null);
  const over = useLampTool((st) => st.dragged?.over ?? null);
  const [offered, setOffered] = useState<string | null>(null);
  const soloCircuits = useListening((s) => s.soloCircuits);
  const mutedCircuits = useListening((s) => s.mutedCircuits);
  const showsMotion = useListening((s) => s.showsMotion);
  const taking = useLampTool((st) => st.circuitId);
  const lamps = lampsOf(rig);
  const add = () => {
    const named = freeNumber('Circuit', rig.circuits);
    edit('A circuit more', (r) => void r.circuits.push({ ...named, rule: { by: 'on' }, bounce: 1, flicker: null }));
    useLampTool.setState({ circuitId: named.id });
    // Offered once: whoever has circuits knows where their rules are.
    setOffered(rig.circuits.length === 0 ? named.id : null);
  };
  const change = (id: string, what: string, recipe: (c: Rig['circuits'][number]) => void, key?: string) =>
    edit(
      `${rig.circuits.find((c) => c.id === id)!.name}: ${what}`,
      (r) => recipe(r.circuits.find((c) => c.id === id)!),
      key && `${id} ${key}`,
    );
  return (
    <Section title="Circuits" note={rig.circuits.length === 0 ? 'none yet' : String(rig.circuits.length)}>
      {rig.circuits.map((circuit) => {
        const own = lamps.filter((l) => l.circuitId === circuit.id);
        return (
          <div key={circuit.id} data-circuit={circuit.id} className={over === circuit.id ? styles.over : undefined}>
            <div className={styles.thing}>
              <NameField name={circuit.name} onRename={(name) => change(circuit.id, `named ${name}`, (c) => void (c.name = name))} />
              <Toggle
                on={soloCircuits.includes(circuit.id)}
                label={`Show ${circuit.name} alone among the circuits`}
                mark="solo"
                onClick={() => flipSoloCircuit(circuit.id)}
              />
              <Toggle
                on={mutedCircuits.includes(circuit.id)}
                label={`Mute ${circuit.name} while working`}
                mark="mute"
                onClick={() => flipMuteCircuit(circuit.id)}
              />
              <button
                type="button"
                className={styles.taking}
                aria-pressed={taking === circuit.id}
                aria-label={`New lamps go into ${circuit.name}`}
                title={taking === circuit.id ? 'New lamps go into this circuit' : 'Have new lamps go into this circuit'}
                onClick={() => useLampTool.setState({ circuitId: taking === circuit.id ? null : circuit.id })}
              >
                new
              </button>
              <button
                type="button"
                className={desk.quiet}
                title={`Choose its ${own.length === 1 ? 'lamp' : `${own.length} lamps`}`}
                onClick={() => choose(own.map((l) => l.id))}
              >
                {own.length}
              </button>
              <button
                type="button"
                className={desk.quiet}
                aria-expanded={open === circuit.id}
                title={ruleText(circuit.rule)}
                onClick={() => setOpen(open === circuit.id ? null : circuit.id)}
              >
                when
              </button>
            </div>
            {offered === circuit.id && (
              <div className={styles.offer}>
                <span>Turn it on by itself when it is dark?</span>
                <Button
                  size="small"
                  onClick={() => {
                    change(circuit.id, 'burns in the dark', (c) => void (c.rule = { by: 'darkness', belowLux: 50 }));
                    setOffered(null);
                  }}
                >
                  In the dark
                </Button>
                <Button size="small" onClick={() => setOffered(null)}>
                  Always
                </Button>
              </div>
            )}
            {open === circuit.id && (
              <>
                <NumberRow
                  label="Bounce"
                  value={circuit.bounce}
                  preset={1}
                  quantity={BOUNCE}
                  hint="Of its baked light that has bounced, against the straight light; it never asks for a bake"
                  onChange={(v) => change(circuit.id, `bounce × ${BOUNCE.format(v)}`, (c) => void (c.bounce = v), 'bounce')}
                />
                <FlickerRows
                  flicker={circuit.flicker}
                  change={(what, flicker, key) => change(circuit.id, what, (c) => void (c.flicker = flicker), key)}
                />
                <RuleRows rule={circuit.rule} change={(what, rule, key) => change(circuit.id, what, (c) => void (c.rule = rule), key)} />
                <div className={desk.actions}>
                  <Button size="small" onClick={() => edit(`Took ${circuit.name} away`, (r) => removeCircuit(r, circuit.id))}>
                    Remove the circuit
                  </Button>
                </div>
              </>
            )}
          </div>
        );
      })}
      {isInMotion(rig) && (
        <SwitchRow label="Show in motion" on={showsMotion} onChange={(on) => useListening.setState({ showsMotion: on })} />
      )}
      <div className={desk.actions}>
        <Button size="small" onClick={add}>
          Add a circuit
        </Button>
      </div>
    </Section>
  );
});
