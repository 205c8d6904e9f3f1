import { Button } from 'antd';
import { motionPeriod, type Lamp, type LampMotion } from '../../core/lamps';
import { setMotion } from '../../core/rig';
import { NumberRows, type NumberOf } from '../desk/NumberRows';
import { PickRow } from '../desk/PickRow';
import { linear, logarithmic, readable } from '../desk/quantity';
import { useLampTool } from './lampTool';
import desk from '../desk/desk.module.css';

const TURN = linear('°', 0, 360, 1, 0);
const SWING = linear('°', 0, 80, 0.5, 1);
const AZIMUTH = linear('°', 0, 360, 0.5, 1, 360);
const PERIOD = logarithmic('s', 0.1, 3600, { digits: 2 });
const LENGTH = logarithmic('m', 0.05, 50, { digits: 3 });
const SPEED = logarithmic('m/s', 0.01, 100, { digits: 2 });
const PHASE = linear('', 0, 1, 0.01, 2);

/** Where each kind begins: a search light, a lantern on a chain, a light that goes to and fro. */
const KINDS: { value: LampMotion['as'] | 'still'; label: string; motion: LampMotion | null }[] = [
  { value: 'still', label: 'stands still', motion: null },
  { value: 'sweep', label: 'turns', motion: { as: 'sweep', phase: 0, angleDeg: 90, periodS: 8 } },
  { value: 'swing', label: 'swings', motion: { as: 'swing', phase: 0, lengthM: 0.8, angleDeg: 8, azimuthDeg: 0 } },
  { value: 'path', label: 'goes along points', motion: { as: 'path', phase: 0, through: [[2, 0, 0]], ends: 'back', speedMps: 1 } },
];

function rowsOf(motion: LampMotion): NumberOf<LampMotion>[] {
  const phase: NumberOf<LampMotion> = {
    label: 'Ahead by',
    value: motion.phase,
    quantity: PHASE,
    hint: 'Share of a period; lamps that are ahead unlike are not in step',
    set: (v) => ({ ...motion, phase: v }),
  };
  switch (motion.as) {
    case 'sweep':
      return [
        {
          label: 'Turn',
          value: motion.angleDeg,
          quantity: TURN,
          hint: 'To and fro over this angle about the upright axis; 360 is round and round',
          set: (angleDeg) => ({ ...motion, angleDeg }),
        },
        { label: 'Period', value: motion.periodS, quantity: PERIOD, hint: 'Until it is back', set: (periodS) => ({ ...motion, periodS }) },
        phase,
      ];
    case 'swing':
      return [
        {
          label: 'Hangs from',
          value: motion.lengthM,
          quantity: LENGTH,
          hint: `So far over it; it swings once in ${readable(motionPeriod(motion))} s`,
          set: (lengthM) => ({ ...motion, lengthM }),
        },
        { label: 'Swing', value: motion.angleDeg, quantity: SWING, hint: 'To either side', set: (angleDeg) => ({ ...motion, angleDeg }) },
        {
          label: 'Towards',
          value: motion.azimuthDeg,
          quantity: AZIMUTH,
          hint: 'Clockwise from −Z',
          set: (azimuthDeg) => ({ ...motion, azimuthDeg }),
        },
        phase,
      ];
    case 'path':
      return [
        {
          label: 'Speed',
          value: motion.speedMps,
          quantity: SPEED,
          hint: `It is back after ${readable(motionPeriod(motion))} s`,
          set: (speedMps) => ({ ...motion, speedMps }),
        },
        phase,
      ];
  }
}

interface Props {
  lamp: Lamp;
  /** Most lamps that are drawn live at once. */
  budget: number;
  /** Whether it stands in the picture, where points can be clicked. */
  stands: boolean;
  change(what: string, recipe: (lamp: Lamp) => void, key?: string): void;
}

/** How a lamp moves in the game. */
export function MotionRows({ lamp: { motion }, budget, stands, change }: Props) {
  const adding = useLampTool((s) => s.mode === 'path');
  const set = (what: string, next: LampMotion | null, key?: string) => change(what, (l) => setMotion(l, next), key);
  return (
    <>
      <PickRow<LampMotion['as'] | 'still'>
        label="Motion"
        as="list"
        value={motion?.as ?? 'still'}
        options={KINDS.map(({ value, label }) => ({ value, label }))}
        onChange={(as) => set(KINDS.find((k) => k.value === as)!.label, KINDS.find((k) => k.value === as)!.motion)}
      />
      {motion && <NumberRows rows={rowsOf(motion)} kind={motion.as} change={set} />}
      {motion?.as === 'path' && (
        <>
          <PickRow<'back' | 'round'>
            label="At its end"
            value={motion.ends}
            options={[
              { value: 'back', label: 'Back' },
              { value: 'round', label: 'Round' },
            ]}
            onChange={(ends) => set(ends === 'back' ? 'goes back at its end' : 'goes round', { ...motion, ends })}
          />
          <div className={desk.actions}>
            <Button
              size="small"
              disabled={!stands}
              title={stands ? undefined : 'Open a copy in place to click points'}
              type={adding ? 'primary' : 'default'}
              aria-pressed={adding}
              onClick={() => useLampTool.setState({ mode: adding ? 'choose' : 'path', fixtureId: null })}
            >
              Add a point
            </Button>
            <Button
              size="small"
              disabled={motion.through.length < 2}
              onClick={() => set('one point less', { ...motion, through: motion.through.slice(0, -1) })}
            >
              Remove the last of {motion.through.length}
            </Button>
          </div>
        </>
      )}
      {motion && (
        <p className={desk.text}>
          Live alone: one of the {budget} lamps that are drawn at once, and its shadows are drawn anew with each frame. Nothing of its light
          is baked.
        </p>
      )}
    </>
  );
}
