'use client';

import { useState } from 'react';
import { type Draft } from 'immer';
import type { Bands, Cue, Rig, Sun } from '../../core/rig';
import { KELVIN_RANGE } from '../../core/units';
import { ColorRow } from '../desk/ColorRow';
import { NumberRow } from '../desk/NumberRow';
import { clock, exposureValue, grouped, hourOfDay, kelvin, linear, logarithmic, type Quantity } from '../desk/quantity';
import { Section } from '../desk/Section';
import { useStudio, useStudioStore } from '../state/context';
import { currentCue } from '../state/studioStore';
import { visibleDisc } from '../../core/sky';
import { CueName } from './CueName';

const SUN: Record<keyof Sun, { label: string; quantity: Quantity; hint: string }> = {
  azimuthDeg: { label: 'Azimuth', quantity: linear('°', 0, 360, 0.5, 1, 360), hint: 'Clockwise from north' },
  elevationDeg: { label: 'Elevation', quantity: linear('°', -20, 90, 0.5, 1), hint: 'Above the horizon; below it the sun lights nothing' },
  illuminanceLux: { label: 'Strength', quantity: logarithmic('lx', 1, 200_000, { zero: true }), hint: 'On a plane that faces the sun' },
  colorK: { label: 'Colour', quantity: kelvin(KELVIN_RANGE[0], KELVIN_RANGE[1]), hint: 'Colour temperature' },
  discDeg: { label: 'Disc', quantity: logarithmic('°', 0.05, 30), hint: 'Full angle of the disc; a larger one softens shadows' },
};

const LUMINANCE = logarithmic('cd/m²', 0.001, 100_000, { zero: true });
const EV100 = exposureValue(-10, 25);
const FADE = linear('s', 0, 20, 0.5, 1);

/** The desk of the Day room: sun, sky and exposure of the cue that is shown. */
export function DayDesk() {
  const cue = useStudio(currentCue);
  const store = useStudioStore();
  // What a double click goes back to: the value the cue had when the studio was opened.
  const [opened] = useState(() => store.getState().rig);
  const before = opened.cues.find((c) => c.id === cue.id) ?? cue;

  const change = (what: string, recipe: (cue: Draft<Cue>) => void, key: string) =>
    store.getState().edit(`${cue.name}: ${what}`, (rig: Draft<Rig>) => recipe(rig.cues.find((c) => c.id === cue.id)!), `${cue.id} ${key}`);

  const set = setState(cue);
  return (
    <>
      <CueName cue={cue} onRename={(name) => change(`renamed to ${name}`, (c) => void (c.name = name), 'name')} />
      <Section title="Sun" note={set}>
        {(Object.keys(SUN) as (keyof Sun)[]).map((part) => {
          const { label, quantity, hint } = SUN[part];
          return (
            <NumberRow
              key={part}
              label={label}
              value={cue.sun[part]}
              preset={before.sun[part]}
              quantity={quantity}
              hint={hint}
              onChange={(v) => change(`${label.toLowerCase()} ${quantity.format(v)} ${quantity.unit}`, (c) => void (c.sun[part] = v), part)}
            />
          );
        })}
      </Section>
      <Section title="Exposure" note="fixed">
        <NumberRow
          label="EV100"
          value={cue.exposureEv100}
          preset={before.exposureEv100}
          quantity={EV100}
          hint="At ISO 100; one more lets in half the light"
          onChange={(v) => change(`exposure ${EV100.format(v)} EV`, (c) => void (c.exposureEv100 = v), 'exposure')}
        />
      </Section>
      <Section title="Sky" note="painted bands">
        {(['zenith', 'horizon', 'ground'] as const).map((band) => (
          <BandRows key={band} band={band} sky={cue.sky} before={before.sky} change={change} />
        ))}
      </Section>
      <Section title="On the day" note={clock(cue.hour)}>
        <NumberRow
          label="Hour"
          value={cue.hour}
          preset={before.hour}
          quantity={hourOfDay}
          hint="Where its pin stands on the dayline"
          onChange={(v) => change(`moved to ${clock(v)}`, (c) => void (c.hour = v), 'hour')}
        />
        <NumberRow
          label="Fade"
          value={cue.fadeS}
          preset={before.fadeS}
          quantity={FADE}
          hint="How long a go to this cue takes"
          onChange={(v) => change(`fade ${grouped(v, 1)} s`, (c) => void (c.fadeS = v), 'fade')}
        />
      </Section>
    </>
  );
}

function setState({ sun }: Cue): string {
  const seen = visibleDisc(sun.elevationDeg, sun.discDeg);
  if (seen === 0) return 'set: it lights nothing';
  return seen < 1 ? `${Math.round(seen * 100)} % over the horizon` : 'main';
}

function BandRows({
  band,
  sky,
  before,
  change,
}: {
  band: keyof Bands;
  sky: Bands;
  before: Bands;
  change(what: string, recipe: (cue: Draft<Cue>) => void, key: string): void;
}) {
  const name = band[0]!.toUpperCase() + band.slice(1);
  return (
    <>
      <ColorRow
        label={`${name}`}
        value={sky[band].color}
        preset={before[band].color}
        onChange={(hex) => change(`${band} ${hex}`, (c) => void (c.sky[band].color = hex), `${band} color`)}
      />
      <NumberRow
        label={`${name} light`}
        value={sky[band].luminanceCdM2}
        preset={before[band].luminanceCdM2}
        quantity={LUMINANCE}
        hint="Luminance of the band; its colour gives the hue alone"
        onChange={(v) => change(`${band} ${LUMINANCE.format(v)} cd/m²`, (c) => void (c.sky[band].luminanceCdM2 = v), `${band} light`)}
      />
    </>
  );
}
