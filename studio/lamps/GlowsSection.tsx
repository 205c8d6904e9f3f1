import { memo } from 'react';
import { Button, Select } from 'antd';
import { changeGlow, lampsOf, removeGlow, setGlow, type GlowEmission, type GlowRule, type Rig } from '../../core/rig';
import { ColorRow } from '../desk/ColorRow';
import { NumberRow } from '../desk/NumberRow';
import { PickRow } from '../desk/PickRow';
import { Section } from '../desk/Section';
import { logarithmic, readable } from '../desk/quantity';
import { shortened } from '../desk/shortened';
import { useChosenObjects } from '../objects/ChosenObjects';
import { calledObjects, chooseObjects } from '../objects/objectChoice';
import type { ChangeRig } from '../state/useRigEdit';
import type { OwnGlow } from '../viewport/level/glows';
import { useView } from '../viewport/viewStore';
import { glowRows, type GlowRow } from './glowRows';
import { useLampTool } from './lampTool';
import desk from '../desk/desk.module.css';

const LUMINANCE = logarithmic('cd/m²', 0.1, 1e7, { zero: true });
/** What a material that sends out nothing by itself begins with. */
const NEW_EMISSION: GlowEmission = { luminance: 1000, color: '#ffffff' };

/** What glows: by its material, or by a rule of the rig; how bright, in what hue, and which circuit dims it. */
export const GlowsSection = memo(function GlowsSection({ rig, edit }: { rig: Rig; edit: ChangeRig }) {
  const own = useView((s) => s.glows)?.() ?? [];
  const rows = glowRows(own, rig.glows);
  return (
    <Section title="Glow" note={rows.length === 0 ? 'nothing glows' : String(rows.length)} rare>
      {rows.length === 0 && (
        <p className={desk.text}>
          Materials that send out light are listed here. Any other can be made to, on the whole level or on chosen objects.
        </p>
      )}
      {rows.map((row) => (
        <Glow key={`${row.material} ${row.rule?.id ?? ''}`} row={row} rig={rig} edit={edit} />
      ))}
      <NewGlow own={own} rig={rig} edit={edit} />
    </Section>
  );
});

function Glow({ row: { material, rule, own }, rig, edit }: { row: GlowRow; rig: Rig; edit: ChangeRig }) {
  const objects = rule?.objects ?? null;
  const name = objects ? `${material}, ${calledObjects(objects)}` : material;
  const emission = rule?.emission ?? own ?? NEW_EMISSION;
  const set = (what: string, change: Partial<Pick<GlowRule, 'circuitId' | 'emission'>>, key?: string) =>
    edit(`${name}: ${what}`, (r) => setGlow(r, material, objects, change), key && `${key} ${name}`);
  return (
    <div role="group" className={desk.group} aria-label={`Glow of ${name}`}>
      <PickRow
        label={
          <>
            {shortened(name, 26)}
            {objects && objects.length > 1 && (
              <Button type="link" size="small" onClick={() => chooseObjects(objects)}>
                choose
              </Button>
            )}
          </>
        }
        value={rule?.circuitId ?? ''}
        as="list"
        options={[{ value: '', label: 'always on' }, ...rig.circuits.map((c) => ({ value: c.id, label: c.name }))]}
        onChange={(id) => set(`to ${rig.circuits.find((c) => c.id === id)?.name ?? 'no circuit'}`, { circuitId: id || null })}
      />
      <NumberRow
        label="Luminance"
        value={emission.luminance}
        preset={own?.luminance ?? emission.luminance}
        quantity={LUMINANCE}
        hint={own ? `As the material has it: ${readable(own.luminance)} cd/m²` : 'The material sends out nothing by itself'}
        onChange={(luminance) =>
          set(`${LUMINANCE.format(luminance)} cd/m²`, { emission: { ...emissionOf(emission), luminance } }, 'luminance')
        }
      />
      <ColorRow
        label="Hue"
        value={emission.color}
        preset={own?.color ?? emission.color}
        onChange={(color) => set(`hue ${color}`, { emission: { ...emissionOf(emission), color } }, 'hue')}
      />
      {rule && (rule.emission !== null || objects !== null) && (
        <div className={desk.actions}>
          {rule.emission !== null && own && (
            <Button size="small" onClick={() => edit(`${name}: as its material`, (r) => changeGlow(r, rule.id, { emission: null }))}>
              As its material
            </Button>
          )}
          {(objects !== null || !own) && (
            <Button size="small" onClick={() => edit(`${name}: no glow of its own`, (r) => removeGlow(r, rule.id))}>
              Remove
            </Button>
          )}
        </div>
      )}
    </div>
  );
}

const emissionOf = ({ luminance, color }: GlowEmission): GlowEmission => ({ luminance, color });

/** Lets chosen objects, or all that has a material, glow by a rule of their own. */
function NewGlow({ own, rig, edit }: { own: readonly OwnGlow[]; rig: Rig; edit: ChangeRig }) {
  const objects = useChosenObjects();
  const chosen = useLampTool((s) => s.chosen);
  const names = useView((s) => s.names)?.() ?? null;
  const placedIds = new Set(lampsOf(rig).flatMap((l) => (chosen.has(l.id) && l.placedId !== null ? [l.placedId] : [])));
  const copies = rig.placed.filter((p) => placedIds.has(p.id));
  const on = [...objects.map((o) => o.name), ...copies.map((p) => p.name)];
  // What a copy's model is made of is known of what glows by itself alone.
  const ofChosen = [...objects.flatMap((o) => o.materials), ...(copies.length > 0 ? own.map((g) => g.name) : [])];
  const materials = on.length > 0 ? [...new Set(ofChosen)] : (names?.materials ?? []);
  if (materials.length === 0) return null;
  const add = (material: string) => {
    const general = rig.glows.find((g) => g.material === material && g.objects === null);
    const emission = general?.emission ?? own.find((g) => g.name === material) ?? NEW_EMISSION;
    const change = { circuitId: general?.circuitId ?? null, emission: emissionOf(emission) };
    edit(`${material} glows on ${on.length > 0 ? calledObjects(on) : 'all that has it'}`, (r) =>
      setGlow(r, material, on.length > 0 ? on : null, change),
    );
  };
  return (
    <div className={desk.pick}>
      <span>{on.length > 0 ? `On ${shortened(calledObjects(on), 20)}` : 'Make glow'}</span>
      <Select<string>
        size="small"
        style={{ width: 190 }}
        aria-label="Make a material glow"
        placeholder="a material ..."
        value={null}
        showSearch
        options={materials.map((m) => ({ value: m, label: m }))}
        onChange={add}
      />
    </div>
  );
}
