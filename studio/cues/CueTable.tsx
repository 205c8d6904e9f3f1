'use client';

import { Button } from 'antd';
import { useRef, useState, type KeyboardEvent } from 'react';
import {
  airShelf,
  copyHeld,
  heldAt,
  heldLeaves,
  holderPath,
  isHeldAlone,
  leafAt,
  setHeld,
  setLeaf,
  type Cue,
  type Leaf,
  type LeafPath,
  type NamedAir,
} from '../../core/rig';
import { clockText } from '../desk/quantity';
import { useStudio, useStudioStore } from '../state/context';
import { useRigEdit } from '../state/useRigEdit';
import { flipChosen, useCueChoice, useCueTable } from './cueChoice';
import { colorOf, leafLabel, leafText } from './heldText';
import { LeafField } from './LeafField';
import styles from './cues.module.css';

/** All that cues hold over the day, side by side: a row for each value, a column for each cue. Edited in one cue or in all that are chosen. */
export function CueTable() {
  const rig = useStudio((s) => s.rig);
  const cueId = useStudio((s) => s.cueId);
  const store = useStudioStore();
  const changeRig = useRigEdit();
  const chosen = useCueChoice((s) => s.chosen);
  const [at, setAt] = useState({ row: 0, column: 0 });
  const table = useRef<HTMLTableElement>(null);
  const field = useRef<HTMLElement>(null);
  const { cues } = rig;
  const airs = airShelf(rig);
  const rows = heldLeaves(cues);
  const cell = { path: rows[at.row], cue: cues[at.column] };
  const close = () => useCueTable.setState({ open: false });

  const focus = (row: number, column: number) => {
    const place = { row: Math.min(rows.length - 1, Math.max(0, row)), column: Math.min(cues.length - 1, Math.max(0, column)) };
    setAt(place);
    table.current?.querySelector<HTMLButtonElement>(`[data-at="${place.row} ${place.column}"]`)?.focus();
  };
  const onKey = (event: KeyboardEvent, row: number, column: number) => {
    const steps: Record<string, [number, number]> = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] };
    const step = steps[event.key];
    if (event.ctrlKey || event.metaKey || event.altKey || event.key === 'Tab') return;
    if (step) focus(row + step[0], column + step[1]);
    else if (event.key === 'Enter') field.current?.focus();
    else if (event.key === 'Backspace' || event.key === 'Delete') letGo(rows[row]!, cues[column]!);
    else if (event.key === 'Escape') close();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };

  /** Cues that an edit in one is for: the chosen ones where it is one of them. */
  const together = (cue: Cue) =>
    chosen.includes(cue.id) ? [cue.id, ...cues.map((c) => c.id).filter((id) => id !== cue.id && chosen.includes(id))] : [cue.id];
  const called = (cue: Cue) => (together(cue).length > 1 ? `${together(cue).length} cues` : cue.name);
  const set = (path: LeafPath, cue: Cue, value: Leaf) =>
    changeRig(
      `${called(cue)}: ${leafLabel(path, rig).toLowerCase()} ${leafText(path, value, airs)}`,
      (r) => setLeaf(r, together(cue), path, value),
      `${path.join('.')} ${together(cue).join(' ')}`,
    );
  const letGo = (path: LeafPath, cue: Cue) =>
    changeRig(`${called(cue)}: ${leafLabel(path, rig).toLowerCase()} by the day`, (r) =>
      setHeld(r, together(cue), holderPath(path), undefined),
    );
  const copy = (path: LeafPath, cue: Cue, to: readonly string[]) =>
    changeRig(`${leafLabel(path, rig)} of ${cue.name} in ${to.length} cues`, (r) => copyHeld(r, cue.id, to, holderPath(path)));

  return (
    <section className={styles.valueTable} aria-label="Values by cues">
      <header>
        <strong>Values by cues</strong>
        <span>
          Arrows move · Enter edits · Backspace follows the day · a click on a cue’s name chooses it: chosen cues are set together
        </span>
        <Button size="small" type="text" onClick={close}>
          Close
        </Button>
      </header>
      <div className={styles.scroll}>
        {rows.length === 0 ? (
          <p>No cue holds anything: all follow the day. Set something in a cue, or make a painted day under Day, Cue.</p>
        ) : (
          <table ref={table} role="grid" aria-label="Held values by cues">
            <thead>
              <tr>
                <th />
                {cues.map((cue) => (
                  <th key={cue.id} scope="col">
                    <button
                      type="button"
                      data-now={cue.id === cueId}
                      aria-pressed={chosen.includes(cue.id)}
                      title={chosen.includes(cue.id) ? 'Chosen: what is set here is set in all chosen cues' : 'Choose this cue'}
                      onClick={() => flipChosen(cue.id)}
                      onDoubleClick={() => store.getState().go(cue.id)}
                    >
                      {cue.name}
                      <small>{cue.kind === 'timed' ? clockText(cue.hour, rig.day.clock === 12) : cue.kind}</small>
                    </button>
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((path, row) => (
                <tr key={path.join('.')} data-first={row > 0 && rows[row - 1]![0] !== path[0]}>
                  <th scope="row">{leafLabel(path, rig)}</th>
                  {cues.map((cue, column) => (
                    <td key={cue.id}>
                      <button
                        type="button"
                        className={styles.value}
                        data-at={`${row} ${column}`}
                        data-held={leafAt(cue, path) !== undefined}
                        tabIndex={row === at.row && column === at.column ? 0 : -1}
                        aria-label={`${leafLabel(path, rig)} in ${cue.name}: ${leafText(path, leafAt(cue, path), airs)}`}
                        onFocus={() => setAt({ row, column })}
                        onDoubleClick={() => field.current?.focus()}
                        onKeyDown={(event) => onKey(event, row, column)}
                      >
                        <Value value={leafAt(cue, path)} path={path} airs={airs} />
                      </button>
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </div>
      {cell.path && cell.cue && (
        <footer>
          <span>
            {leafLabel(cell.path, rig)} in {called(cell.cue)}
          </span>
          <LeafField
            key={`${cell.path.join('.')} ${cell.cue.id}`}
            ref={field}
            label={leafLabel(cell.path, rig)}
            value={leafAt(cell.cue, cell.path)}
            like={likeOf(cues, cell.path)}
            choices={cell.path[0] === 'airId' ? airs.map(({ id, name }) => ({ value: id, label: name })) : null}
            canBegin={canBegin(cell.cue, cell.path)}
            onChange={(value) => set(cell.path!, cell.cue!, value)}
            onLeave={() => focus(at.row, at.column)}
          />
          <CopyTo cell={{ path: cell.path, cue: cell.cue }} cues={cues} chosen={chosen} copy={copy} />
          <Button
            size="small"
            disabled={heldAt(cell.cue, holderPath(cell.path)) === undefined}
            onClick={() => letGo(cell.path!, cell.cue!)}
          >
            Follow the day
          </Button>
        </footer>
      )}
    </section>
  );
}

interface CopyProps {
  cell: { path: LeafPath; cue: Cue };
  cues: readonly Cue[];
  chosen: readonly string[];
  copy(path: LeafPath, cue: Cue, to: readonly string[]): void;
}

/** Takes what a cell's cue holds over into the chosen cues, or into all where none is chosen. */
function CopyTo({ cell: { path, cue }, cues, chosen, copy }: CopyProps) {
  const others = cues.filter((c) => c.id !== cue.id && (chosen.length === 0 || chosen.includes(c.id)));
  const whole = holderPath(path);
  return (
    <Button
      size="small"
      disabled={others.length === 0 || heldAt(cue, whole) === undefined}
      title="The other cues hold what this one holds"
      onClick={() =>
        copy(
          path,
          cue,
          others.map((c) => c.id),
        )
      }
    >
      {chosen.length === 0 ? 'Copy to all cues' : `Copy to ${others.length} chosen`}
    </Button>
  );
}

/** What some cue holds there: it says of what kind a value is. */
const likeOf = (cues: readonly Cue[], path: LeafPath): Leaf | undefined =>
  cues.map((c) => leafAt(c, path)).find((v) => v !== undefined && v !== null);

/** Whether a cue can be given the value: where it holds what that is part of, or where it is held by itself. */
const canBegin = (cue: Cue, path: LeafPath): boolean => isHeldAlone(path) || heldAt(cue, holderPath(path)) !== undefined;

function Value({ value, path, airs }: { value: Leaf | undefined; path: LeafPath; airs: readonly NamedAir[] }) {
  const color = colorOf(value);
  return (
    <>
      {color && <i style={{ background: color }} />}
      {value === undefined ? '–' : leafText(path, value, airs)}
    </>
  );
}
