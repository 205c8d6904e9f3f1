import { PLAIN_LOOK, releaseLook, setLook, type BodyLook, type HeldBodyName } from '../../core/rig';
import { ColorRow } from '../desk/ColorRow';
import { NumberRow } from '../desk/NumberRow';
import { linear, logarithmic, type Quantity } from '../desk/quantity';
import { Section } from '../desk/Section';
import { SwitchRow } from '../desk/SwitchRow';
import type { ChangeRig } from '../state/useRigEdit';

interface Row {
  key: 'discDeg' | 'halo' | 'haloDeg';
  label: string;
  quantity: Quantity;
  hint: string;
  what(value: string): string;
}
const ROWS: Row[] = [
  {
    key: 'discDeg',
    label: 'Seen disc',
    quantity: logarithmic('°', 0.05, 60),
    hint: 'Full angle of the disc that is seen; shadows keep the other one',
    what: (v) => `seen as ${v}°`,
  },
  {
    key: 'halo',
    label: 'Halo',
    quantity: linear('', 0, 1, 0.01, 2),
    hint: 'Share of its light that is seen about the disc; it lights nothing',
    what: (v) => `halo ${v}`,
  },
];
const HALO_ROWS: Row[] = [
  {
    key: 'haloDeg',
    label: 'Halo’s size',
    quantity: logarithmic('°', 0.1, 30, { digits: 2 }),
    hint: 'Angle over which it falls to a third',
    what: (v) => `halo over ${v}°`,
  },
];

interface Props {
  /** What the body is called in the history. */
  name: string;
  look: BodyLook;
  /** The disc that softens its shadows. */
  discDeg: number;
  held?: (key: keyof BodyLook) => { is: boolean; release(): void };
  set(fields: Partial<BodyLook>, what: string, key: string): void;
}

/** How a sun or moon is seen, apart from how it lights. */
export function LookRows({ name, look, discDeg, held, set }: Props) {
  return (
    <>
      <SwitchRow
        label="Gives light"
        name={`${name} gives light`}
        on={look.lights}
        onChange={(lights) => set({ lights }, lights ? 'gives light' : 'gives no light', 'lights')}
      />
      <SwitchRow
        label="Is seen"
        name={`${name} is seen`}
        on={look.seen}
        onChange={(seen) => set({ seen }, seen ? 'is seen' : 'is not seen', 'seen')}
      />
      {look.seen && (
        <>
          {[...ROWS, ...(look.halo > 0 ? HALO_ROWS : [])].map(({ key, label, quantity, hint, what }) => (
            <NumberRow
              key={key}
              label={label}
              value={look[key] ?? discDeg}
              preset={PLAIN_LOOK[key] ?? discDeg}
              held={held?.(key)}
              quantity={quantity}
              hint={hint}
              onChange={(v) => set({ [key]: v }, what(quantity.format(v)), key)}
            />
          ))}
          {look.halo > 0 && (
            <ColorRow
              label="Halo’s colour"
              value={look.haloColor}
              preset={PLAIN_LOOK.haloColor}
              onChange={(haloColor) => set({ haloColor }, `halo ${haloColor}`, 'halo colour')}
            />
          )}
        </>
      )}
    </>
  );
}

/** The same rows for what a cue holds of the sun or the moon, folded until they are wanted. */
export function LookSection({
  cue,
  body,
  discDeg,
  changeRig,
}: {
  cue: { id: string; name: string; holds: { sunLook?: Partial<BodyLook>; moonLook?: Partial<BodyLook> } };
  body: HeldBodyName;
  discDeg: number;
  changeRig: ChangeRig;
}) {
  const own = body === 'sun' ? cue.holds.sunLook : cue.holds.moonLook;
  return (
    <Section title={`Look of the ${body}`} note={own ? 'held' : 'as it lights'} rare={!own}>
      <LookRows
        name={body === 'sun' ? 'Sun' : 'Moon'}
        look={{ ...PLAIN_LOOK, ...own }}
        discDeg={discDeg}
        held={(key) => ({
          is: own?.[key] !== undefined,
          release: () => changeRig(`${cue.name}: ${body} seen as it lights`, (r) => releaseLook(r, cue.id, body, key)),
        })}
        set={(fields, what, key) =>
          changeRig(`${cue.name}: ${body} ${what}`, (r) => setLook(r, cue.id, body, fields), `${cue.id} ${body} ${key}`)
        }
      />
    </Section>
  );
}
