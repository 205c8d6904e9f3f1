'use client';

import { Button, Select } from 'antd';
import { memo } from 'react';
import { STROLL, changeStroll, removeStroll, strollSeconds, type Stroll, type StrollLight } from '../../core/rig';
import { usePictureSize } from '../compare/pictureSize';
import { ActionRow } from '../desk/ActionRow';
import { NameRow } from '../desk/NameRow';
import { NumberRow } from '../desk/NumberRow';
import { PickRow } from '../desk/PickRow';
import { Section } from '../desk/Section';
import { clockText, grouped, hourOfDay, linear, logarithmic } from '../desk/quantity';
import { useStudio, useStudioStore } from '../state/context';
import { currentCue } from '../state/studioStore';
import { useRigEdit } from '../state/useRigEdit';
import { useTell } from '../state/useTell';
import { useStrollTool } from '../viewport/walking/strollTool';
import { contactStrip } from './contactStrip';
import { beginRecording, endDrawing, endRecording, keepWalk } from './record';
import { cancelSaving, framesOf, saveStroll, useSaving } from './saveStroll';
import { secondsText } from './strollText';
import desk from '../desk/desk.module.css';
import styles from './strolls.module.css';

const PACE = logarithmic('×', STROLL.pace.least, STROLL.pace.most, { digits: 2 });
const HOURS = linear('h', 0, STROLL.hours, 0.5, 1);

/** Walks through the level: made by walking or by clicks, played under the running day or one cue after another, saved as pictures. */
export const StrollsSection = memo(function StrollsSection() {
  const store = useStudioStore();
  const strolls = useStudio((s) => s.rig.strolls);
  const shownId = useStrollTool((s) => s.shownId);
  const chosen = strolls.find((s) => s.id === shownId);
  return (
    <Section title="Strolls" note={strolls.length > 0 ? String(strolls.length) : ''}>
      {strolls.length > 0 && (
        <ul className={styles.list}>
          {strolls.map((stroll) => (
            <li key={stroll.id}>
              <button
                type="button"
                aria-pressed={stroll.id === shownId}
                onClick={() => useStrollTool.setState({ shownId: stroll.id === shownId ? null : stroll.id })}
              >
                {stroll.name} <span>{secondsText(strollSeconds(stroll))}</span>
              </button>
              <button
                type="button"
                className={desk.quiet}
                aria-label={`Play ${stroll.name}`}
                onClick={() => store.getState().stroll({ id: stroll.id, atS: 0, playing: true })}
              >
                Play
              </button>
            </li>
          ))}
        </ul>
      )}
      {chosen && <ChosenStroll key={chosen.id} stroll={chosen} />}
      <MakingRows />
    </Section>
  );
});

/** Makes a stroll: by walking it, or by clicks. */
function MakingRows() {
  const store = useStudioStore();
  const edit = useRigEdit();
  const { say } = useTell();
  const recorded = useStrollTool((s) => s.recording?.length ?? null);
  const drawing = useStrollTool((s) => s.drawing);
  const keep = (places: Parameters<typeof keepWalk>[2]) => keepWalk(store, edit, places) || say('No way was walked: nothing is kept.');
  const corners = drawing && drawing !== 'begun' ? drawing.corners.length : 0;
  if (recorded !== null)
    return (
      <ActionRow label={`Recording ${secondsText(recorded / 10)}: walk by W A S D`} action="Stop" onClick={() => keep(endRecording())} />
    );
  if (drawing !== null)
    return (
      <>
        <ActionRow
          label={corners === 0 ? 'Click where it begins' : `${corners} ${corners === 1 ? 'place' : 'places'}: click where it goes`}
          action="Done"
          onClick={() => keep(endDrawing())}
        />
        <ActionRow label="Draw nothing" action="Cancel" onClick={() => useStrollTool.setState({ drawing: null })} />
      </>
    );
  const begin = (how: () => void) => () => {
    store.getState().stroll(null);
    how();
  };
  return (
    <>
      <ActionRow label="New: walked, as it is recorded" action="Record" onClick={begin(beginRecording)} />
      <ActionRow
        label="New: clicked from place to place"
        action="Draw"
        onClick={begin(() => useStrollTool.setState({ drawing: 'begun' }))}
      />
    </>
  );
}

function ChosenStroll({ stroll }: { stroll: Stroll }) {
  const store = useStudioStore();
  const edit = useRigEdit();
  const { fault } = useTell();
  const taken = useStudio((s) => s.rig.strolls).filter((s) => s.id !== stroll.id);
  const framesS = usePictureSize((s) => s.framesS);
  const { id, name, pace } = stroll;
  const change = (what: string, to: Partial<Omit<Stroll, 'id'>>, key?: string) =>
    edit(`${name}: ${what}`, (r) => changeStroll(r, id, to), key && `${id} ${key}`);
  const remove = () => {
    store.getState().stroll(null);
    edit(`Removed ${name}`, (r) => removeStroll(r, id));
  };
  return (
    <>
      <NameRow label="Name" value={name} taken={taken.map((s) => s.name)} onChange={(to) => change(`renamed ${to}`, { name: to })} />
      <LightRows stroll={stroll} change={change} />
      <NumberRow
        label="Pace"
        value={pace}
        preset={1}
        quantity={PACE}
        hint="How many times faster than it was walked"
        onChange={(to) => change(`${PACE.format(to)} times as fast`, { pace: to }, 'pace')}
      />
      <div className={desk.actions}>
        <Button size="small" onClick={() => contactStrip(store, stroll)}>
          Contact strip
        </Button>
        <Button size="small" onClick={remove}>
          Remove
        </Button>
      </div>
      <SavingRow
        id={id}
        label={`${grouped(framesOf(stroll, framesS))} pictures, ${framesS} a second`}
        onSave={() => saveStroll(store, stroll).catch(fault)}
      />
    </>
  );
}

function LightRows({
  stroll: { light },
  change,
}: {
  stroll: Stroll;
  change(what: string, to: { light: StrollLight }, key?: string): void;
}) {
  const store = useStudioStore();
  const cues = useStudio((s) => s.rig.cues);
  const twelve = useStudio((s) => s.rig.day.clock === 12);
  const by = (to: StrollLight['by']) => {
    if (to === light.by) return;
    const { hour, rig } = store.getState();
    if (to === 'day')
      return change('under the running day', { light: { by: 'day', fromHour: hour ?? currentCue(store.getState()).hour, hours: 24 } });
    const timed = rig.cues.filter((c) => c.kind === 'timed');
    const cueIds = (timed.length > 0 ? timed : rig.cues).map((c) => c.id);
    change('under one cue after another', { light: { by: 'cues', cueIds } });
  };
  return (
    <>
      <PickRow
        label="Under"
        value={light.by}
        options={[
          { value: 'day', label: 'the running day' },
          { value: 'cues', label: 'cues in turn' },
        ]}
        onChange={by}
      />
      {light.by === 'day' ? (
        <>
          <NumberRow
            label="From"
            value={light.fromHour}
            preset={12}
            quantity={{ ...hourOfDay, format: (v) => clockText(v, twelve) }}
            onChange={(fromHour) => change(`from ${clockText(fromHour, twelve)}`, { light: { ...light, fromHour } }, 'from')}
          />
          <NumberRow
            label="Hours that go by"
            value={light.hours}
            preset={24}
            quantity={HOURS}
            hint="From the beginning of the way to its end; past midnight the date goes on"
            onChange={(hours) => change(`${HOURS.format(hours)} hours go by`, { light: { ...light, hours } }, 'hours')}
          />
        </>
      ) : (
        <Select
          mode="multiple"
          size="small"
          className={styles.cues}
          aria-label="Cues in turn"
          value={light.cueIds}
          options={cues.map((c) => ({ value: c.id, label: c.name }))}
          showSearch={{ optionFilterProp: 'label' }}
          onChange={(cueIds) => cueIds.length > 0 && change('other cues', { light: { by: 'cues', cueIds } })}
        />
      )}
    </>
  );
}

/** Saves the pictures of a stroll; while that goes on, how far it is and an end to it. */
function SavingRow({ id, label, onSave }: { id: string; label: string; onSave(): void }) {
  const saving = useSaving((s) => s.saving);
  if (saving?.id === id) return <ActionRow label={`Picture ${saving.done} of ${saving.of}`} action="Cancel" onClick={cancelSaving} />;
  return <ActionRow label={label} action="Save as zip" disabled={saving !== null} onClick={onSave} />;
}
