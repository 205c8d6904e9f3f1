'use client';

import { useState } from 'react';
import type { SunMoment } from '../../core/almanac';
import type { RigPlace } from '../../core/rig';
import { clockText } from '../desk/quantity';
import { useAsk } from './useAsk';
import day from './day.module.css';
import { ActionRow } from '../desk/ActionRow';

interface Props {
  place: RigPlace;
  azimuthDeg: number;
  elevationDeg: number;
  twelve: boolean;
  /** Sets the date of the place and the hour of the cue. */
  onTake: (moment: SunMoment) => void;
}

/** Asks the almanac when the sun stands where it is held by hand: on which date, at which hour, or never. */
export function WhenRow({ place, azimuthDeg, elevationDeg, twelve, onTake }: Props) {
  const ask = useAsk();
  const asked = `${place.latitudeDeg} ${place.longitudeDeg} ${azimuthDeg.toFixed(1)} ${elevationDeg.toFixed(1)}`;
  const [found, setFound] = useState<{ for: string; moments: SunMoment[] | null }>({ for: '', moments: null });
  const current = found.for === asked ? found : null;
  const look = () => {
    setFound({ for: asked, moments: null });
    ask(
      { kind: 'when', place, azimuthDeg, elevationDeg },
      (answer) => 'moments' in answer && setFound({ for: asked, moments: answer.moments }),
    );
  };
  return (
    <>
      <ActionRow label="When does it stand there?" action={current && current.moments === null ? 'looking …' : 'find'} onClick={look} />
      {current?.moments?.length === 0 && <p className={day.facts}>Never over this place.</p>}
      {current?.moments?.map((moment) => (
        <ActionRow
          key={moment.date}
          label={
            <>
              {moment.date}, {clockText(moment.hour, twelve)}
            </>
          }
          action="take date and hour"
          onClick={() => onTake(moment)}
        />
      ))}
    </>
  );
}
