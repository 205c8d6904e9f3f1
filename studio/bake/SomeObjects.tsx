import { Button, Select } from 'antd';
import { useState } from 'react';
import { useView } from '../viewport/viewStore';
import type { BakeControl } from './useBakeControl';
import desk from '../desk/desk.module.css';

/** Bakes some objects alone, over the bake that is done: chosen by name, or those that the picture shows. */
export function SomeObjects({ control }: { control: BakeControl }) {
  const objects = useView((s) => s.objects);
  const inPicture = useView((s) => s.inPicture);
  const [open, setOpen] = useState(false);
  const [chosen, setChosen] = useState<string[]>([]);
  if (!open)
    return (
      <Button
        title="Traces some objects anew, over the bake that is done: to see a corner at its final quality before the whole is paid for"
        onClick={() => setOpen(true)}
      >
        Bake some objects
      </Button>
    );
  const few = chosen.length === 1 ? '1 object' : `${chosen.length} objects`;
  return (
    <div style={{ width: '100%' }}>
      <Select
        mode="multiple"
        aria-label="Objects to bake"
        placeholder="Objects"
        size="small"
        style={{ width: '100%' }}
        maxTagCount={3}
        value={chosen}
        options={(objects?.() ?? []).map((value) => ({ value, label: value }))}
        onChange={setChosen}
      />
      <div className={desk.actions}>
        <Button size="small" title="Takes those that the picture shows" onClick={() => setChosen(inPicture?.() ?? [])}>
          What is seen
        </Button>
        <Button size="small" onClick={() => setOpen(false)}>
          Not now
        </Button>
        <Button
          size="small"
          type="primary"
          disabled={chosen.length === 0}
          loading={control.starting}
          onClick={() => {
            control.start({ only: chosen });
            setOpen(false);
          }}
        >
          Bake {few}
        </Button>
      </div>
    </div>
  );
}
