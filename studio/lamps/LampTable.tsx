import { Button, Input, Table } from 'antd';
import { memo, useMemo, useState } from 'react';
import { emissionOf } from '../../core/lamps';
import type { Rig, StandingLamp } from '../../core/rig';
import { readable } from '../desk/quantity';
import { pressLamps } from './LampDrag';
import { choose } from './lampTool';
import desk from '../desk/desk.module.css';
import styles from './lamps.module.css';

/** All lamps that stand in the level: filtered, sorted, chosen, and dragged onto circuits. */
export const LampTable = memo(function LampTable({ lamps, chosen, rig }: { lamps: StandingLamp[]; chosen: ReadonlySet<string>; rig: Rig }) {
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
