import { PLAIN_TRIM, STEMS, bounceLevel, setBounceLevel } from '../../core/rig';
import { NumberRow } from '../desk/NumberRow';
import { Section } from '../desk/Section';
import { Toggle } from '../desk/Toggle';
import { useStudioStore } from '../state/context';
import { useShownCue } from '../state/shownCue';
import { isHeard, useListening } from '../viewport/mix/listening';
import { STEM_LABELS, flipMute, flipSolo, hearAll } from './looking';
import { LEVEL, TrimRow } from './TrimRow';
import desk from '../desk/desk.module.css';
import styles from './bake.module.css';

/**
 * The mix desk: the level and tint of each stem under the cue, and which of them are heard.
 *
 * @param isApart whether the light shown holds what of the sky has bounced apart
 */
export function MixSection({ isApart }: { isApart: boolean }) {
  const { cue, toBe, change: changeCue } = useShownCue();
  const store = useStudioStore();
  const listening = useListening();
  const mix = cue.holds.mix ?? {};
  const changed = Object.keys(mix).length;
  const alone = listening.solo.length > 0 || listening.muted.length > 0;

  const trimsOff = () => changeCue('mix as it is', ({ holds }) => void delete holds.mix);

  return (
    <Section title="Mix" note={alone ? 'not all is heard' : changed > 0 ? `${changed} trimmed in this cue` : 'as it is'}>
      {toBe?.of && (
        <div className={styles.blend}>
          <span>
            A blend of {toBe.of.from.name} and {toBe.of.to.name}; a change makes a cue of this hour.
          </span>
          {[toBe.of.from, toBe.of.to].map(({ id, name }) => (
            <button key={id} type="button" onClick={() => store.getState().go(id)}>
              {name}
            </button>
          ))}
        </div>
      )}
      {STEMS.map((stem) => {
        const label = STEM_LABELS[stem];
        return (
          <div key={stem} data-heard={isHeard(listening, stem)} className={styles.stem}>
            <TrimRow stem={stem}>
              <Toggle on={listening.solo.includes(stem)} label={`Show ${label} alone`} mark="solo" onClick={() => flipSolo(stem)} />
              <Toggle on={listening.muted.includes(stem)} label={`Mute ${label}`} mark="mute" onClick={() => flipMute(stem)} />
            </TrimRow>
          </div>
        );
      })}
      <div className={styles.stem}>
        <div className={styles.trim}>
          <span />
          <span />
          <span />
          <NumberRow
            label="All bounce"
            value={bounceLevel(cue.holds)}
            preset={PLAIN_TRIM.level}
            quantity={LEVEL}
            hint="All light that has bounced, of sun, sky, glow and lamps, in the proportion they have"
            onChange={(level) =>
              changeCue(`all bounce × ${LEVEL.format(level)}`, ({ holds }) => setBounceLevel(holds, level), 'mix all bounce')
            }
          />
        </div>
      </div>
      {!isApart && (
        <p className={desk.text}>
          This bake is of an earlier version: the bounce of its sky cannot be turned. Bake everything to change that.
        </p>
      )}
      {(alone || changed > 0) && (
        <div className={styles.again}>
          {alone && (
            <button type="button" onClick={hearAll}>
              Show all
            </button>
          )}
          {changed > 0 && (
            <button type="button" onClick={trimsOff}>
              Reset all trims
            </button>
          )}
        </div>
      )}
    </Section>
  );
}
