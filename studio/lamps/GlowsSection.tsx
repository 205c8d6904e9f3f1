import { memo } from 'react';
import { Select } from 'antd';
import type { Rig } from '../../core/rig';
import { readable } from '../desk/quantity';
import { Section } from '../desk/Section';
import { useView } from '../viewport/viewStore';
import type { ChangeRig } from '../state/useRigEdit';
import desk from '../desk/desk.module.css';

/** The level's glowing materials: how bright they are, and which circuit dims them. */
export const GlowsSection = memo(function GlowsSection({ rig, edit }: { rig: Rig; edit: ChangeRig }) {
  const glows = useView((s) => s.glows)?.() ?? [];
  return (
    <Section title="Glowing materials" note={glows.length === 0 ? 'none in the level' : String(glows.length)} rare>
      {glows.length === 0 && (
        <p className={desk.text}>Materials of the level that emit light are listed here, to be dimmed by a circuit.</p>
      )}
      {glows.map(({ name, luminance }) => (
        <div key={name} className={desk.pick}>
          <span>
            {name}, {readable(luminance)} cd/m²
          </span>
          <Select
            size="small"
            aria-label={`Circuit of ${name}`}
            style={{ width: 120 }}
            value={rig.circuits.find((c) => c.glows.includes(name))?.id ?? ''}
            options={[{ value: '', label: 'always on' }, ...rig.circuits.map((c) => ({ value: c.id, label: c.name }))]}
            onChange={(id: string) =>
              edit(`${name} to ${rig.circuits.find((c) => c.id === id)?.name ?? 'no circuit'}`, (r) => {
                for (const circuit of r.circuits) {
                  circuit.glows = circuit.glows.filter((g) => g !== name);
                  if (circuit.id === id) circuit.glows.push(name);
                }
              })
            }
          />
        </div>
      ))}
    </Section>
  );
});
