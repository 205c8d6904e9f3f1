import { Button } from 'antd';
import { lackingOpenings } from '../../core/bake';
import { openStates } from '../../core/rig';
import { sameJson } from '../../core/units';
import { grouped } from '../desk/quantity';
import { Section } from '../desk/Section';
import { shortened } from '../desk/shortened';
import { useStudio } from '../state/context';
import { useView } from '../viewport/viewStore';
import { timeSpan } from './BakeProgress';
import type { BakeControl } from './useBakeControl';
import { useLook } from './useLook';
import desk from '../desk/desk.module.css';
import styles from './bake.module.css';

/** Openings that are named one by one. */
const NAMED = 2;

/** What is open, in a few words. */
export const openText = (open: readonly string[]): string =>
  open.length > NAMED ? `${open.length} openings` : open.map((name) => shortened(name, 20)).join(', ');

/** The sets of openings that cues open: which of them are baked, and what the others would take. */
export function OpeningsSection({ control }: { control: BakeControl }) {
  const openings = useStudio((s) => s.rig.openings);
  const rig = useStudio((s) => s.rig);
  const { found } = useLook();
  // Another level has other objects.
  const drawn = useView((s) => s.drawn);
  const there = useView((s) => s.facts)?.() ?? null;
  const { atWork, done, opened } = control.bakes;
  if (openings.length === 0 && opened.length === 0) return null;
  const states = openStates(rig);
  const lacking = lackingOpenings(rig, opened);
  const missing = drawn && there ? openings.filter((name) => !there.some((o) => o.name === name)) : [];
  const nameOf = new Map(rig.cues.map((cue) => [cue.id, cue.name]));
  return (
    <Section
      title="Openings"
      note={lacking.length > 0 ? `${lacking.length} not baked` : states.length > 0 ? 'baked' : 'none is open'}
      rare={states.length === 0}
    >
      {states.map(({ open, cueIds }) => {
        const done = opened.find((b) => sameJson(b.open, open));
        const foreseen = found?.openings?.find((o) => sameJson(o.open, open));
        return (
          <div key={JSON.stringify(open)} className={styles.opening}>
            <span title={open.join(', ')}>{openText(open)}</span>
            <span title={cueIds.map((id) => nameOf.get(id)).join(', ')}>
              {cueIds.length === 1 ? shortened(nameOf.get(cueIds[0]!)!, 16) : `${cueIds.length} cues`}
            </span>
            <small>
              {done
                ? `baked: ${objectsText(done.only?.length ?? 0)}`
                : sameJson(atWork?.open, open)
                  ? 'at work'
                  : foreseen
                    ? `not baked: ${objectsText(foreseen.objects)}, ${grouped(foreseen.texels)} texels, ${timeSpan(foreseen.seconds)}, ${grouped(foreseen.storedMB, 1)} MB`
                    : 'not baked'}
            </small>
          </div>
        );
      })}
      {missing.length > 0 && (
        <p className={desk.text} title={missing.join(', ')}>
          {openText(missing)}: not in the level, so nothing opens there.
        </p>
      )}
      {states.length === 0 && <p className={desk.text}>No cue hides {openings.length === 1 ? openText(openings) : 'any of them'}.</p>}
      {lacking.length > 0 && (
        <>
          <p className={desk.text}>
            {done
              ? 'Until they are baked, the light of these cues is that with them closed.'
              : 'They are baked after the level, over its bake.'}
            {found?.openings ? '' : ' Look before a bake to foresee their time and bytes.'}
          </p>
          {done && (
            <div className={desk.actions}>
              <Button size="small" disabled={atWork !== null} loading={control.starting} onClick={() => control.start({ openings: true })}>
                Bake openings
              </Button>
            </div>
          )}
        </>
      )}
    </Section>
  );
}

const objectsText = (count: number): string =>
  count === 0 ? 'no object has another light' : count === 1 ? '1 object' : `${grouped(count)} objects`;
