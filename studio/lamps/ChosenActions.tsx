import { Button } from 'antd';
import { memo } from 'react';
import { makeFixture, removeStanding, unlink, type StandingLamp } from '../../core/rig';
import { useStudioStore } from '../state/context';
import type { ChangeRig } from '../state/useRigEdit';
import { lampActions } from './lampActions';
import { called, choose, openOrClose, useLampTool } from './lampTool';
import desk from '../desk/desk.module.css';

interface ActionsProps {
  mine: StandingLamp[];
  openId: string | null;
  edit: ChangeRig;
}

/** What is done with the chosen lamps as a whole. */
export const ChosenActions = memo(function ChosenActions({ mine, openId, edit }: ActionsProps) {
  const store = useStudioStore();
  const copied = useLampTool((s) => s.copied);
  const own = new Set(mine.filter((l) => l.placedId === null).map((l) => l.id));
  const copies = new Set(mine.flatMap((l) => (l.placedId === openId ? [] : (l.placedId ?? []))));
  const what = called(mine);
  const act = () => lampActions(store, edit);
  return (
    <div className={desk.actions}>
      {own.size > 0 && copies.size === 0 && openId === null && (
        <Button
          size="small"
          onClick={() => {
            edit(`Made a fixture of ${what}`, (r) => void makeFixture(r, own, mine.length === 1 ? what : 'Fixture'));
            choose([]);
          }}
        >
          Make a fixture
        </Button>
      )}
      {copies.size > 0 && (
        <>
          <Button
            size="small"
            title="Its lamps are placed, moved, aimed and taken away in the picture, and all copies follow"
            onClick={() => openOrClose(store.getState().rig)}
          >
            Open in place
          </Button>
          <Button
            size="small"
            onClick={() => {
              let ids: string[] = [];
              edit(`Unlinked ${what}`, (r) => void (ids = unlink(r, copies)));
              choose(ids);
            }}
          >
            Unlink
          </Button>
        </>
      )}
      <Button size="small" title="Once more, beside itself; so does a drag with Ctrl" onClick={() => act().duplicate()}>
        Duplicate
      </Button>
      <Button
        size="small"
        onClick={() => {
          edit(`Took ${what} away`, (r) => removeStanding(r, mine, openId));
          choose([]);
        }}
      >
        Remove
      </Button>
      <Button size="small" title="Sideways, to the middle of what hangs straight above" onClick={() => act().lineUp('above')}>
        Line up below
      </Button>
      <Button size="small" title="Sideways, to the middle of what stands straight below" onClick={() => act().lineUp('below')}>
        Line up above
      </Button>
      <Button size="small" title="Kind, output, colour, reach and how it is baked" onClick={() => act().copyValues()}>
        Copy values
      </Button>
      {copied && (
        <Button size="small" title={`Of ${copied.name}`} onClick={() => act().pasteValues()}>
          Paste values
        </Button>
      )}
    </div>
  );
});
