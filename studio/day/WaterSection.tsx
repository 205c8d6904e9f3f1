import { Button } from 'antd';
import { memo } from 'react';
import type { Cue, Rig } from '../../core/rig';
import { NO_WATER, throughWater } from '../../core/weather';
import { ColorRow } from '../desk/ColorRow';
import { HolderRow } from '../desk/HolderRow';
import { NumberRow } from '../desk/NumberRow';
import { grouped, linear, logarithmic, readable } from '../desk/quantity';
import { Section } from '../desk/Section';
import { useHeldPart } from '../desk/useHeldPart';
import type { ChangeRig } from '../state/useRigEdit';
import { DragHeightRow } from './DragHeightRow';
import day from './day.module.css';
import styles from '../desk/desk.module.css';

const LEVEL = linear('m', -50, 200, 0.05, 2);
const CLARITY = logarithmic('m', 0.05, 50, { digits: 2 });
const RIPPLES = linear('m/s', 0, 25, 0.5, 1);

/** A sheet of water over the level, of the cue or the day. */
export const WaterSection = memo(function WaterSection({ rig, cue, changeRig }: { rig: Rig; cue: Cue; changeRig: ChangeRig }) {
  const { values: water, isHeld, edit, held, releaseAll } = useHeldPart('water', cue, rig.water, changeRig);
  const { levelM, clarityM } = water;
  return (
    <Section title="Water" note={levelM === null ? 'none' : `${grouped(levelM, 2)} m${isHeld ? ', held' : ''}`} rare={levelM === null}>
      <HolderRow />
      {levelM === null ? (
        <div className={styles.actions}>
          <Button size="small" onClick={() => edit({ levelM: 0 }, 'brought in', 'bring')}>
            Add water
          </Button>
        </div>
      ) : (
        <>
          <NumberRow
            label="Level"
            value={levelM}
            preset={levelM}
            held={held('levelM', 'Level of the water')}
            quantity={LEVEL}
            hint="Height of its surface in the level"
            onChange={(v) => edit({ levelM: v }, `at ${LEVEL.format(v)} m`, 'level')}
          />
          <DragHeightRow sets="water" />
          <NumberRow
            label="Clarity"
            value={clarityM}
            preset={NO_WATER.clarityM}
            held={held('clarityM', 'Clarity of the water')}
            quantity={CLARITY}
            hint="Depth at which green is dimmed to a third: 0.3 m silt, 2 m a pond, 15 m clear sea"
            onChange={(v) => edit({ clarityM: v }, `clarity ${CLARITY.format(v)} m`, 'clarity')}
          />
          <NumberRow
            label="Ripples"
            value={water.ripplesMps ?? rig.weather.windMps}
            preset={rig.weather.windMps}
            held={held('ripplesMps', 'Ripples of the water')}
            quantity={RIPPLES}
            hint="Wind that ripples it; the weather’s where it is not set. 0 a basin indoors, 3 a breeze"
            onChange={(v) => edit({ ripplesMps: v }, `ripples ${RIPPLES.format(v)} m/s`, 'ripples')}
          />
          <ColorRow
            label="Colour"
            value={water.color}
            preset={NO_WATER.color}
            onChange={(color) => edit({ color }, `colour ${color}`, 'color')}
          />
          <p className={day.facts}>
            A metre down{' '}
            {throughWater(clarityM, 1)
              .map((v) => `${Math.round(v * 100)} %`)
              .join(' / ')}{' '}
            of red, green and blue are left; its bottom is lost at about {readable(clarityM * 2)} m
          </p>
          <div className={styles.actions}>
            <Button size="small" onClick={() => edit({ levelM: null }, 'taken away', 'away')}>
              Remove it
            </Button>
            {isHeld && (
              <Button size="small" onClick={releaseAll}>
                As the day has it
              </Button>
            )}
          </div>
        </>
      )}
    </Section>
  );
});
