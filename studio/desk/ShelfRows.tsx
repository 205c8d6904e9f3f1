import { Button } from 'antd';
import { useState } from 'react';
import type { Lighting } from '../../core/rig';
import { ActionRow } from './ActionRow';
import { freeName } from '../../core/units';
import { PickRow } from './PickRow';
import { ShelfPictures } from './ShelfPictures';
import { SwitchRow } from './SwitchRow';
import styles from './desk.module.css';

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
  /** Keeps what is set now as one of the project's own. */
  keep: { label: string; wanted: string; as(id: string, name: string): void };
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
  keep,
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
        <ActionRow
          label="A set of this project"
          action="remove the set"
          title="The values stay as they are"
          onClick={() => onForget(chosen)}
        />
      )}
      <div className={styles.actions}>
        <Button
          size="small"
          onClick={() => {
            const { id, name } = freeName(sets, keep.wanted);
            keep.as(id, name);
          }}
        >
          {keep.label}
        </Button>
      </div>
    </>
  );
}
