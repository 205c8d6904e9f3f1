'use client';

import { Button, Input, Switch, Table } from 'antd';
import { memo, useCallback, useDeferredValue, useEffect, useMemo, useState } from 'react';
import { emissionOf } from '../../core/lamps';
import { lampsOf, makeFixture, moveToCircuit, removeStanding, unlink, type Rig, type StandingLamp } from '../../core/rig';
import { NumberRow } from '../desk/NumberRow';
import { PickRow } from '../desk/PickRow';
import { linear, readable } from '../desk/quantity';
import { Section } from '../desk/Section';
import { useStudio, useStudioStore } from '../state/context';
import { useRigEdit, type ChangeRig } from '../state/useRigEdit';
import { CircuitsSection } from './CircuitsSection';
import { FaultsSection } from './FaultsSection';
import { FixturesSection } from './FixturesSection';
import { GlowsSection } from './GlowsSection';
import { LampSection } from './LampSection';
import { ProfilesSection } from './ProfilesSection';
import { LampDrag, pressLamps } from './LampDrag';
import { AtObjectsSection } from './AtObjectsSection';
import { flipBall } from './useBallGesture';
import { flipPlan } from '../viewport/planStore';
import { lampActions } from './lampActions';
import { choose, closeCopy, openIn, openOrClose, useLampTool, type DragAlong, type LampMode } from './lampTool';
import desk from '../desk/desk.module.css';
import styles from './lamps.module.css';

const STAND_OFF = linear('m', 0, 5, 0.05, 2);
const GRID = linear('m', 0, 4, 0.25, 2);
const BUDGET = linear('', 0, 8, 1, 0);

/** The desk of the Lamps room: placing, the lamps and what they are, circuits, fixtures, profiles, and what is wrong. */
export function LampsDesk() {
  const store = useStudioStore();
  const rig = useStudio((s) => s.rig);
  // The picture marks what is chosen at once; the desk follows as soon as nothing more urgent is to do.
  const chosen = useDeferredValue(useLampTool((s) => s.chosen));
  const lamps = useMemo(() => lampsOf(rig), [rig]);
  const mine = useMemo(() => lamps.filter((l) => chosen.has(l.id)), [lamps, chosen]);
  const openId = openIn(
    rig,
    useLampTool((s) => s.openId),
  );
  const edit = useRigEdit();
  // A copy stays open as long as the room is.
  useEffect(() => closeCopy, []);
  const drop = useCallback(
    (ids: ReadonlySet<string>, circuitId: string) => {
      const { name } = store.getState().rig.circuits.find((c) => c.id === circuitId)!;
      edit(`${ids.size === 1 ? 'A lamp' : `${ids.size} lamps`} to ${name}`, (r) => moveToCircuit(r, ids, circuitId));
    },
    [store, edit],
  );
  return (
    <>
      <LampDrag drop={drop} />
      <PlacingSection chosen={mine} />
      <Section title="Lamps" note={lamps.length === 0 ? 'none yet' : String(lamps.length)}>
        <LampTable lamps={lamps} chosen={chosen} rig={rig} />
        {mine.length > 0 && <ChosenActions mine={mine} openId={openId} edit={edit} />}
        <Isolux />
      </Section>
      {openId === null && mine.length > 0 && <AtObjectsSection mine={mine} rig={rig} edit={edit} />}
      {mine.length > 0 && <LampSection lamps={mine} openId={openId} rig={rig} edit={edit} />}
      <CircuitsSection rig={rig} edit={edit} />
      {openId === null && mine.length === 0 && <AtObjectsSection mine={mine} rig={rig} edit={edit} />}
      <FixturesSection rig={rig} edit={edit} />
      <FaultsSection rig={rig} lamps={lamps} />
      <ProfilesSection rig={rig} edit={edit} />
      <GlowsSection rig={rig} edit={edit} />
      <Section title="Live lamps" note={`${rig.liveLamps} at most`} rare>
        <NumberRow
          label="Budget"
          value={rig.liveLamps}
          preset={4}
          quantity={BUDGET}
          hint="Most lamps whose direct light is drawn live at once; the first four cast shadows"
          onChange={(v) => edit(`Live lamps: ${v}`, (r) => void (r.liveLamps = v), 'live lamps')}
        />
      </Section>
    </>
  );
}

const HINTS: Readonly<Record<LampMode, string>> = {
  place: 'Click a surface. Shift keeps placing.',
  aim: 'Click what they should shine at.',
  model: 'Click the object that the fixture should look like.',
  row: 'Click where the last one of the row stands.',
  choose: 'Drag a lamp’s dot to move it, with Ctrl to duplicate it; X, Y, Z, L or S while dragging say along what.',
};
const ALONG: { value: DragAlong; label: string; title?: string }[] = [
  { value: 'auto', label: 'surfaces, or level in the air' },
  { value: 'surface', label: 'surfaces (S)' },
  { value: 'level', label: 'its own height (L)' },
  { value: 'y', label: 'up and down (Y)' },
  { value: 'x', label: 'the X axis (X)' },
  { value: 'z', label: 'the Z axis (Z)' },
];
const ROW = linear('', 2, 100, 1, 0);

const PlacingSection = memo(function PlacingSection({ chosen }: { chosen: StandingLamp[] }) {
  const { mode, standOffM, gridM, ballAt, along, rowOf, openId } = useLampTool();
  const canAim = chosen.some((l) => l.placedId === null || l.placedId === openId);
  const begin = (next: 'place' | 'aim' | 'row') => useLampTool.setState({ mode: mode === next ? 'choose' : next, fixtureId: null });
  return (
    <Section title="Placing">
      <div className={styles.modes}>
        <Button size="small" type={mode === 'place' ? 'primary' : 'default'} aria-pressed={mode === 'place'} onClick={() => begin('place')}>
          Place a lamp
        </Button>
        <Button
          size="small"
          type={mode === 'aim' ? 'primary' : 'default'}
          aria-pressed={mode === 'aim'}
          disabled={!canAim}
          onClick={() => begin('aim')}
        >
          Aim at a point
        </Button>
        <Button
          size="small"
          type={mode === 'row' ? 'primary' : 'default'}
          aria-pressed={mode === 'row'}
          disabled={chosen.length === 0}
          title="Sets the chosen lamps once more, evenly along a line"
          onClick={() => begin('row')}
        >
          In a row of {rowOf}
        </Button>
        <Button size="small" onClick={() => useLampTool.setState({ plan: true })}>
          Dimmer plan
        </Button>
        <Button size="small" title="The level straight from above, cut at a height" onClick={flipPlan}>
          From above
        </Button>
      </div>
      <p className={mode === 'choose' ? desk.text : styles.hint}>{HINTS[mode]}</p>
      {mode === 'row' && (
        <NumberRow
          label="In the row"
          value={rowOf}
          preset={5}
          quantity={ROW}
          hint="Lamps in all, the chosen one included"
          onChange={(v) => useLampTool.setState({ rowOf: Math.round(v) })}
        />
      )}
      <PickRow<DragAlong>
        label="Drag along"
        as="list"
        value={along}
        options={ALONG}
        onChange={(next) => useLampTool.setState({ along: next })}
      />
      <NumberRow
        label="Off surface"
        value={standOffM}
        preset={0.3}
        quantity={STAND_OFF}
        hint="How far from the surface that is clicked"
        onChange={(v) => useLampTool.setState({ standOffM: v })}
      />
      <NumberRow
        label="Grid"
        value={gridM}
        preset={0}
        quantity={GRID}
        hint="0 places freely"
        onChange={(v) => useLampTool.setState({ gridM: v })}
      />
      <div className={desk.pick}>
        <span title="Drag it along surfaces. Live light casts its shadow, baked light does not">Test ball</span>
        <Switch size="small" aria-label="Test ball" checked={ballAt !== null} onChange={flipBall} />
      </div>
    </Section>
  );
});

const LampTable = memo(function LampTable({ lamps, chosen, rig }: { lamps: StandingLamp[]; chosen: ReadonlySet<string>; rig: Rig }) {
  const [filter, setFilter] = useState('');
  const circuitName = useMemo(() => new Map(rig.circuits.map((c) => [c.id, c.name])), [rig.circuits]);
  const rows = useMemo(() => {
    const words = filter.toLowerCase().split(/\s+/).filter(Boolean);
    return lamps
      .map((lamp) => ({
        key: lamp.id,
        name: lamp.name,
        circuit: lamp.circuitId === null ? '–' : circuitName.get(lamp.circuitId)!,
        lumens: emissionOf(lamp, rig.profiles).flux,
        kind: lamp.shape.kind,
      }))
      .filter((row) => words.every((w) => `${row.name} ${row.circuit} ${row.kind}`.toLowerCase().includes(w)));
  }, [lamps, filter, circuitName, rig.profiles]);
  if (lamps.length === 0) return <p className={desk.text}>Place one by a click on a wall, a ceiling or the ground.</p>;
  return (
    <>
      <Input
        size="small"
        allowClear
        placeholder="Filter by name, circuit or kind"
        aria-label="Filter the lamps"
        value={filter}
        onChange={(event) => setFilter(event.target.value)}
      />
      <Table
        className={styles.table}
        size="small"
        virtual
        pagination={false}
        scroll={{ y: Math.min(190, 28 + rows.length * 27), x: 284 }}
        dataSource={rows}
        onRow={(row) => ({
          'data-chosen': chosen.has(row.key),
          'aria-selected': chosen.has(row.key),
          // Dropped on a circuit, they go into it.
          onPointerDown: (event) => pressLamps(event, chosen.has(row.key) ? [...chosen] : [row.key]),
          onClick: (event) => {
            const add = event.ctrlKey || event.metaKey;
            const from = rows.findIndex((r) => chosen.has(r.key));
            const to = rows.findIndex((r) => r.key === row.key);
            if (event.shiftKey && from >= 0) choose(rows.slice(Math.min(from, to), Math.max(from, to) + 1).map((r) => r.key));
            else if (add) choose(chosen.has(row.key) ? [...chosen].filter((id) => id !== row.key) : [...chosen, row.key]);
            else choose([row.key]);
          },
        })}
        columns={[
          {
            title: 'Name',
            dataIndex: 'name',
            width: 118,
            ellipsis: true,
            sorter: (a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }),
          },
          { title: 'Circuit', dataIndex: 'circuit', width: 90, ellipsis: true, sorter: (a, b) => a.circuit.localeCompare(b.circuit) },
          {
            title: 'lm',
            dataIndex: 'lumens',
            width: 76,
            align: 'right',
            render: (v: number) => readable(v),
            sorter: (a, b) => a.lumens - b.lumens,
          },
        ]}
      />
      {rows.length > 1 && (
        <div className={desk.actions}>
          <Button size="small" onClick={() => choose(rows.map((r) => r.key))}>
            Choose {filter ? 'these' : 'all'} {rows.length}
          </Button>
        </div>
      )}
    </>
  );
});

/** Says what the lines on the floor stand for. */
function Isolux() {
  const isolux = useLampTool((s) => s.isolux);
  if (!isolux || isolux.lux.length === 0) return null;
  return (
    <p className={desk.text}>
      Lines on the floor, {isolux.belowM.toFixed(1)} m below: {isolux.lux.map((v) => String(v)).join(', ')} lx, without what stands between.
    </p>
  );
}

interface ActionsProps {
  mine: StandingLamp[];
  openId: string | null;
  edit: ChangeRig;
}

const ChosenActions = memo(function ChosenActions({ mine, openId, edit }: ActionsProps) {
  const store = useStudioStore();
  const copied = useLampTool((s) => s.copied);
  const own = new Set(mine.filter((l) => l.placedId === null).map((l) => l.id));
  const copies = new Set(mine.flatMap((l) => (l.placedId === openId ? [] : (l.placedId ?? []))));
  const what = mine.length === 1 ? mine[0]!.name : `${mine.length} lamps`;
  const act = () => lampActions(store);
  return (
    <div className={desk.actions}>
      {own.size > 0 && copies.size === 0 && openId === null && (
        <Button
          size="small"
          onClick={() => {
            edit(`Made a fixture of ${what}`, (r) => void makeFixture(r, own, mine.length === 1 ? what : 'Fixture'));
            choose([]);
          }}
        >
          Make a fixture
        </Button>
      )}
      {copies.size > 0 && (
        <>
          <Button
            size="small"
            title="Its lamps are placed, moved, aimed and taken away in the picture, and all copies follow"
            onClick={() => openOrClose(store.getState().rig)}
          >
            Open in place
          </Button>
          <Button
            size="small"
            onClick={() => {
              let ids: string[] = [];
              edit(`Unlinked ${what}`, (r) => void (ids = unlink(r, copies)));
              choose(ids);
            }}
          >
            Unlink
          </Button>
        </>
      )}
      <Button size="small" title="Once more, beside itself; so does a drag with Ctrl" onClick={() => act().duplicate()}>
        Duplicate
      </Button>
      <Button
        size="small"
        onClick={() => {
          edit(`Took ${what} away`, (r) => removeStanding(r, mine, openId));
          choose([]);
        }}
      >
        Take away
      </Button>
      <Button size="small" title="Sideways, to the middle of what hangs straight above" onClick={() => act().lineUp('above')}>
        Line up below
      </Button>
      <Button size="small" title="Sideways, to the middle of what stands straight below" onClick={() => act().lineUp('below')}>
        Line up above
      </Button>
      <Button size="small" title="Kind, output, colour, reach and how it is baked" onClick={() => act().copyValues()}>
        Copy values
      </Button>
      {copied && (
        <Button size="small" title={`Of ${copied.name}`} onClick={() => act().pasteValues()}>
          Paste values
        </Button>
      )}
    </div>
  );
});
