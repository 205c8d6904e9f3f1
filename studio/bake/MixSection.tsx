import { ColorPicker } from 'antd';
import type { Draft } from 'immer';
import { STEMS, type Rig, type StemName, type Trim } from '../../core/rig';
import { NumberRow } from '../desk/NumberRow';
import { logarithmic } from '../desk/quantity';
import { Section } from '../desk/Section';
import { Toggle } from '../desk/Toggle';
import { useStudio, useStudioStore } from '../state/context';
import { isHeard, useListening } from '../viewport/mix/listening';
import { STEM_LABELS, flipMute, flipSolo, hearAll } from './looking';
import styles from './bake.module.css';

const LEVEL = logarithmic('×', 0.125, 8, { zero: true, digits: 3 });
const PLAIN: Trim = { level: 1, tint: '#ffffff' };

/** The mix desk: the level and tint of each stem under the cue, and which of them are heard. */
export function MixSection() {
  const cue = useStudio((s) => s.rig.cues.find((c) => c.id === s.cueId)!);
  const store = useStudioStore();
  const listening = useListening();
  const mix = cue.holds.mix ?? {};
  const changed = Object.keys(mix).length;
  const alone = listening.solo.length > 0 || listening.muted.length > 0;

  const edit = (what: string, change: (mix: Partial<Record<StemName, Trim>>) => void, key?: string) =>
    store.getState().edit(
      `${cue.name}: ${what}`,
      (rig: Draft<Rig>) => {
        const { holds } = rig.cues.find((c) => c.id === cue.id)!;
        const next = holds.mix ?? {};
        change(next);
        if (Object.keys(next).length === 0) delete holds.mix;
        else holds.mix = next;
      },
      key && `mix ${cue.id} ${key}`,
    );
  const set = (stem: StemName, trim: Trim, what: string, key: string) =>
    edit(
      what,
      (next) => {
        if (trim.level === PLAIN.level && trim.tint.toLowerCase() === PLAIN.tint) delete next[stem];
        else next[stem] = trim;
      },
      key,
    );

  return (
    <Section title="Mix" note={alone ? 'not all is heard' : changed > 0 ? `${changed} trimmed in this cue` : 'as it is'}>
      {STEMS.map((stem) => {
        const trim = mix[stem] ?? PLAIN;
        const label = STEM_LABELS[stem];
        return (
          <div key={stem} className={styles.stem} data-heard={isHeard(listening, stem)}>
            <Toggle on={listening.solo.includes(stem)} label={`Hear ${label} alone`} mark="solo" onClick={() => flipSolo(stem)} />
            <Toggle on={listening.muted.includes(stem)} label={`Mute ${label}`} mark="mute" onClick={() => flipMute(stem)} />
            <ColorPicker
              value={trim.tint}
              disabledAlpha
              size="small"
              onChange={(color) => set(stem, { ...trim, tint: color.toHexString() }, `${label} in ${color.toHexString()}`, `${stem} tint`)}
            >
              <button
                type="button"
                className={styles.tint}
                aria-label={`Tint of ${label}, ${trim.tint}`}
                style={{ background: trim.tint }}
              />
            </ColorPicker>
            <NumberRow
              label={label}
              value={trim.level}
              preset={PLAIN.level}
              quantity={LEVEL}
              hint="Share of what it is by itself; it never asks for a bake"
              onChange={(level) => set(stem, { ...trim, level }, `${label} × ${LEVEL.format(level)}`, `${stem} level`)}
            />
          </div>
        );
      })}
      {(alone || changed > 0) && (
        <div className={styles.again}>
          {alone && (
            <button type="button" onClick={hearAll}>
              Hear all
            </button>
          )}
          {changed > 0 && (
            <button type="button" onClick={() => edit('mix as it is', (next) => STEMS.forEach((stem) => delete next[stem]))}>
              Take all trims off
            </button>
          )}
        </div>
      )}
    </Section>
  );
}
