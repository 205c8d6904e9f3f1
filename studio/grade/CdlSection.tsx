import { CDL_RANGES, NO_CDL, wheelPoint, wheelRgb, type Cdl, type WheelPoint } from '../../core/grade';
import type { Rgb } from '../../core/units';
import { NumberRow } from '../desk/NumberRow';
import { linear, logarithmic, type Quantity } from '../desk/quantity';
import { Section } from '../desk/Section';
import { ColorWheel } from './ColorWheel';
import type { GradeRows } from './gradeRows';
import { PartSwitch } from './PartSwitch';
import styles from './grade.module.css';

type Channelled = 'slope' | 'offset' | 'power';

/** How each triple of the list lies on its wheel: gains by their ratio, offset as it is. */
const WHEELS: Record<
  Channelled,
  { label: string; says: string; quantity: Quantity; reach: number; to(v: number): number; from(v: number): number }
> = {
  slope: {
    label: 'Slope',
    says: 'lights most',
    quantity: logarithmic('', 0.05, CDL_RANGES.slope[1], { zero: true, digits: 3 }),
    reach: 0.8,
    to: (v) => Math.log2(Math.max(0.02, v)),
    from: (v) => 2 ** v,
  },
  offset: {
    label: 'Offset',
    says: 'everything alike',
    quantity: linear('', -0.2, 0.2, 0.001, 3),
    reach: 0.08,
    to: (v) => v,
    from: (v) => v,
  },
  power: {
    label: 'Power',
    says: 'mid-tones most; over 1 is darker',
    quantity: logarithmic('', 0.1, CDL_RANGES.power[1], { digits: 3 }),
    reach: 0.8,
    to: (v) => -Math.log2(v),
    from: (v) => 2 ** -v,
  },
};
const CHANNELS = ['Red', 'Green', 'Blue'] as const;
const SATURATION = linear('', 0, CDL_RANGES.saturation[1], 0.01, 2);

/** The ASC colour decision list: slope, offset and power with their wheels, and saturation. */
export function CdlSection({ grade, set, held }: GradeRows) {
  const { cdl } = grade;
  const put = (change: Partial<Cdl>, what: string, key: string) => set('cdl', { ...cdl, ...change }, what, `cdl ${key}`);
  const holds = held('cdl');
  return (
    <Section title="ASC CDL" note={holds?.is ? 'held' : undefined} aside={<PartSwitch parts={['cdl']} name="ASC CDL" />}>
      {(Object.keys(WHEELS) as Channelled[]).map((key) => (
        <Wheel key={key} part={key} value={cdl[key]} onChange={(rgb, what) => put({ [key]: rgb }, what, key)} />
      ))}
      <NumberRow
        label="Saturation"
        value={cdl.saturation}
        preset={NO_CDL.saturation}
        quantity={SATURATION}
        hint="About the luminance of Rec. 709: 0 grey, 1 as it is"
        onChange={(saturation) => put({ saturation }, `saturation ${SATURATION.format(saturation)}`, 'saturation')}
      />
    </Section>
  );
}

function Wheel({ part, value, onChange }: { part: Channelled; value: Rgb; onChange(rgb: Rgb, what: string): void }) {
  const { label, says, quantity, reach, to, from } = WHEELS[part];
  const point = wheelPoint(value.map(to) as Rgb);
  const [low, high] = CDL_RANGES[part];
  const offer = (rgb: Rgb, what: string) => onChange(rgb.map((v) => Number(Math.min(high, Math.max(low, v)).toFixed(4))) as Rgb, what);
  const move = (next: WheelPoint) => offer(wheelRgb(next).map(from) as Rgb, `${label.toLowerCase()} by its wheel`);
  const mean = from(point.master);
  return (
    <div className={styles.wheelRow}>
      <h3>
        {label} <span>{says}</span>
      </h3>
      <ColorWheel label={label} point={point} reach={reach} onChange={move} />
      <div className={styles.channels}>
        <NumberRow
          label="All"
          value={mean}
          preset={NO_CDL[part][0]}
          quantity={quantity}
          onChange={(v) => move({ ...point, master: to(v) })}
        />
        {CHANNELS.map((channel, c) => (
          <NumberRow
            key={channel}
            label={channel}
            value={value[c]!}
            preset={NO_CDL[part][c]!}
            quantity={quantity}
            onChange={(v) =>
              offer(
                value.map((old, k) => (k === c ? v : old)) as Rgb,
                `${label.toLowerCase()} ${channel.toLowerCase()} ${quantity.format(v)}`,
              )
            }
          />
        ))}
      </div>
    </div>
  );
}
