import { NEUTRAL_GRADE, type Zones } from '../../core/grade';
import { ColorRow } from '../desk/ColorRow';
import { NumberRow } from '../desk/NumberRow';
import { linear } from '../desk/quantity';
import { Section } from '../desk/Section';
import type { GradeRows } from './gradeRows';
import { PartSwitch } from './PartSwitch';

const EV = linear('EV', -6, 6, 0.05, 2);
const LIMIT = linear('EV', -8, 8, 0.1, 1);
const ZONES = [
  { key: 'shadows', label: 'Shadows' },
  { key: 'midTones', label: 'Mid-tones' },
  { key: 'lights', label: 'Lights' },
] as const;

/** Shadows, mid-tones and lights apart, with the limits between them. */
export function ZonesSection({ grade, set, held }: GradeRows) {
  const { zones } = grade;
  const neutral = NEUTRAL_GRADE.zones;
  const put = (change: Partial<Zones>, what: string, key: string) => set('zones', { ...zones, ...change }, what, `zones ${key}`);
  const isPlain = ZONES.every(({ key }) => zones[key].ev === 0 && zones[key].tint.toLowerCase() === '#ffffff');
  return (
    <Section
      title="Shadows to lights"
      note={isPlain ? 'as they are' : undefined}
      rare={isPlain}
      aside={<PartSwitch parts={['zones']} name="Shadows to lights" />}
    >
      {ZONES.map(({ key, label }) => (
        <div key={key}>
          <NumberRow
            label={label}
            value={zones[key].ev}
            preset={0}
            held={key === 'shadows' ? held('zones') : undefined}
            quantity={EV}
            hint="Stops that are added to them"
            onChange={(ev) => put({ [key]: { ...zones[key], ev } }, `${label.toLowerCase()} ${EV.format(ev)} EV`, `${key} ev`)}
          />
          <ColorRow
            label="Tint"
            value={zones[key].tint}
            preset={neutral[key].tint}
            onChange={(tint) => put({ [key]: { ...zones[key], tint } }, `${label.toLowerCase()} in ${tint}`, `${key} tint`)}
          />
        </div>
      ))}
      <NumberRow
        label="Shadows under"
        value={zones.lowEv}
        preset={neutral.lowEv}
        quantity={LIMIT}
        hint="Limit between shadows and mid-tones, stops over mid-grey"
        onChange={(v) => put({ lowEv: Math.min(v, zones.highEv) }, `shadows under ${LIMIT.format(v)} EV`, 'low')}
      />
      <NumberRow
        label="Lights over"
        value={zones.highEv}
        preset={neutral.highEv}
        quantity={LIMIT}
        hint="Limit between mid-tones and lights, stops over mid-grey"
        onChange={(v) => put({ highEv: Math.max(v, zones.lowEv) }, `lights over ${LIMIT.format(v)} EV`, 'high')}
      />
    </Section>
  );
}
