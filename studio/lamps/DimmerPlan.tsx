'use client';

import { Button, ColorPicker } from 'antd';
import { useRef, useState, type KeyboardEvent } from 'react';
import { FULL, dimmerUnder, openGroundLux, resolveCue, ruleBurns, sunHours, type Circuit, type Cue, type Dimmer } from '../../core/rig';
import { momentText } from '../desk/momentText';
import { ladderOf } from '../desk/ladderAsked';
import { clockText, linear } from '../desk/quantity';
import { useStudio, useStudioStore } from '../state/context';
import { useLampTool } from './lampTool';
import styles from './lamps.module.css';

/** Steps of the plus and minus keys. */
const STEP = 0.1;

/** A level as its ladder has it. */
const LEVEL = linear('%', 0, 400, 5, 0);

const percent = (level: number) => `${Math.round(level * 100)} %`;

/** The table of circuits by cues: on, off, level and tint of each, worked by keys alone. */
export function DimmerPlan() {
  const store = useStudioStore();
  const rig = useStudio((s) => s.rig);
  const images = useStudio((s) => s.images);
  const cueId = useStudio((s) => s.cueId);
  const [at, setAt] = useState({ row: 0, column: 0 });
  /** Digits typed so far for the cell that has the focus. */
  const [typed, setTyped] = useState('');
  const table = useRef<HTMLTableElement>(null);
  const { circuits, cues } = rig;

  const burnsIn = (cue: Cue) => {
    const lighting = () => openGroundLux(resolveCue(rig, cue, images));
    return (rule: Circuit['rule']) => ruleBurns(rule, cue.hour, sunHours(rig), lighting);
  };
  const dimmerOf = (circuit: Circuit, cue: Cue): Dimmer => dimmerUnder(circuit, cue.holds.dimmers?.[circuit.id], burnsIn(cue));

  const change = (circuit: Circuit, cue: Cue, what: string, next: Partial<Dimmer> | null, key?: string) =>
    store.getState().edit(
      `${cue.name}: ${circuit.name} ${what}`,
      (r) => {
        const { holds } = r.cues.find((c) => c.id === cue.id)!;
        const dimmers = { ...holds.dimmers };
        if (next) dimmers[circuit.id] = { ...dimmerOf(circuit, cue), ...next };
        else delete dimmers[circuit.id];
        if (Object.keys(dimmers).length > 0) holds.dimmers = dimmers;
        else delete holds.dimmers;
      },
      key && `${cue.id} ${circuit.id} ${key}`,
    );

  const setLevel = (circuit: Circuit, cue: Cue, level: number) =>
    change(circuit, cue, percent(level), { on: true, level: Math.min(4, Math.max(0, Number(level.toFixed(2)))) }, 'level');
  /** Tries levels of a cell, each as a picture of its cue. */
  const tryLevels = (circuit: Circuit, cue: Cue, level: number) =>
    ladderOf({
      label: `${circuit.name} in ${cue.name}`,
      value: level * 100,
      quantity: LEVEL,
      cueId: cue.id,
      set: (v) => setLevel(circuit, cue, v / 100),
    });

  const focus = (row: number, column: number) => {
    const place = { row: Math.min(circuits.length - 1, Math.max(0, row)), column: Math.min(cues.length - 1, Math.max(0, column)) };
    setAt(place);
    setTyped('');
    table.current?.querySelector<HTMLButtonElement>(`[data-at="${place.row} ${place.column}"]`)?.focus();
  };

  const onKey = (event: KeyboardEvent, row: number, column: number) => {
    const [circuit, cue] = [circuits[row]!, cues[column]!];
    const now = dimmerOf(circuit, cue);
    const level = (v: number) => setLevel(circuit, cue, v);
    const steps: Record<string, [number, number]> = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] };
    const step = steps[event.key];
    if (event.ctrlKey || event.metaKey || event.altKey || event.key === 'Tab') return;
    if (step) focus(row + step[0], column + step[1]);
    else if (event.key === ' ') change(circuit, cue, now.on ? 'off' : 'on', { on: !now.on });
    else if (event.key === '+' || event.key === '=') level(now.level + STEP);
    else if (event.key === '-') level(now.level - STEP);
    else if (event.key === 'Backspace' || event.key === 'Delete') change(circuit, cue, 'by its rule', null);
    else if (event.key === 'Enter') store.getState().go(cue.id);
    else if (event.key === 'Escape') useLampTool.setState({ plan: false });
    else if (/^\d$/.test(event.key)) {
      const digits = (typed + event.key).slice(-3);
      setTyped(digits);
      level(Math.min(400, Number(digits)) / 100);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };

  const chosen = circuits[at.row] && cues[at.column] ? { circuit: circuits[at.row]!, cue: cues[at.column]! } : null;
  return (
    <section className={styles.plan} aria-label="Dimmer plan">
      <header>
        <strong>Dimmer plan</strong>
        <span>
          Arrows move · Space on and off · digits or + − the level · Backspace back to the rule · Enter goes to the cue · right click tries
          levels
        </span>
        <Button size="small" type="text" onClick={() => useLampTool.setState({ plan: false })}>
          Close
        </Button>
      </header>
      {circuits.length === 0 ? (
        <p className={styles.under}>There are no circuits yet. Add one on the desk, and put lamps in it.</p>
      ) : (
        <table ref={table} role="grid" aria-label="Circuits by cues">
          <thead>
            <tr>
              <th />
              {cues.map((cue) => (
                <th key={cue.id} scope="col" data-now={cue.id === cueId}>
                  {cue.name}
                  <small>{clockText(cue.hour, rig.day.clock === 12)}</small>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {circuits.map((circuit, row) => (
              <tr key={circuit.id} data-circuit={circuit.id}>
                <th scope="row">
                  {circuit.name}
                  <small>{ruleText(circuit.rule)}</small>
                </th>
                {cues.map((cue, column) => {
                  const dimmer = dimmerOf(circuit, cue);
                  const held = cue.holds.dimmers?.[circuit.id] !== undefined;
                  return (
                    <td key={cue.id}>
                      <button
                        type="button"
                        className={styles.cell}
                        data-at={`${row} ${column}`}
                        data-on={dimmer.on}
                        data-held={held}
                        tabIndex={row === at.row && column === at.column ? 0 : -1}
                        aria-label={`${circuit.name} in ${cue.name}: ${dimmer.on ? percent(dimmer.level) : 'off'}${held ? ', held' : ''}`}
                        onFocus={() => setAt({ row, column })}
                        onClick={() => focus(row, column)}
                        onDoubleClick={() => change(circuit, cue, dimmer.on ? 'off' : 'on', { on: !dimmer.on })}
                        onContextMenu={(event) => {
                          event.preventDefault();
                          tryLevels(circuit, cue, dimmer.level);
                        }}
                        onKeyDown={(event) => onKey(event, row, column)}
                      >
                        <b>{dimmer.on ? percent(dimmer.level) : 'off'}</b>
                        {dimmer.on && (
                          <i
                            style={{
                              width: `${Math.min(100, dimmer.level * 100)}%`,
                              background: dimmer.tint === '#ffffff' ? 'var(--soft)' : dimmer.tint,
                            }}
                          />
                        )}
                      </button>
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {chosen && (
        <div className={styles.tool}>
          <span>
            {chosen.circuit.name} in {chosen.cue.name}
          </span>
          <ColorPicker
            size="small"
            disabledAlpha
            value={dimmerOf(chosen.circuit, chosen.cue).tint}
            onChange={(color) => change(chosen.circuit, chosen.cue, `tint ${color.toHexString()}`, { tint: color.toHexString() }, 'tint')}
          >
            <Button size="small">Tint</Button>
          </ColorPicker>
          <Button size="small" onClick={() => change(chosen.circuit, chosen.cue, 'full', { ...FULL })}>
            Full
          </Button>
          <Button
            size="small"
            disabled={!chosen.cue.holds.dimmers?.[chosen.circuit.id]}
            onClick={() => change(chosen.circuit, chosen.cue, 'by its rule', null)}
          >
            By its rule
          </Button>
        </div>
      )}
    </section>
  );
}

/** A circuit's rule in words. */
export function ruleText(rule: Circuit['rule']): string {
  if (rule.by === 'on') return 'always on';
  if (rule.by === 'off') return 'off unless a cue says so';
  if (rule.by === 'darkness') return `under ${rule.belowLux} lx outside`;
  return `${momentText(rule.from)} to ${momentText(rule.to)}`;
}
