import { memo } from 'react';
import { Segmented, Select } from 'antd';
import { cutByReach } from '../../core/preflight';
import type { Lamp, LampKept, LampOutput, LampShape } from '../../core/lamps';
import { emissionOf } from '../../core/lamps';
import { DEFAULT_LAMP, changeLamps, type Rig, type StandingLamp } from '../../core/rig';
import { KELVIN_RANGE } from '../../core/units';
import { ColorRow } from '../desk/ColorRow';
import { NameRow } from '../desk/NameRow';
import { PickRow } from '../desk/PickRow';
import { SwitchRow } from '../desk/SwitchRow';
import { NumberRow } from '../desk/NumberRow';
import { kelvin, linear, logarithmic, readable, type Quantity } from '../desk/quantity';
import { Section } from '../desk/Section';
import { useView } from '../viewport/viewStore';
import type { ChangeRig } from '../state/useRigEdit';
import { lampItself } from './lampActions';
import { MotionRows } from './MotionRows';
import { PolarChart } from './PolarChart';
import { KINDS, SHAPE_ROWS, shapeOf } from './shapes';
import desk from '../desk/desk.module.css';

const LUMENS = logarithmic('lm', 0.1, 1e6, { zero: true });
const CANDELA = logarithmic('cd', 0.01, 1e6, { zero: true });
const SHARE = logarithmic('×', 0.01, 100, { zero: true });
const REACH = logarithmic('m', 0.1, 500, { digits: 3 });
const KELVIN = kelvin(KELVIN_RANGE[0], KELVIN_RANGE[1]);
const AZIMUTH = linear('°', 0, 360, 0.5, 1, 360);
const TILT = linear('°', -90, 90, 0.5, 1);
const COPY_TILT = linear('°', -180, 180, 0.5, 1);
const PLACE: Quantity = { ...linear('m', -1000, 1000, 0.01, 2), toScale: (v) => (v + 50) / 100, fromScale: (s) => s * 100 - 50 };
const KEPT: { value: LampKept; label: string; title: string }[] = [
  { value: 'all', label: 'All', title: 'Direct and bounced light are baked: costs nothing live; things that move cast no shadow from it' },
  {
    value: 'bounce',
    label: 'Bounce',
    title: 'Its bounce is baked, its direct light stays live: one live light, with shadows of what moves',
  },
  { value: 'nothing', label: 'None', title: 'Live alone: one live light, and no bounce' },
];
const COST: Readonly<Record<LampKept, string>> = {
  all: 'Costs no live light; what moves casts no shadow from it.',
  bounce: 'One live light each where it burns; what moves casts shadows.',
  nothing: 'One live light each where it burns, and no bounce.',
};

interface Props {
  lamps: StandingLamp[];
  /** The copy that is open: its lamps are changed as those of their fixture. */
  openId: string | null;
  rig: Rig;
  edit: ChangeRig;
}

/** The lamps that are chosen: what is changed here is changed for all of them. Copies of a fixture are told what they may differ in. */
export const LampSection = memo(function LampSection({ lamps, openId, rig, edit }: Props) {
  const own = lamps.filter((l) => l.placedId === null || l.placedId === openId);
  const [first] = own.length > 0 ? own : lamps;
  if (own.length === 0) return <CopySection lamps={lamps} rig={rig} edit={edit} />;
  const ids = new Set(own.map((l) => l.id));
  const title = own.length === 1 ? first!.name : `${own.length} lamps`;
  const change = (what: string, recipe: (lamp: Lamp) => void, key?: string) =>
    edit(`${title}: ${what}`, (r) => changeLamps(r, ids, recipe, openId), key && `${[...ids].join()} ${key}`);
  return (
    <Section title="Chosen" note={title}>
      {own.length === 1 && (
        <NameRow
          key={first!.id}
          label="Name"
          value={first!.name}
          taken={[]}
          onChange={(name) => change(`named ${name}`, (l) => void (l.name = name))}
        />
      )}
      <LampRows lamp={lampItself(rig, first!) ?? first!} rig={rig} change={change} places={openId === null} local={openId !== null} />
    </Section>
  );
});

interface RowsProps {
  lamp: Lamp;
  rig: Rig;
  change(what: string, recipe: (lamp: Lamp) => void, key?: string): void;
  /** Whether where it stands is shown too, in the level or in its fixture. */
  places?: boolean;
  local?: boolean;
}

/** The rows of one lamp; shared by lamps of the level's own and those of a fixture. */
export function LampRows({ lamp, rig, change, places = false, local = false }: RowsProps) {
  const { shape, output, color, aim } = lamp;
  const cast = useView((v) => v.cast);
  const emission = emissionOf(lamp, rig.profiles);
  const setOutput = (by: LampOutput['by']) => {
    const next: LampOutput =
      by === 'lumens'
        ? { by, lumens: Number(emission.flux.toPrecision(3)) }
        : by === 'candela'
          ? { by, candela: Number(emission.peak.toPrecision(3)) }
          : { by, gain: 1 };
    change(`output by ${by}`, (l) => void (l.output = next.by === 'profile' && l.shape.kind !== 'measured' ? l.output : next));
  };
  const setKind = (kind: LampShape['kind']) => {
    const next = shapeOf(kind, rig.profiles);
    if (!next) return;
    change(KINDS.find((k) => k.value === kind)!.label.toLowerCase(), (l) => {
      if (l.output.by === 'profile' && kind !== 'measured') l.output = { by: 'lumens', lumens: Number(emission.flux.toPrecision(3)) };
      l.shape = { ...next };
    });
  };
  return (
    <>
      <div className={desk.pick}>
        <Segmented
          size="small"
          block
          style={{ width: '100%' }}
          value={shape.kind}
          options={KINDS.map((k) => ({ ...k, disabled: k.value === 'measured' && rig.profiles.length === 0 }))}
          onChange={(kind) => setKind(kind as LampShape['kind'])}
        />
      </div>
      {shape.kind === 'measured' && (
        <div className={desk.pick}>
          <span>Profile</span>
          <Select
            size="small"
            aria-label="Profile"
            style={{ width: 190 }}
            value={shape.profileId}
            options={rig.profiles.map((p) => ({ value: p.id, label: p.name }))}
            onChange={(id) =>
              change(
                `profile ${rig.profiles.find((p) => p.id === id)!.name}`,
                (l) => l.shape.kind === 'measured' && void (l.shape.profileId = id),
              )
            }
          />
        </div>
      )}
      <PickRow
        label="Output by"
        value={output.by}
        options={[
          { value: 'lumens', label: 'Lumens' },
          { value: 'candela', label: 'Candela' },
          ...(shape.kind === 'measured' ? [{ value: 'profile', label: 'Profile' }] : []),
        ]}
        onChange={(by) => setOutput(by as LampOutput['by'])}
      />
      {output.by === 'lumens' && (
        <NumberRow
          label="Output"
          value={output.lumens}
          preset={800}
          quantity={LUMENS}
          hint={`At most ${readable(emission.peak)} cd`}
          onChange={(v) => change(`${LUMENS.format(v)} lm`, (l) => void (l.output = { by: 'lumens', lumens: v }), 'output')}
        />
      )}
      {output.by === 'candela' && (
        <NumberRow
          label="Output"
          value={output.candela}
          preset={64}
          quantity={CANDELA}
          hint={`${readable(emission.flux)} lm in all`}
          onChange={(v) => change(`${CANDELA.format(v)} cd`, (l) => void (l.output = { by: 'candela', candela: v }), 'output')}
        />
      )}
      {output.by === 'profile' && (
        <NumberRow
          label="Output"
          value={output.gain}
          preset={1}
          quantity={SHARE}
          hint={`${readable(emission.flux)} lm in all; 1 is as it was measured`}
          onChange={(v) =>
            change(
              `${SHARE.format(v)} times its profile`,
              (l) => l.shape.kind === 'measured' && void (l.output = { by: 'profile', gain: v }),
              'output',
            )
          }
        />
      )}
      {color.by === 'kelvin' ? (
        <NumberRow
          label="Colour"
          value={color.kelvin}
          preset={2700}
          quantity={KELVIN}
          onChange={(v) => change(`${KELVIN.format(v)} K`, (l) => void (l.color = { by: 'kelvin', kelvin: v }), 'colour')}
        />
      ) : (
        <ColorRow
          label="Colour"
          value={color.hex}
          preset="#ffffff"
          onChange={(hex) => change(`colour ${hex}`, (l) => void (l.color = { by: 'hex', hex }), 'colour')}
        />
      )}
      <SwitchRow
        label="Colour by kelvin"
        name="Colour by kelvin"
        on={color.by === 'kelvin'}
        onChange={(on) =>
          change(
            on ? 'colour in kelvin' : 'colour by hand',
            (l) => void (l.color = on ? { by: 'kelvin', kelvin: 2700 } : { by: 'hex', hex: '#ffb46b' }),
          )
        }
      />
      {SHAPE_ROWS[shape.kind].map(({ key, label, hint, quantity, preset }) => (
        <NumberRow
          key={key}
          label={label}
          value={(shape as unknown as Record<string, number>)[key]!}
          preset={preset}
          quantity={quantity}
          hint={hint}
          onChange={(v) =>
            change(
              `${label.toLowerCase()} ${quantity.format(v)}`,
              (l) => {
                if (l.shape.kind !== shape.kind) return;
                Object.assign(l.shape, { [key]: v });
                if (l.shape.kind === 'spot' && key === 'innerDeg') l.shape.outerDeg = Math.max(l.shape.outerDeg, v);
                if (l.shape.kind === 'spot' && key === 'outerDeg') l.shape.innerDeg = Math.min(l.shape.innerDeg, v);
              },
              key,
            )
          }
        />
      ))}
      <PolarChart lamp={lamp} profiles={rig.profiles} />
      {shape.kind !== 'point' && (
        <>
          <NumberRow
            label="Azimuth"
            value={(aim.azimuthDeg + 360) % 360}
            preset={DEFAULT_LAMP.aim.azimuthDeg}
            quantity={AZIMUTH}
            hint="Clockwise from −Z"
            onChange={(v) => change(`azimuth ${AZIMUTH.format(v)}°`, (l) => void (l.aim.azimuthDeg = v), 'azimuth')}
          />
          <NumberRow
            label="Tilt"
            value={aim.elevationDeg}
            preset={-90}
            quantity={TILT}
            hint="Over the horizontal; −90 is straight down"
            onChange={(v) => change(`tilt ${TILT.format(v)}°`, (l) => void (l.aim.elevationDeg = v), 'tilt')}
          />
          <NumberRow
            label="Roll"
            value={(aim.rollDeg + 360) % 360}
            preset={0}
            quantity={AZIMUTH}
            onChange={(v) => change(`roll ${AZIMUTH.format(v)}°`, (l) => void (l.aim.rollDeg = v), 'roll')}
          />
        </>
      )}
      <SwitchRow
        label="Cut at a reach"
        name="Cut at a reach"
        on={lamp.reachM !== null}
        onChange={(on) => change(on ? 'cut at 15 m' : 'reaches as far as light does', (l) => void (l.reachM = on ? 15 : null))}
      />
      {lamp.reachM !== null && (
        <NumberRow
          label="Reach"
          value={lamp.reachM}
          preset={15}
          quantity={REACH}
          hint="Where its light ends, smoothly"
          onChange={(v) => change(`reach ${REACH.format(v)} m`, (l) => void (l.reachM = v), 'reach')}
        />
      )}
      {lamp.reachM !== null && places && cast && (
        <p className={desk.text}>
          It cuts off {Math.round(100 * cutByReach(lamp, rig.profiles, cast))} % of the light that would meet the level.
        </p>
      )}
      <CircuitPick
        value={lamp.circuitId}
        rig={rig}
        none="in none"
        onChange={(id, name) => change(`to ${name}`, (l) => void (l.circuitId = id))}
      />
      {!lamp.motion && (
        <>
          <PickRow
            label="Baked"
            value={lamp.kept}
            options={KEPT}
            onChange={(v) => change(`baked: ${v}`, (l) => void (l.kept = v as LampKept))}
          />
          <p className={desk.text}>{COST[lamp.kept]}</p>
        </>
      )}
      <MotionRows lamp={lamp} budget={rig.liveLamps} stands={places || local} change={change} />
      {local && <p className={desk.text}>Its place is from the middle of the fixture.</p>}
      {(places || local) &&
        (['x', 'y', 'z'] as const).map((axis, c) => (
          <NumberRow
            key={axis}
            label={axis.toUpperCase()}
            value={lamp.at[c]!}
            preset={lamp.at[c]!}
            quantity={PLACE}
            onChange={(v) => change(`${axis} ${PLACE.format(v)} m`, (l) => void (l.at[c] = v), axis)}
          />
        ))}
    </>
  );
}

interface CircuitPickProps {
  value: string | null;
  rig: Rig;
  /** How it reads where there is none. */
  none: string;
  onChange(circuitId: string | null, name: string): void;
}

function CircuitPick({ value, rig, none, onChange }: CircuitPickProps) {
  return (
    <div className={desk.pick}>
      <span>Circuit</span>
      <Select
        size="small"
        aria-label="Circuit"
        style={{ width: 190 }}
        value={value ?? ''}
        options={[{ value: '', label: none }, ...rig.circuits.map((c) => ({ value: c.id, label: c.name }))]}
        onChange={(id: string) => onChange(id || null, rig.circuits.find((c) => c.id === id)?.name ?? none)}
      />
    </div>
  );
}

/** Copies of a fixture: what they may be told by themselves. */
function CopySection({ lamps, rig, edit }: { lamps: StandingLamp[]; rig: Rig; edit: ChangeRig }) {
  const ids = new Set(lamps.map((l) => l.placedId!));
  const copies = rig.placed.filter((p) => ids.has(p.id));
  const [first] = copies;
  if (!first) return null;
  const fixture = rig.fixtures.find((f) => f.id === first.fixtureId)!;
  const title = copies.length === 1 ? first.name : `${copies.length} copies`;
  const change = (what: string, recipe: (copy: Rig['placed'][number]) => void, key?: string) =>
    edit(`${title}: ${what}`, (r) => r.placed.filter((p) => ids.has(p.id)).forEach(recipe), key && `${[...ids].join()} ${key}`);
  const differs = first.level !== 1 || first.circuitId !== null;
  return (
    <Section title="Chosen" note={title}>
      <p className={desk.text}>
        {copies.length === 1 ? 'A copy' : 'Copies'} of {fixture.name}
        {differs ? ', told otherwise:' : ', just as it is.'}
      </p>
      <NumberRow
        label="Level"
        value={first.level}
        preset={1}
        quantity={SHARE}
        hint="Share of the fixture’s light"
        onChange={(v) => change(`level ${SHARE.format(v)}`, (c) => void (c.level = v), 'level')}
      />
      <CircuitPick
        value={first.circuitId}
        rig={rig}
        none="the fixture’s"
        onChange={(id, name) => change(`to ${name}`, (c) => void (c.circuitId = id))}
      />
      <NumberRow
        label="Turn"
        value={(first.turnDeg + 360) % 360}
        preset={0}
        quantity={AZIMUTH}
        hint="Clockwise from above"
        onChange={(v) => change(`turned ${AZIMUTH.format(v)}°`, (c) => void (c.turnDeg = v), 'turn')}
      />
      <NumberRow
        label="Tilt"
        value={first.tiltDeg > 180 ? first.tiltDeg - 360 : first.tiltDeg}
        preset={0}
        quantity={COPY_TILT}
        hint="Its front up"
        onChange={(v) => change(`tilted ${COPY_TILT.format(v)}°`, (c) => void (c.tiltDeg = v), 'tilt')}
      />
      <NumberRow
        label="Roll"
        value={(first.rollDeg + 360) % 360}
        preset={0}
        quantity={AZIMUTH}
        hint="About its own front"
        onChange={(v) => change(`rolled ${AZIMUTH.format(v)}°`, (c) => void (c.rollDeg = v), 'roll')}
      />
      {copies.length === 1 &&
        (['x', 'y', 'z'] as const).map((axis, c) => (
          <NumberRow
            key={axis}
            label={axis.toUpperCase()}
            value={first.at[c]!}
            preset={first.at[c]!}
            quantity={PLACE}
            onChange={(v) => change(`${axis} ${PLACE.format(v)} m`, (p) => void (p.at[c] = v), axis)}
          />
        ))}
    </Section>
  );
}
