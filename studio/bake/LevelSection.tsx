import { Button } from 'antd';
import { FROM_LEVEL, placeLevelAs, takeLights, takeSun } from '../../core/rig';
import { AS_GLTF, LEVEL_UNITS, placingName, type Placing } from '../../core/units';
import { grouped } from '../desk/quantity';
import { PickRow } from '../desk/PickRow';
import { Section } from '../desk/Section';
import { useStudio } from '../state/context';
import { useRigEdit } from '../state/useRigEdit';
import desk from '../desk/desk.module.css';

const ORIGIN = { file: 'the file’s own', packed: 'the file’s own, packed together', made: 'made here' } as const;
const UPS = [
  { value: 'y', label: 'Y' },
  { value: 'z', label: 'Z' },
] as const;

/** What the level holds, the unit and axis that its file is read with, and the lights that it brings. */
export function LevelSection() {
  const { summary, name } = useStudio((s) => s.level);
  const placing = useStudio((s) => s.rig.placing) ?? AS_GLTF;
  const changeRig = useRigEdit();
  const place = (next: Placing) => changeRig(`Level in ${placingName(next)}`, (r) => placeLevelAs(r, next));
  return (
    <Section title="Level" note={name}>
      <PickRow<number>
        label="Unit of the file"
        as="list"
        value={placing.metresPerUnit}
        options={LEVEL_UNITS.map(({ name: label, metres }) => ({ value: metres, label }))}
        onChange={(metresPerUnit) => place({ ...placing, metresPerUnit })}
      />
      <PickRow<'y' | 'z'> label="Up in the file" value={placing.up} options={UPS} onChange={(up) => place({ ...placing, up })} />
      <dl className={desk.facts}>
        <dt>Size</dt>
        <dd>{summary.max.map((v, c) => grouped(v - summary.min[c]!)).join(' × ')} m</dd>
        <dt>Objects</dt>
        <dd>{grouped(summary.objects)}</dd>
        <dt>Triangles</dt>
        <dd>{grouped(summary.triangles)}</dd>
        <dt>Surface</dt>
        <dd>{grouped(summary.areaM2)} m²</dd>
        <dt>Lightmaps</dt>
        <dd>{summary.lightmaps.maps.map((m) => `${m.width} × ${m.height}`).join(', ')}</dd>
        <dt>Second UVs</dt>
        <dd>{ORIGIN[summary.lightmaps.origin]}</dd>
      </dl>
      {summary.lightmaps.faults.slice(0, 6).map(({ object, fault }) => (
        <p key={object} className={desk.text}>
          {object}: its second UVs were {fault}, made anew.
        </p>
      ))}
      <FileLights />
    </Section>
  );
}

/** Lights of the level's file: lamps and a sun are made of them when it is asked for. */
function FileLights() {
  const lights = useStudio((s) => s.level.summary.lights) ?? [];
  const cueId = useStudio((s) => s.cueId);
  const cueName = useStudio((s) => s.rig.cues.find((c) => c.id === s.cueId)!.name);
  const taken = useStudio((s) => s.rig.lamps.filter((l) => l.id.startsWith(`${FROM_LEVEL.id}-`)).length);
  const changeRig = useRigEdit();
  if (lights.length === 0) return null;
  const local = lights.filter((l) => l.kind !== 'directional');
  const sun = lights.find((l) => l.kind === 'directional');
  const count = local.length === 1 ? '1 light' : `${grouped(local.length)} lights`;
  return (
    <>
      <p className={desk.text}>
        The file holds {[local.length > 0 && count, sun && 'a directional light'].filter(Boolean).join(' and ')}
        {taken > 0 ? `; ${grouped(taken)} are lamps in ${FROM_LEVEL.name}.` : '. They light nothing by themselves.'}
      </p>
      <div className={desk.actions}>
        {local.length > 0 && (
          <Button
            size="small"
            title="With their candela, colours, cones and ranges, in a circuit of their own"
            onClick={() => changeRig(`${count} of the file as lamps`, (r) => takeLights(r, lights))}
          >
            {taken > 0 ? 'Make the lamps anew' : `Make ${local.length === 1 ? 'a lamp of it' : 'lamps of them'}`}
          </Button>
        )}
        {sun && (
          <Button
            size="small"
            title={`${cueName} holds a sun from ${sun.name}: its bearing, its lux and the nearest temperature`}
            onClick={() => changeRig(`The file’s ${sun.name} as the sun of ${cueName}`, (r) => takeSun(r, cueId, sun))}
          >
            Sun of {cueName}
          </Button>
        )}
      </div>
    </>
  );
}
