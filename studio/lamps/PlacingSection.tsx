import { Button, Switch } from 'antd';
import { memo } from 'react';
import type { StandingLamp } from '../../core/rig';
import { NumberRow } from '../desk/NumberRow';
import { PickRow } from '../desk/PickRow';
import { linear } from '../desk/quantity';
import { Section } from '../desk/Section';
import { flipPlan } from '../viewport/planStore';
import { useLampTool, type DragAlong, type LampMode } from './lampTool';
import { flipBall } from './useBallGesture';
import desk from '../desk/desk.module.css';
import styles from './lamps.module.css';

const STAND_OFF = linear('m', 0, 5, 0.05, 2);
const GRID = linear('m', 0, 4, 0.25, 2);
const HINTS: Readonly<Record<LampMode, string>> = {
  place: 'Click a surface. Shift keeps placing.',
  aim: 'Click what they should shine at.',
  model: 'Click the object that the fixture should look like.',
  path: 'Click where the lamp goes next: it stays as high over the floor as it stands. Shift keeps adding.',
  row: 'Click where the last one of the row stands.',
  choose: 'Drag a lamp’s dot to move it, with Ctrl to duplicate it; X, Y, Z, L or S while dragging say along what.',
};
const ALONG: { value: DragAlong; label: string; title?: string }[] = [
  { value: 'auto', label: 'surfaces, or level in the air' },
  { value: 'surface', label: 'surfaces (S)' },
  { value: 'level', label: 'its own height (L)' },
  { value: 'y', label: 'up and down (Y)' },
  { value: 'x', label: 'the X axis (X)' },
  { value: 'z', label: 'the Z axis (Z)' },
];
const ROW = linear('', 2, 100, 1, 0);

/** What a click and a drag in the picture do, and how far off a surface lamps are put. */
export const PlacingSection = memo(function PlacingSection({ chosen }: { chosen: StandingLamp[] }) {
  const { mode, standOffM, gridM, ballAt, along, rowOf, openId } = useLampTool();
  const canAim = chosen.some((l) => l.placedId === null || l.placedId === openId);
  const begin = (next: 'place' | 'aim' | 'row') => useLampTool.setState({ mode: mode === next ? 'choose' : next, fixtureId: null });
  return (
    <Section title="Placing">
      <div className={styles.modes}>
        <Button size="small" type={mode === 'place' ? 'primary' : 'default'} aria-pressed={mode === 'place'} onClick={() => begin('place')}>
          Place a lamp
        </Button>
        <Button
          size="small"
          type={mode === 'aim' ? 'primary' : 'default'}
          aria-pressed={mode === 'aim'}
          disabled={!canAim}
          onClick={() => begin('aim')}
        >
          Aim at a point
        </Button>
        <Button
          size="small"
          type={mode === 'row' ? 'primary' : 'default'}
          aria-pressed={mode === 'row'}
          disabled={chosen.length === 0}
          title="Sets the chosen lamps once more, evenly along a line"
          onClick={() => begin('row')}
        >
          In a row of {rowOf}
        </Button>
        <Button size="small" onClick={() => useLampTool.setState({ plan: true })}>
          Dimmer plan
        </Button>
        <Button size="small" title="The level straight from above, cut at a height" onClick={flipPlan}>
          From above
        </Button>
      </div>
      <p className={mode === 'choose' ? desk.text : styles.hint}>{HINTS[mode]}</p>
      {mode === 'row' && (
        <NumberRow
          label="In the row"
          value={rowOf}
          preset={5}
          quantity={ROW}
          hint="Lamps in all, the chosen one included"
          onChange={(v) => useLampTool.setState({ rowOf: Math.round(v) })}
        />
      )}
      <PickRow<DragAlong>
        label="Drag along"
        as="list"
        value={along}
        options={ALONG}
        onChange={(next) => useLampTool.setState({ along: next })}
      />
      <NumberRow
        label="Off surface"
        value={standOffM}
        preset={0.3}
        quantity={STAND_OFF}
        hint="How far from the surface that is clicked"
        onChange={(v) => useLampTool.setState({ standOffM: v })}
      />
      <NumberRow
        label="Grid"
        value={gridM}
        preset={0}
        quantity={GRID}
        hint="0 places freely"
        onChange={(v) => useLampTool.setState({ gridM: v })}
      />
      <div className={desk.pick}>
        <span title="Drag it along surfaces. Live light casts its shadow, baked light does not">Test ball</span>
        <Switch size="small" aria-label="Test ball" checked={ballAt !== null} onChange={flipBall} />
      </div>
    </Section>
  );
});
