'use client';

import { useEffect, useRef } from 'react';
import { ActionRow } from '../desk/ActionRow';
import { NumberRow } from '../desk/NumberRow';
import { PickRow } from '../desk/PickRow';
import { Section } from '../desk/Section';
import { SwitchRow } from '../desk/SwitchRow';
import { grouped, linear } from '../desk/quantity';
import { Tenths } from '../grade/Tenths';
import { Histogram, Parade } from '../grade/ScopePlots';
import { useStudioStore } from '../state/context';
import { useTell } from '../state/useTell';
import { useScopes } from '../viewport/meter/scopesStore';
import { SPEED_M_S, useWalk } from '../viewport/walking/walkStore';
import { flipCrouch } from '../viewport/walking/flipCrouch';
import { setSide, useCompare } from './compareStore';
import { dropKept, keepLight, renameKept } from './keptLights';
import { measureReference, readReference, setReference } from './reference';
import { balanceSheet, cueSheet, viewSheet } from './sheets';
import { SidesSection } from './SidesSection';
import { useSideNames } from './useSideNames';
import { StillSection } from './StillSection';
import { StrollsSection } from '../strolls/StrollsSection';
import desk from '../desk/desk.module.css';
import styles from './compare.module.css';

const SPEED = linear('m/s', SPEED_M_S.least, SPEED_M_S.most, 0.1, 1);

/**
 * The desk of the Compare room: the two sides, how they are shown, what is measured of both, and sheets of many.
 *
 * @param newest id of the newest bake
 */
export function CompareDesk({ newest }: { newest: string | null }) {
  useFirstPair();
  return (
    <>
      <SidesSection newest={newest} />
      <ShownSection />
      <MeasuredSection />
      <KeptSection />
      <ReferenceSection />
      <SheetsSection />
      <StrollsSection />
      <StillSection />
      <WalkingSection />
    </>
  );
}

/** Where nothing was chosen yet, the present light is compared with the cue after it. */
function useFirstPair(): void {
  const store = useStudioStore();
  useEffect(() => {
    const { sides } = useCompare.getState();
    if (sides.some(({ light, ungraded, live, bakeId }) => light.of !== 'now' || ungraded || live || bakeId)) return;
    const { rig, cueId } = store.getState();
    const next = rig.cues[(rig.cues.findIndex((c) => c.id === cueId) + 1) % rig.cues.length]!;
    if (next.id !== cueId) setSide(1, { light: { of: 'cue', cueId: next.id } });
    else setSide(1, { ungraded: true });
  }, [store]);
  useEffect(() => {
    useScopes.setState({ open: true });
    return () => useScopes.setState({ open: false });
  }, []);
}

function ShownSection() {
  const layout = useCompare((s) => s.layout);
  const look = useCompare((s) => s.look);
  const ofLight = useCompare((s) => s.ofLight);
  return (
    <Section title="Shown">
      <PickRow
        label="As"
        value={look}
        options={[
          { value: 'picture', label: 'picture' },
          { value: 'zones', label: 'EV zones', title: 'Each stop about mid-grey in a colour of its own' },
          { value: 'difference', label: 'difference', title: 'By how many stops B is brighter or darker than A' },
        ]}
        onChange={(next) => useCompare.setState({ look: next })}
      />
      <PickRow
        label="Laid out"
        value={layout}
        disabled={look === 'difference'}
        options={[
          { value: 'wipe', label: 'wipe' },
          { value: 'beside', label: 'side by side' },
          { value: 'first', label: 'A' },
          { value: 'second', label: 'B' },
        ]}
        onChange={(next) => useCompare.setState({ layout: next })}
      />
      {look === 'difference' && (
        <SwitchRow label="Of the light, whatever it is exposed at" on={ofLight} onChange={(on) => useCompare.setState({ ofLight: on })} />
      )}
    </Section>
  );
}

function MeasuredSection() {
  const measured = useCompare((s) => s.measured);
  const reference = useCompare((s) => s.reference);
  const names = useSideNames();
  const percent = (share: number) => `${grouped(share * 100, 1)} %`;
  const stops = (ev: number) => `${ev > 0 ? '+' : ''}${grouped(ev, 1)} EV`;
  return (
    <Section title="Measured">
      {names.map((name, k) => {
        const side = k === 1 && reference ? measureReference(reference, measured?.sides[0].ev100 ?? 10) : (measured?.sides[k] ?? null);
        return (
          <div key={k} className={styles.measured}>
            <p className={styles.measuredHead}>
              <span>
                <b>{k === 0 ? 'A' : 'B'}</b> {k === 1 && reference ? reference.name : name}
              </span>
              {side && (
                <span>
                  burnt {percent(side.lost.burnt)}, black {percent(side.lost.black)}
                </span>
              )}
            </p>
            <Histogram scopes={side?.scopes ?? null} ev100={side?.ev100 ?? 10} />
            <Parade scopes={side?.scopes ?? null} />
            <Tenths scopes={side?.scopes ?? null} />
          </div>
        );
      })}
      {measured && !reference && (
        <p className={desk.text} data-testid="difference">
          B is {stops(measured.difference.meanEv)} on average; {percent(measured.difference.share)} of the picture differs by ½ EV or more,
          from {stops(measured.difference.darkestEv)} to {stops(measured.difference.brightestEv)}.
        </p>
      )}
    </Section>
  );
}

function KeptSection() {
  const kept = useCompare((s) => s.kept);
  const store = useStudioStore();
  return (
    <Section title="Kept for comparing" note={kept.length > 0 ? String(kept.length) : ''}>
      {kept.map(({ id, name }) => (
        <div key={id} className={styles.kept}>
          <input aria-label="Name of the kept light" value={name} onChange={(event) => renameKept(id, event.currentTarget.value)} />
          <button type="button" className={desk.quiet} onClick={() => setSide(0, { light: { of: 'kept', id } })}>
            A
          </button>
          <button type="button" className={desk.quiet} onClick={() => setSide(1, { light: { of: 'kept', id } })}>
            B
          </button>
          <button type="button" className={desk.quiet} aria-label={`Drop ${name}`} onClick={() => dropKept(id)}>
            Drop
          </button>
        </div>
      ))}
      <ActionRow label="The light that is shown, as it is now" action="Keep" onClick={() => keepLight(store)} />
    </Section>
  );
}

/** A photograph or a painting that the light is to match, in place of B. */
function ReferenceSection() {
  const reference = useCompare((s) => s.reference);
  const { fault } = useTell();
  const file = useRef<HTMLInputElement>(null);
  return (
    <Section title="A picture to match" note={reference ? `${reference.width} × ${reference.height}` : ''}>
      <input
        ref={file}
        type="file"
        accept="image/png,image/jpeg,image/webp"
        aria-label="Picture to match"
        hidden
        onChange={(event) => {
          const [chosen] = event.currentTarget.files ?? [];
          event.currentTarget.value = '';
          if (chosen) readReference(chosen).then(setReference, fault);
        }}
      />
      {reference ? (
        <ActionRow label={reference.name} action="Lay away" onClick={() => setReference(null)} />
      ) : (
        <ActionRow label="From a file, in place of B" action="Choose" onClick={() => file.current?.click()} />
      )}
    </Section>
  );
}

function SheetsSection() {
  const store = useStudioStore();
  return (
    <Section title="Sheets">
      <ActionRow label="Every cue from this view" action="Lay out" onClick={() => cueSheet(store)} />
      <ActionRow label="This light from every view" action="Lay out" onClick={() => viewSheet(store)} />
      <ActionRow label="Sun, bounce and sky against each other" action="Lay out" onClick={() => balanceSheet(store)} />
      <p className={desk.text}>A click with the right button on the name of any value tries it at several steps.</p>
    </Section>
  );
}

function WalkingSection() {
  const speedMS = useWalk((s) => s.speedMS);
  const crouched = useWalk((s) => s.crouched);
  return (
    <Section title="On foot" rare>
      <NumberRow
        label="Speed"
        value={speedMS}
        preset={SPEED_M_S.preset}
        quantity={SPEED}
        hint="Walking by W A S D; Shift is three times as fast"
        onChange={(next) => useWalk.setState({ speedMS: next })}
      />
      <SwitchRow label="Crouched" on={crouched} onChange={flipCrouch} />
    </Section>
  );
}
