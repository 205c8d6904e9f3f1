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

/** What is chosen is given: a density of its own, or none; an object, or a group of the file. */
interface Adding {
  what: 'density' | 'left out';
  of: Of;
}
type Of = 'densities' | 'groupDensities';

/** Objects and groups that have more or fewer texels than the rest of the level, or none. */
export function DensitySection() {
  const bake = useStudio((s) => s.rig.bake);
  const store = useStudioStore();
  const objects = useView((s) => s.objects);
  const names = useView((s) => s.names);
  const [adding, setAdding] = useState<Adding | null>(null);
  const set = (of: Of, name: string, factor: number | null) =>
    store.getState().edit(
      said(of === 'densities' ? name : `Group ${name}`, factor),
      ({ bake }: Draft<Rig>) => {
        if (factor === null) delete bake[of][name];
        else bake[of][name] = factor;
      },
      `${of} ${name}`,
    );
  const own = (['groupDensities', 'densities'] as const).flatMap((of) =>
    Object.keys(bake[of]).map((name) => ({ of, name, factor: bake[of][name]! })),
  );
  const all = (adding?.of === 'groupDensities' ? names?.().groups : objects?.()) ?? [];
  return (
    <>
      {own.map(({ of, name, factor }) =>
        factor === 0 ? (
          <div key={`${of} ${name}`} className={desk.pick}>
            <span title={`${name} casts shadows and sends light back, and keeps no light of its own`}>{labelOf(of, name)}</span>
            <span className={desk.text}>left out</span>
            <Button size="small" aria-label={`Bake ${name} again`} onClick={() => set(of, name, null)}>
              Take in
            </Button>
          </div>
        ) : (
          <NumberRow
            key={`${of} ${name}`}
            label={labelOf(of, name)}
            value={factor}
            preset={1}
            held={{ is: true, release: () => set(of, name, null) }}
            quantity={FACTOR}
            hint={`Times the level’s density; a double click gives ${name} the level’s again`}
            onChange={(v) => set(of, name, v)}
          />
        ),
      )}
      {adding ? (
        <div className={desk.pick}>
          <Select<Of>
            aria-label="What it is for"
            size="small"
            style={{ width: 84 }}
            value={adding.of}
            options={OFS}
            onChange={(of) => setAdding({ ...adding, of })}
          />
          <Select
            key={adding.of}
            aria-label={adding.what === 'density' ? 'That gets a density of its own' : 'That is left out'}
            size="small"
            showSearch
            autoFocus
            defaultOpen
            style={{ width: 170 }}
            options={all
              .filter((n) => (adding.what === 'density' ? !Object.hasOwn(bake[adding.of], n) : bake[adding.of][n] !== 0))
              .map((value) => ({ value, label: value }))}
            onChange={(name: string) => {
              set(adding.of, name, adding.what === 'density' ? 2 : 0);
              setAdding(null);
            }}
          />
          <button type="button" className={desk.quiet} onClick={() => setAdding(null)}>
            cancel
          </button>
        </div>
      ) : (
        <div className={desk.actions}>
          <Button
            size="small"
            title="Give an object, or all of a group, a texel density of its own"
            onClick={() => setAdding({ what: 'density', of: 'densities' })}
          >
            Density of an object
          </Button>
          <Button
            size="small"
            title="For what never needs light of its own: it casts shadows and sends light back, and has no lightmap"
            onClick={() => setAdding({ what: 'left out', of: 'densities' })}
          >
            Leave an object out
          </Button>
        </div>
      )}
    </>
  );
}

const OFS: { value: Of; label: string }[] = [
  { value: 'densities', label: 'Object' },
  { value: 'groupDensities', label: 'Group' },
];

const labelOf = (of: Of, name: string): string => (of === 'densities' ? name : `All of ${name}`);

/** What giving an object a density is called. */
function said(name: string, factor: number | null): string {
  if (factor === 0) return `${name}: left out of the bake`;
  return factor === null ? `${name}: the level’s texel density` : `${name}: texel density × ${FACTOR.format(factor)}`;
}
