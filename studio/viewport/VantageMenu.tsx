import { Button, Popover } from 'antd';
import { useState } from 'react';
import { FOV_DEG, addVantage, moveVantage, removeVantage, type NamedVantage } from '../../core/rig';
import { keyText, vantageKeys } from '../commands/commands';
import { NameRow } from '../desk/NameRow';
import { NumberRow } from '../desk/NumberRow';
import { PickRow } from '../desk/PickRow';
import { linear } from '../desk/quantity';
import { useStudio } from '../state/context';
import { currentCue } from '../state/studioStore';
import { useRigEdit } from '../state/useRigEdit';
import { useView } from './viewStore';
import styles from './viewport.module.css';

const FOV = linear('°', FOV_DEG.least, FOV_DEG.most, 1, 0);

/** Over the picture: the saved views, to go to, change and save, and which of them the picture is seen from now. */
export function VantageMenu() {
  const [open, setOpen] = useState(false);
  const standsAt = useView((s) => s.standsAt);
  const here = useStudio((s) => s.rig.vantages.find((v) => v.id === standsAt));
  return (
    <Popover trigger="click" placement="topRight" open={open} onOpenChange={setOpen} arrow={false} content={<Vantages />} destroyOnHidden>
      <button type="button" className={styles.vantage} title="Saved views">
        {here ? `View: ${here.name}` : 'Views'}
      </button>
    </Popover>
  );
}

function Vantages() {
  const edit = useRigEdit();
  const vantages = useStudio((s) => s.rig.vantages);
  const cue = useStudio(currentCue);
  const [chosenId, setChosenId] = useState<string | null>(null);
  const view = () => useView.getState().vantage?.() ?? null;
  const look = (vantage: NamedVantage) => {
    setChosenId(vantage.id);
    useView.getState().stand?.(vantage);
  };
  const chosen = vantages.find((v) => v.id === chosenId);
  const save = () => {
    const now = view();
    if (now) edit('New vantage', (r) => setChosenId(addVantage(r, now)));
  };
  return (
    <section className={styles.vantages} aria-label="Vantages">
      {vantages.length === 0 && <p>No view is saved yet. Saved views are reached by key, and a cue may name its own.</p>}
      <ul>
        {vantages.map((vantage, i) => (
          <li key={vantage.id}>
            <button type="button" aria-pressed={vantage.id === chosenId} onClick={() => look(vantage)}>
              <span>{vantage.name}</span>
              {i < 9 && <kbd>{keyText(vantageKeys(i))}</kbd>}
            </button>
          </li>
        ))}
      </ul>
      {chosen && <ChosenVantage key={chosen.id} vantage={chosen} />}
      {vantages.length > 0 && (
        <PickRow
          label={`${cue.name} is looked at`}
          as="list"
          value={cue.vantageId ?? ''}
          options={[
            { value: '', label: 'from where the view is' },
            ...vantages.map(({ id, name }) => ({ value: id, label: `from ${name}` })),
          ]}
          onChange={(id) =>
            edit(`Vantage of ${cue.name}`, (r) => {
              const own = r.cues.find((c) => c.id === cue.id);
              if (own) own.vantageId = id || null;
            })
          }
        />
      )}
      <Button size="small" onClick={save}>
        Save this view
      </Button>
    </section>
  );
}

function ChosenVantage({ vantage }: { vantage: NamedVantage }) {
  const edit = useRigEdit();
  const taken = useStudio((s) => s.rig.vantages).filter((v) => v.id !== vantage.id);
  const change = (what: string, recipe: (own: NamedVantage) => void, key?: string) =>
    edit(
      `${vantage.name}: ${what}`,
      (r) => {
        const own = r.vantages.find((v) => v.id === vantage.id);
        if (own) recipe(own);
      },
      key,
    );
  return (
    <div className={styles.chosen}>
      <NameRow
        label="Name"
        value={vantage.name}
        taken={taken.map((v) => v.name)}
        onChange={(name) => change(`renamed ${name}`, (own) => void (own.name = name))}
      />
      <NumberRow
        label="Angle of view"
        value={vantage.fovDeg}
        preset={FOV_DEG.preset}
        quantity={FOV}
        hint="From the lower to the upper edge of the picture"
        onChange={(fovDeg) => {
          change('angle of view', (own) => void (own.fovDeg = fovDeg), 'fov');
          useView.getState().stand?.({ ...vantage, fovDeg });
        }}
      />
      <div>
        <Button
          size="small"
          onClick={() => {
            const now = useView.getState().vantage?.();
            if (now) edit(`${vantage.name}: set to another view`, (r) => moveVantage(r, vantage.id, now));
          }}
        >
          Set to this view
        </Button>
        <Button size="small" onClick={() => edit(`Removed ${vantage.name}`, (r) => removeVantage(r, vantage.id))}>
          Remove
        </Button>
      </div>
    </div>
  );
}
