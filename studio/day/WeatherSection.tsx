import { Button } from 'antd';
import { memo } from 'react';
import { forgetWeather, keepWeather, resolveCue, setWeatherTurn, weatherSets, type Cue, type Lighting, type Rig } from '../../core/rig';
import { FAIR_WEATHER, dryingMin, rainWord, snowShare, type Weather } from '../../core/weather';
import { sameJson } from '../../core/units';
import { ActionRow } from '../desk/ActionRow';
import { HolderRow } from '../desk/HolderRow';
import { NumberRow } from '../desk/NumberRow';
import { PickRow } from '../desk/PickRow';
import { grouped, linear, logarithmic, type Quantity } from '../desk/quantity';
import { Section } from '../desk/Section';
import { useHeldPart } from '../desk/useHeldPart';
import { ShelfRows } from '../desk/ShelfRows';
import { SwitchRow } from '../desk/SwitchRow';
import type { ChangeRig } from '../state/useRigEdit';
import { DragHeightRow } from './DragHeightRow';
import { useStudio } from '../state/context';
import day from './day.module.css';
import styles from '../desk/desk.module.css';

const SHARE = linear('', 0, 1, 0.01, 2);
const MINUTES = logarithmic('min', 0.5, 1440, { digits: 2 });

interface Row {
  key: keyof Weather;
  label: string;
  quantity: Quantity;
  hint: string;
}
const AIR: Row[] = [
  {
    key: 'rateMmH',
    label: 'Precipitation',
    quantity: logarithmic('mm/h', 0.05, 100, { zero: true, digits: 2 }),
    hint: 'Water an hour: drizzle 0.3, light 1.5, moderate 5, heavy 20, a cloudburst 80',
  },
  {
    key: 'temperatureC',
    label: 'Temperature',
    quantity: linear('°C', -30, 45, 0.1, 1),
    hint: 'Snow under 0 °C, sleet about 1 °C, rain over 3 °C',
  },
  { key: 'windMps', label: 'Wind', quantity: linear('m/s', 0, 40, 0.5, 1), hint: 'Air 1, breeze 4, fresh 9, gale 20' },
  {
    key: 'windFromDeg',
    label: 'Wind from',
    quantity: linear('°', 0, 360, 1, 0, 360),
    hint: 'Azimuth that it comes from, clockwise from north',
  },
  {
    key: 'lightningPerMin',
    label: 'Lightning',
    quantity: linear('/min', 0, 30, 0.5, 1),
    hint: 'Flashes a minute of the game, while the day runs: 1 far off, 6 a thunderstorm',
  },
  {
    key: 'lightningKm',
    label: 'Strikes at',
    quantity: logarithmic('km', 0.3, 60, { digits: 2 }),
    hint: 'How far off it strikes: 1 km lights as an overcast noon, 8 km as a lit room, 30 km as a street lamp',
  },
  { key: 'flash', label: 'Held flash', quantity: SHARE, hint: 'A flash that stands still, for a picture of the cue' },
];
/** Values that may be left to something else, by their null: what is shown then, and what they start from. */
const LEFT: (Row & { leftTo: string; first: number })[] = [
  {
    key: 'cover',
    label: 'Cloud cover',
    quantity: SHARE,
    hint: 'Share of the sky: 0 clear, 0.5 broken, 1 closed',
    leftTo: 'as the clouds are set',
    first: 1,
  },
  {
    key: 'dustM',
    label: 'Dust, seen to',
    quantity: logarithmic('m', 10, 20_000, { digits: 2 }),
    hint: 'How far one sees through blown dust: 50 m a wall of dust, 500 m a dust storm, 4 km haze of dust',
    leftTo: 'none',
    first: 500,
  },
  { key: 'wet', label: 'Wet ground', quantity: SHARE, hint: '0 dry, 1 dripping', leftTo: 'by what fell', first: 0.8 },
  { key: 'puddles', label: 'Puddles', quantity: SHARE, hint: 'How full the hollows stand', leftTo: 'by what fell', first: 0.6 },
  {
    key: 'snow',
    label: 'Lying snow',
    quantity: SHARE,
    hint: 'Share that is covered: 0.3 frost, 1 all white',
    leftTo: 'by what fell',
    first: 0.7,
  },
  {
    key: 'snowLineM',
    label: 'Snow line',
    quantity: linear('m', -50, 500, 0.5, 1),
    hint: 'Height in the level over which snow lies',
    leftTo: 'none',
    first: 10,
  },
];
const ABOVE: Row[] = [
  {
    key: 'snowLineSoftM',
    label: 'Begins over',
    quantity: logarithmic('m', 0.5, 500, { digits: 2 }),
    hint: 'Height over which the snow begins',
  },
  { key: 'snowLineFall', label: 'Snowfall above', quantity: linear('×', 0, 8, 0.1, 1), hint: 'How much more falls above the snow line' },
  {
    key: 'snowLineFog',
    label: 'Fog above',
    quantity: linear('×', 1, 20, 0.1, 1),
    hint: 'How much thicker the fog is above the snow line: 1 the same, 3 a cap of cloud, 10 a whiteout',
  },
];

interface Props {
  rig: Rig;
  cue: Cue;
  lighting: Lighting;
  changeRig: ChangeRig;
}

/** The weather of the cue or the day, by what a weather station would tell, and what it leaves on the ground. */
export const WeatherSection = memo(function WeatherSection({ rig, cue, lighting, changeRig }: Props) {
  const { values: weather, isDay, isHeld, edit, held, releaseAll } = useHeldPart('weather', cue, rig.weather, changeRig);
  const images = useStudio((s) => s.images);
  const { weatherTurn: turn } = cue.holds;
  const sets = weatherSets(rig);
  const same = sets.find((s) => sameJson({ ...FAIR_WEATHER, ...s.weather }, { ...FAIR_WEATHER, ...weather }));
  const row = (r: Row) => (
    <NumberRow
      key={r.key}
      label={r.label}
      value={(weather[r.key] as number | null) ?? 0}
      preset={(FAIR_WEATHER[r.key] as number | null) ?? (weather[r.key] as number)}
      held={held(r.key, r.label)}
      quantity={r.quantity}
      hint={r.hint}
      onChange={(v) => edit({ [r.key]: v }, `${r.label.toLowerCase()} ${r.quantity.format(v)} ${r.quantity.unit}`.trimEnd(), r.key)}
    />
  );
  const left = (r: (typeof LEFT)[number]) =>
    weather[r.key] === null ? (
      <ActionRow
        key={r.key}
        label={r.label}
        action={`${r.leftTo}; set`}
        title={r.hint}
        onClick={() => edit({ [r.key]: r.first }, `${r.label.toLowerCase()} set`, r.key)}
      />
    ) : (
      <div key={r.key}>
        {row(r)}
        <ActionRow
          label=""
          action={r.leftTo}
          title={`${r.label}: ${r.leftTo}`}
          onClick={() => edit({ [r.key]: null }, `${r.label.toLowerCase()} ${r.leftTo}`, r.key)}
        />
      </div>
    );
  const now = lighting.weather;
  const note =
    now && now.rainMmH + now.snowMmH > 0.01
      ? `${rainWord(weather.rateMmH)} ${fallName(weather.temperatureC)}`
      : (same?.name.toLowerCase() ?? 'as set');

  return (
    <Section title="Weather" note={`${note}${isHeld ? ', held' : ''}`}>
      <HolderRow />
      <ShelfRows
        label="Sets of weather"
        sets={sets}
        chosen={same}
        isOwn={rig.weathers.some((w) => w.id === same?.id)}
        lighting={(set) => resolveCue(rig, { ...cue, holds: { ...cue.holds, weather: { ...FAIR_WEATHER, ...set.weather } } }, images)}
        of={cue.id}
        onTake={(set) => edit({ ...FAIR_WEATHER, ...set.weather }, `as ${set.name}`, 'set')}
        onForget={({ id, name }) => changeRig(`${name} forgotten`, (r) => forgetWeather(r, id))}
        keep={{
          label: 'Keep these values',
          wanted: 'Weather',
          as: (id, name) => changeRig(`${name} kept`, (r) => keepWeather(r, id, name, weather)),
        }}
      />
      {AIR.map(row)}
      {LEFT.map(left)}
      {weather.snowLineM !== null && (
        <>
          <DragHeightRow sets="snow line" />
          {ABOVE.map(row)}
        </>
      )}
      {weather.rateMmH > 0 && (weather.cover ?? cue.holds.clouds?.cover ?? 0) < 0.3 && (
        <p className={day.warning} role="status">
          It falls from a clear sky: cloud cover is {grouped((weather.cover ?? cue.holds.clouds?.cover ?? 0) * 100)} %
        </p>
      )}
      {now && (
        <p className={day.facts}>
          Ground {grouped(now.ground.wet * 100)} % wet, hollows {grouped(now.ground.puddles * 100)} % full, {grouped(now.ground.snow * 100)}{' '}
          % under snow; it dries to a third in {grouped(dryingMin(weather))} min. Bounced light is that of dry ground.
        </p>
      )}
      {!isDay && (
        <>
          <SwitchRow
            label="Turns into another weather"
            on={turn !== undefined}
            onChange={(on) =>
              changeRig(on ? `${cue.name}: weather turns` : `${cue.name}: weather stays`, (r) =>
                setWeatherTurn(
                  r,
                  cue.id,
                  on ? { to: sets.find((s) => s.id === 'rain')!.weather, beginMin: 30, overMin: 10, staysMin: 45, backMin: 20 } : null,
                ),
              )
            }
          />
          {turn && (
            <>
              <PickRow
                label="Into"
                as="list"
                value={sets.find((s) => sameJson(s.weather, turn.to))?.id ?? ''}
                options={[{ value: '', label: 'values of its own' }, ...sets.map(({ id, name }) => ({ value: id, label: name }))]}
                onChange={(id) => {
                  const set = sets.find((s) => s.id === id);
                  if (set) changeRig(`${cue.name}: turns into ${set.name}`, (r) => setWeatherTurn(r, cue.id, { ...turn, to: set.weather }));
                }}
              />
              {(
                [
                  ['beginMin', 'Begins after'],
                  ['overMin', 'Comes over'],
                  ['staysMin', 'Stays'],
                  ['backMin', 'Goes over'],
                ] as const
              ).map(([key, label]) => (
                <NumberRow
                  key={key}
                  label={label}
                  value={turn[key]}
                  preset={turn[key]}
                  quantity={MINUTES}
                  hint="Minutes of the day’s own time"
                  onChange={(v) =>
                    changeRig(
                      `${cue.name}: ${label.toLowerCase()} ${MINUTES.format(v)} min`,
                      (r) => setWeatherTurn(r, cue.id, { ...turn, [key]: v }),
                      `${cue.id} turn ${key}`,
                    )
                  }
                />
              ))}
            </>
          )}
        </>
      )}
      {isHeld && (
        <div className={styles.actions}>
          <Button size="small" onClick={releaseAll}>
            As the day has it
          </Button>
        </div>
      )}
    </Section>
  );
});

function fallName(temperatureC: number): string {
  const snow = snowShare(temperatureC);
  return snow > 0.85 ? 'snow' : snow > 0.15 ? 'sleet' : 'rain';
}
