import { useState } from 'react';
import type { Lighting } from '../../core/rig';
import { ActionRow } from './ActionRow';
import { PickRow } from './PickRow';
import { ShelfPictures } from './ShelfPictures';
import { SwitchRow } from './SwitchRow';

interface Props<T extends { id: string; name: string }> {
  /** What is on the shelf, as its group of pictures is called. */
  label: string;
  sets: readonly T[];
  /** That whose values are set now. */
  chosen: T | undefined;
  /** Whether it is of the project, and can be forgotten. */
  isOwn: boolean;
  /** The light of the moment under one of them. */
  lighting(set: T): Lighting;
  /** Changes where their pictures are others. */
  of: unknown;
  onTake(set: T): void;
  onForget(set: T): void;
}

/** A shelf of named values that are taken as a copy: by name, or by a picture of the present view under each. */
export function ShelfRows<T extends { id: string; name: string }>({
  label,
  sets,
  chosen,
  isOwn,
  lighting,
  of,
  onTake,
  onForget,
}: Props<T>) {
  const [shown, setShown] = useState(false);
  const take = (id: string) => {
    const set = sets.find((s) => s.id === id);
    if (set) onTake(set);
  };
  return (
    <>
      <PickRow
        label="Taken from"
        as="list"
        value={chosen?.id ?? ''}
        options={[
          ...(chosen ? [] : [{ value: '', label: 'values of its own' }]),
          ...sets.map(({ id, name }) => ({ value: id, label: name })),
        ]}
        onChange={take}
      />
      <SwitchRow label="Show each in the present view" on={shown} onChange={setShown} />
      {shown && (
        <ShelfPictures
          label={label}
          items={sets.map((set) => ({ id: set.id, name: set.name, lighting: () => lighting(set) }))}
          chosen={chosen?.id ?? null}
          of={of}
          onTake={take}
        />
      )}
      {chosen && isOwn && (
        <ActionRow label="A set of this project" action="forget it" title="The values stay as they are" onClick={() => onForget(chosen)} />
      )}
    </>
  );
}
