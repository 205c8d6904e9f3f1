import { PickRow } from '../desk/PickRow';
import { grouped } from '../desk/quantity';
import { Section } from '../desk/Section';
import { usePicture, type PictureChoice } from '../viewport/meter/pictureStore';
import day from '../day/day.module.css';

const CHOICES: { value: PictureChoice['choice']; label: string; title: string }[] = [
  { value: 'auto', label: 'By itself', title: 'Full at rest; plain while something moves, where a full picture takes over 90 ms' },
  { value: 'plain', label: 'Plain', title: 'Fog without shafts, halos of six lamps' },
  { value: 'full', label: 'Full', title: 'Fog with shafts, halos of sixteen lamps that walls hide' },
];

/** How finely the picture is drawn on this machine, with what its steps take. */
export function PictureSection() {
  const { choice, costs } = usePicture();
  return (
    <Section title="Picture" note={CHOICES.find((c) => c.value === choice)!.label.toLowerCase()} rare>
      <PickRow label="Drawn" value={choice} options={CHOICES} onChange={(next) => usePicture.setState({ choice: next })} />
      {costs && (
        <p className={day.facts}>
          {grouped(costs.frame)} ms a picture here: fog {grouped(costs.fog)}, bloom {grouped(costs.bloom)}, grade {grouped(costs.grade)}
        </p>
      )}
    </Section>
  );
}
