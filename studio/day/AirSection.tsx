import type { Draft } from 'immer';
import { useState } from 'react';
import { SHIPPED_AIRS, airById, airShelf, resolveCue, shippedChanges, type Cue, type NamedAir, type Rig } from '../../core/rig';
import { CLEAR_AIR, type Air } from '../../core/sky';
import { ColorRow } from '../desk/ColorRow';
import { HolderRow, useHolder } from '../desk/HolderRow';
import { NameRow } from '../desk/NameRow';
import { ActionRow } from '../desk/ActionRow';
import { NumberRow } from '../desk/NumberRow';
import { PickRow } from '../desk/PickRow';
import { Section } from '../desk/Section';
import { SwitchRow } from '../desk/SwitchRow';
import { worded } from '../cues/heldText';
import { useStudio } from '../state/context';
import { ShelfPictures } from '../desk/ShelfPictures';
import { AIR_COLORS, AIR_MORE_ROWS, AIR_ROWS, type AirRow } from './airRows';
import { AirStrips } from './AirStrips';
import type { ChangeRig } from '../state/useRigEdit';

/**
 * The air of the day, or of the cue that is shown: one of the shelf, and what it is made of. A shipped one is copied when it is changed.
 *
 * @param cue null while an hour is shown
 */
export function AirSection({ rig, cue, changeRig }: { rig: Rig; cue: Cue | null; changeRig: ChangeRig }) {
  const sets = useHolder((s) => s.sets);
  const ofCue = cue !== null && sets === 'cue' ? cue : null;
  const named = airById(rig, ofCue?.holds.airId ?? rig.airId);
  const shelf = airShelf(rig);
  const changed = shippedChanges(rig).find((c) => c.id === named.id);
  const shipped = SHIPPED_AIRS.some((a) => a.id === named.id);
  const before = SHIPPED_AIRS.find((a) => named.id === a.id || named.id.startsWith(`${a.id}-own`))?.air ?? CLEAR_AIR;
  const images = useStudio((s) => s.images);
  const [shown, setShown] = useState(false);
  const users = rig.cues.filter((c) => c.holds.airId === named.id);

  /** Gives the air to what is set: the cue, or the day. */
  const take = (r: Draft<Rig>, airId: string) => {
    if (ofCue) r.cues.find((c) => c.id === ofCue.id)!.holds.airId = airId;
    else r.airId = airId;
  };
  const choose = (airId: string) =>
    changeRig(`${ofCue ? `${ofCue.name}: air` : 'Air'}: ${shelf.find((a) => a.id === airId)!.name}`, (r) => take(r, airId));
  const edit = (what: string, change: (air: Draft<Air>) => void, key: string) =>
    changeRig(
      `Air: ${what}`,
      (r) => {
        let own = shipped ? undefined : r.airs.find((a) => a.id === named.id);
        if (!own) {
          own = copyOf(named, [...SHIPPED_AIRS, ...(r.airs as NamedAir[])]);
          r.airs.push(own);
          take(r, own.id);
        }
        change(own.air);
      },
      `air ${key}`,
    );
  const rows = (list: AirRow[]) =>
    list.map((row) => (
      <NumberRow
        key={row.label}
        label={row.label}
        value={row.get(named.air)}
        preset={row.get(before)}
        quantity={row.quantity}
        hint={row.hint}
        onChange={(v) => edit(`${row.label.toLowerCase()} ${row.quantity.format(v)}`, (a) => row.set(a, v), row.label)}
      />
    ));

  return (
    <>
      <Section title="Air" note={ofCue?.holds.airId !== undefined ? `held by this cue` : shipped ? 'from the shelf' : 'of this project'}>
        {cue && <HolderRow />}
        <PickRow
          label="Air"
          as="list"
          value={named.id}
          options={shelf.map((a) => ({ value: a.id, label: a.name }))}
          held={
            ofCue
              ? {
                  is: ofCue.holds.airId !== undefined,
                  release: () =>
                    changeRig(`${ofCue.name}: air of the day`, (r) => void delete r.cues.find((c) => c.id === ofCue.id)!.holds.airId),
                }
              : undefined
          }
          onChange={choose}
        />
        {changed && (
          <ActionRow
            label={<>Basil ships it with another {changed.fields.map((field) => worded(field)).join(', ')} by now; here it is as it was</>}
            action="take the new one"
            onClick={() =>
              changeRig(`Air ${named.name} as it ships now`, (r) => {
                const { air } = SHIPPED_AIRS.find((a) => a.id === named.id)!;
                r.airs.find((a) => a.id === named.id)!.air = JSON.parse(JSON.stringify(air)) as Air;
              })
            }
          />
        )}
        {cue && (
          <>
            <SwitchRow label="Show each in the present view" name="Show each air in the present view" on={shown} onChange={setShown} />
            {shown && (
              <ShelfPictures
                label="Airs"
                items={shelf.map(({ id, name }) => ({
                  id,
                  name,
                  lighting: () => resolveCue(rig, { ...cue, holds: { ...cue.holds, airId: id } }, images),
                }))}
                chosen={named.id}
                of={cue.id}
                onTake={choose}
              />
            )}
          </>
        )}
        <AirStrips air={named.air} />
        {rows(AIR_ROWS)}
        {!shipped && (
          <>
            <NameRow
              label="Name"
              value={named.name}
              taken={shelf.filter((a) => a.id !== named.id).map((a) => a.name)}
              onChange={(name) => changeRig(`Air renamed to ${name}`, (r) => void (r.airs.find((a) => a.id === named.id)!.name = name))}
            />
            <ActionRow
              label={<>{users.length > 0 ? `Held by ${users.map((c) => c.name).join(', ')}` : 'Held by no cue'}</>}
              action="remove from the shelf"
              disabled={users.length > 0}
              onClick={() =>
                changeRig(`Air ${named.name} taken off the shelf`, (r) => {
                  r.airs = r.airs.filter((a) => a.id !== named.id);
                  r.airId = SHIPPED_AIRS.find((a) => a.air === before)!.id;
                })
              }
            />
          </>
        )}
      </Section>
      <Section title="Air, colours and heights" rare>
        {AIR_COLORS.map(({ label, get, set }) => (
          <ColorRow
            key={label}
            label={label}
            value={get(named.air)}
            preset={get(before)}
            onChange={(hex) => edit(`${label.toLowerCase()} ${hex}`, (a) => set(a, hex), label)}
          />
        ))}
        {rows(AIR_MORE_ROWS)}
      </Section>
    </>
  );
}

/** A copy of an air with a name and an id that are still free. */
function copyOf({ id, name, air }: NamedAir, taken: NamedAir[]): NamedAir {
  for (let n = 1; ; n++) {
    const [nextId, nextName] = [`${id}-own${n > 1 ? `-${n}` : ''}`, `${name}, ours${n > 1 ? ` ${n}` : ''}`];
    if (!taken.some((a) => a.id === nextId || a.name === nextName)) return { id: nextId, name: nextName, air: structuredClone(air) };
  }
}
