'use client';

import { Button } from 'antd';
import { useState } from 'react';
import { NumberRow } from '../desk/NumberRow';
import { PickRow } from '../desk/PickRow';
import { Section } from '../desk/Section';
import { linear } from '../desk/quantity';
import { useStudioStore } from '../state/context';
import { useTell } from '../state/useTell';
import { FRAMES_S, SHAPES, WIDTH_PX, pixelsOf, usePictureSize } from './pictureSize';
import { saveStill } from './saveStill';
import desk from '../desk/desk.module.css';

const WIDTH = linear('px', WIDTH_PX.least, WIDTH_PX.most, 2, 0);
const FRAMES = linear('a second', FRAMES_S.least, FRAMES_S.most, 1, 0);

/** Saving the view as a picture of any size, and how large pictures of strolls are. */
export function StillSection() {
  const store = useStudioStore();
  const { fault } = useTell();
  const size = usePictureSize();
  const [busy, setBusy] = useState(false);
  const { width, height } = pixelsOf(size);
  const save = (as: 'png' | 'exr') => () => {
    setBusy(true);
    // The button shows that it is pressed before the picture is drawn.
    setTimeout(
      () =>
        void saveStill(store, as)
          .catch(fault)
          .finally(() => setBusy(false)),
      30,
    );
  };
  return (
    <Section title="Pictures" note={`${width} × ${height}`}>
      <NumberRow
        label="Width"
        value={size.width}
        preset={WIDTH_PX.preset}
        quantity={WIDTH}
        onChange={(to) => usePictureSize.setState({ width: Math.round(to) })}
      />
      <PickRow
        label="Shape"
        value={size.shape}
        options={(Object.keys(SHAPES) as (keyof typeof SHAPES)[]).map((value) => ({ value, label: value }))}
        onChange={(shape) => usePictureSize.setState({ shape })}
      />
      <NumberRow
        label="Of strolls"
        value={size.framesS}
        preset={FRAMES_S.preset}
        quantity={FRAMES}
        onChange={(to) => usePictureSize.setState({ framesS: Math.round(to) })}
      />
      <div className={desk.actions}>
        <Button size="small" disabled={busy} onClick={save('png')} title="Exposed and graded, as it is shown">
          Save PNG
        </Button>
        <Button size="small" disabled={busy} onClick={save('exr')} title="Light before exposure and grade, cd/m2">
          Save EXR
        </Button>
      </div>
    </Section>
  );
}
