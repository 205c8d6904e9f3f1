import { Button, Select } from 'antd';
import type { Draft } from 'immer';
import { useState } from 'react';
import type { Rig } from '../../core/rig';
import { NumberRow } from '../desk/NumberRow';
import { logarithmic } from '../desk/quantity';
import { useStudio, useStudioStore } from '../state/context';
import { useView } from '../viewport/viewStore';
import desk from '../desk/desk.module.css';

const FACTOR = logarithmic('×', 1 / 16, 16, { digits: 3 });

/** What an object that is chosen is given: a density of its own, or none. */
type Adding = 'density' | 'left out' | null;

/** Objects that have more or fewer texels than the rest of the level, or none. */
export function DensitySection() {
  const densities = useStudio((s) => s.rig.bake.densities);
  const store = useStudioStore();
  const objects = useView((s) => s.objects);
  const [adding, setAdding] = useState<Adding>(null);
  const set = (name: string, factor: number | null) =>
    store.getState().edit(
      said(name, factor),
      ({ bake }: Draft<Rig>) => {
        if (factor === null) delete bake.densities[name];
        else bake.densities[name] = factor;
      },
      `density ${name}`,
    );
  const own = Object.keys(densities);
  return (
    <>
      {own.map((name) =>
        densities[name] === 0 ? (
          <div key={name} className={desk.pick}>
            <span title={`${name} casts shadows and sends light back, and keeps no light of its own`}>{name}</span>
            <span className={desk.text}>left out</span>
            <Button size="small" aria-label={`Bake ${name} again`} onClick={() => set(name, null)}>
              Take in
            </Button>
          </div>
        ) : (
          <NumberRow
            key={name}
            label={name}
            value={densities[name]!}
            preset={1}
            held={{ is: true, release: () => set(name, null) }}
            quantity={FACTOR}
            hint={`Times the level’s density; a double click gives ${name} the level’s again`}
            onChange={(v) => set(name, v)}
          />
        ),
      )}
      {adding ? (
        <div className={desk.pick}>
          <span id="density-of">{adding === 'density' ? 'Object' : 'Leave out'}</span>
          <Select
            aria-labelledby="density-of"
            size="small"
            showSearch
            autoFocus
            defaultOpen
            style={{ width: 190 }}
            options={(objects?.() ?? [])
              .filter((n) => (adding === 'density' ? !own.includes(n) : densities[n] !== 0))
              .map((value) => ({ value, label: value }))}
            onChange={(name: string) => {
              set(name, adding === 'density' ? 2 : 0);
              setAdding(null);
            }}
            onBlur={() => setAdding(null)}
          />
        </div>
      ) : (
        <div className={desk.actions}>
          <Button size="small" title="Give an object a texel density of its own" onClick={() => setAdding('density')}>
            Density of an object
          </Button>
          <Button
            size="small"
            title="For what never needs light of its own: it casts shadows and sends light back, and has no lightmap"
            onClick={() => setAdding('left out')}
          >
            Leave an object out
          </Button>
        </div>
      )}
    </>
  );
}

/** What giving an object a density is called. */
function said(name: string, factor: number | null): string {
  if (factor === 0) return `${name}: left out of the bake`;
  return factor === null ? `${name}: the level’s texel density` : `${name}: texel density × ${FACTOR.format(factor)}`;
}
