import { Button, Select } from 'antd';
import { memo, useState } from 'react';
import { showInstead, showObjects, showVariant, type Cue, type Rig } from '../../core/rig';
import { HeldMark } from '../desk/HeldMark';
import { Section } from '../desk/Section';
import { FinishRows } from '../intake/FinishRows';
import type { ChangeRig } from '../state/useRigEdit';
import { useView } from '../viewport/viewStore';
import desk from '../desk/desk.module.css';
import styles from './day.module.css';

/** Objects that are listed one by one. */
const LISTED = 12;
const AS_FILE = 'as the file has it';

interface Props {
  rig: Pick<Rig, 'variant' | 'hidden' | 'openings'>;
  cue: Cue;
  changeRig: ChangeRig;
}

/** What of the level a cue shows: which objects, which variant of its materials, and which materials in place of others. */
export const ShownSection = memo(function ShownSection({ rig, cue, changeRig }: Props) {
  const { objects = {}, looks = {}, variant } = cue.holds;
  // Another level has other materials.
  useView((s) => s.drawn);
  const { names, variants } = useView((s) => s.fileMaterials)?.() ?? { names: [], variants: [] };
  const count = Object.keys(objects).length + Object.keys(looks).length + (variant === undefined ? 0 : 1);
  const edit = (what: string, recipe: (r: Rig) => void) => changeRig(`${cue.name}: ${what}`, recipe);
  return (
    <Section title="Shown" note={count > 0 ? String(count) : 'as the day'} rare={count === 0}>
      {(variants.length > 0 || variant !== undefined) && <VariantRows rig={rig} cue={cue} variants={variants} changeRig={changeRig} />}
      {Object.entries(looks).map(([material, other]) => (
        <div key={material} className={styles.shown}>
          <span title={material}>{material}</span>
          <span title={other}>{other}</span>
          <button
            type="button"
            className={desk.quiet}
            aria-label={`Show ${material} as it is`}
            onClick={() => edit(`${material} as it is`, (r) => showInstead(r, cue.id, material, null))}
          >
            as it is
          </button>
        </div>
      ))}
      {Object.keys(looks).length > 0 && <p className={desk.text}>Baked light stays that of the materials it was traced with.</p>}
      <FinishRows cue={cue} />
      <InsteadRow
        key={cue.id}
        names={names}
        onShow={(material, other) => edit(`${other} in place of ${material}`, (r) => showInstead(r, cue.id, material, other))}
      />
      {Object.entries(objects)
        .slice(0, LISTED)
        .map(([name, shown]) => (
          <div key={name} className={styles.shown}>
            <span title={name}>{name}</span>
            <span>{shown ? 'shown' : rig.openings.includes(name) ? 'open' : 'hidden'}</span>
            <button
              type="button"
              className={desk.quiet}
              aria-label={`Show ${name} as the day does`}
              onClick={() => edit(`${name} as the day has it`, (r) => showObjects(r, { cueId: cue.id }, [name], null))}
            >
              as the day
            </button>
          </div>
        ))}
      {Object.keys(objects).length > LISTED && <p className={desk.text}>and {Object.keys(objects).length - LISTED} more objects</p>}
      <p className={desk.text}>
        {rig.hidden.length > 0 ? `The day hides ${rig.hidden.length === 1 ? 'one object' : `${rig.hidden.length} objects`}. ` : ''}
        Objects are shown and hidden where they are chosen, in the Bake room.
      </p>
    </Section>
  );
});

/** The variant of the file's materials: that of the day, and that of the cue. */
function VariantRows({ rig, cue, variants, changeRig }: Props & { variants: readonly string[] }) {
  const own = cue.holds.variant;
  const options = [{ value: '', label: AS_FILE }, ...variants.map((name) => ({ value: name, label: name }))];
  const show = (variant: string | null) =>
    changeRig(`${cue.name}: ${variant === null ? 'materials of the day' : variant || AS_FILE}`, (r) =>
      showVariant(r, { cueId: cue.id }, variant),
    );
  return (
    <>
      <div className={desk.pick} data-differs={own !== undefined} data-holds>
        <HeldMark label="Variant" held={{ is: own !== undefined, release: () => show(null) }} hold={() => show(rig.variant)} />
        <span>Variant</span>
        <Select
          size="small"
          aria-label="Variant"
          style={{ width: 190 }}
          value={own ?? rig.variant}
          options={options}
          onChange={(v: string) => show(v)}
        />
      </div>
      <div className={desk.pick}>
        <span>Of the day</span>
        <Select
          size="small"
          aria-label="Variant of the day"
          style={{ width: 190 }}
          value={rig.variant}
          options={options}
          onChange={(v: string) => changeRig(`Materials of the day: ${v || AS_FILE}`, (r) => showVariant(r, 'day', v))}
        />
      </div>
      {(own ?? rig.variant) !== '' && <p className={desk.text}>Baked light stays that of the file’s own materials.</p>}
    </>
  );
}

/** Chooses a material, and the one that is shown in its place. */
function InsteadRow({ names, onShow }: { names: readonly string[]; onShow(material: string, other: string): void }) {
  const [material, setMaterial] = useState<string | null>(null);
  const options = [...names].sort((a, b) => a.localeCompare(b, undefined, { numeric: true })).map((name) => ({ value: name, label: name }));
  return (
    <div className={styles.instead}>
      <Select
        size="small"
        showSearch
        aria-label="Material"
        placeholder="Material"
        value={material}
        options={options}
        onChange={(name: string) => setMaterial(name)}
      />
      <Select
        size="small"
        showSearch
        aria-label="Shown in its place"
        placeholder="shown in its place"
        value={null}
        disabled={material === null}
        options={options.filter((o) => o.value !== material)}
        onChange={(other: string) => {
          onShow(material!, other);
          setMaterial(null);
        }}
      />
      <Button size="small" disabled={material === null} onClick={() => setMaterial(null)} aria-label="Choose no material">
        ×
      </Button>
    </div>
  );
}
