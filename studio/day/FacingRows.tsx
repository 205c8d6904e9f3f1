import { useMemo } from 'react';
import type { Facing, Lighting } from '../../core/rig';
import { faceLight, paintPanorama, type FaceLight } from '../../core/sky';
import { chromaticity, hexFromRgb, luminance, type Rgb } from '../../core/units';
import { ColorRow } from '../desk/ColorRow';
import { SwitchRow } from '../desk/SwitchRow';
import { NumberRow } from '../desk/NumberRow';
import { logarithmic } from '../desk/quantity';
import { FaceSwatches } from '../skies/FaceSwatches';
import type { ChangeCue } from '../state/useRigEdit';

const FACES = [
  { face: 'up', name: 'Up' },
  { face: 'side', name: 'Sideways' },
  { face: 'down', name: 'Down' },
] as const;
const ILLUMINANCE = logarithmic('lx', 0.0001, 200_000, { zero: true });

/** A colour and an illuminance that say this light (E/pi). */
function paintOf(rgb: Rgb): Facing['up'] {
  const lux = luminance(rgb) * Math.PI;
  const hue = lux > 0 ? chromaticity(rgb) : ([1, 1, 1] as Rgb);
  const strongest = Math.max(...hue);
  return { color: hexFromRgb(hue.map((v) => Math.max(0, v / strongest)) as Rgb), illuminanceLux: ILLUMINANCE.snap(lux) };
}

/** What a painted sky gives surfaces that face up, sideways and down: by its bands, or painted as well. */
export function FacingRows({ facing, lighting: { skyOverFog: sky }, change }: { facing?: Facing; lighting: Lighting; change: ChangeCue }) {
  const faces: FaceLight = useMemo(() => {
    const painted = sky.flatMap((p) => (p.sky.kind === 'clouded' ? p.sky.behind : [p])).find((p) => p.sky.kind === 'bands')?.sky;
    return painted?.kind === 'bands' && painted.facing ? painted.facing : faceLight(paintPanorama(sky, 64));
  }, [sky]);
  return (
    <>
      <FaceSwatches faces={faces} />
      <SwitchRow
        label="Paint this light too"
        name="Paint the ambient light"
        on={Boolean(facing)}
        onChange={(on) =>
          change(on ? 'ambient light painted' : 'ambient light of the bands', (c) => {
            if (on) c.holds.sky!.facing = { up: paintOf(faces.up), side: paintOf(faces.side), down: paintOf(faces.down) };
            else delete c.holds.sky!.facing;
          })
        }
      />
      {facing && FACES.map(({ face, name }) => <FaceRows key={face} face={face} name={name} held={facing[face]} change={change} />)}
    </>
  );
}

function FaceRows({ face, name, held, change }: { face: keyof Facing; name: string; held: Facing['up']; change: ChangeCue }) {
  const set = (what: string, key: string, mutate: (paint: Facing['up']) => void) =>
    change(`light ${name.toLowerCase()} ${what}`, (c) => mutate(c.holds.sky!.facing![face]), `facing ${face} ${key}`);
  return (
    <>
      <ColorRow label={name} value={held.color} preset={held.color} onChange={(hex) => set(hex, 'color', (p) => void (p.color = hex))} />
      <NumberRow
        label={`${name} light`}
        value={held.illuminanceLux}
        preset={held.illuminanceLux}
        quantity={ILLUMINANCE}
        hint={`Light of the sky on an open surface that faces ${name.toLowerCase()}`}
        onChange={(v) => set(`${ILLUMINANCE.format(v)} lx`, 'lux', (p) => void (p.illuminanceLux = v))}
      />
    </>
  );
}
